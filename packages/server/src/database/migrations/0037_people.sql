CREATE TABLE "access_token" (
	"token_id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "access_token_token_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"user_id" integer NOT NULL,
	"name" text NOT NULL,
	"token_hash" text NOT NULL,
	"begins" text NOT NULL,
	"rights" jsonb NOT NULL,
	"clients" jsonb,
	"created_at" timestamp with time zone NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"last_used_at" timestamp with time zone,
	"withdrawn_at" timestamp with time zone,
	CONSTRAINT "access_token_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "invitation" (
	"invitation_id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "invitation_invitation_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"practice_id" integer,
	"token_hash" text NOT NULL,
	"email" text,
	"role" text NOT NULL,
	"clients" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"user_id" integer,
	"invited_by" integer,
	"created_at" timestamp with time zone NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"used_at" timestamp with time zone,
	"withdrawn_at" timestamp with time zone,
	CONSTRAINT "invitation_token_hash_unique" UNIQUE("token_hash"),
	CONSTRAINT "invitation_role" CHECK (role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest'))
);
--> statement-breakpoint
CREATE TABLE "practice" (
	"practice_id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "practice_practice_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "practice_person" (
	"practice_id" integer NOT NULL,
	"user_id" integer NOT NULL,
	"role" text NOT NULL,
	"ended_at" timestamp with time zone,
	"factor_ends_at" timestamp with time zone,
	CONSTRAINT "practice_person_practice_id_user_id_pk" PRIMARY KEY("practice_id","user_id"),
	CONSTRAINT "practice_person_role" CHECK (role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest'))
);
--> statement-breakpoint
ALTER TABLE "membership" DROP CONSTRAINT "membership_role";--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "practice_id" integer;--> statement-breakpoint
-- Who kept books before people signed in kept all of them, and could do everything: they own the practice.
ALTER TABLE client NO FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE membership NO FORCE ROW LEVEL SECURITY;--> statement-breakpoint
INSERT INTO practice (name) SELECT 'Practice' WHERE EXISTS (SELECT FROM app_user) OR EXISTS (SELECT FROM client);--> statement-breakpoint
INSERT INTO practice_person (practice_id, user_id, role) SELECT p.practice_id, u.user_id, 'owner' FROM practice p CROSS JOIN app_user u;--> statement-breakpoint
UPDATE client SET practice_id = (SELECT practice_id FROM practice);--> statement-breakpoint
UPDATE membership SET role = 'owner';--> statement-breakpoint
ALTER TABLE client FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE membership FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "client" ALTER COLUMN "practice_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "access_token" ADD CONSTRAINT "access_token_user_id_app_user_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_practice_id_practice_practice_id_fk" FOREIGN KEY ("practice_id") REFERENCES "public"."practice"("practice_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_user_id_app_user_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_invited_by_app_user_user_id_fk" FOREIGN KEY ("invited_by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practice_person" ADD CONSTRAINT "practice_person_practice_id_practice_practice_id_fk" FOREIGN KEY ("practice_id") REFERENCES "public"."practice"("practice_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practice_person" ADD CONSTRAINT "practice_person_user_id_app_user_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "practice_person_user" ON "practice_person" USING btree ("user_id");--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_practice_id_practice_practice_id_fk" FOREIGN KEY ("practice_id") REFERENCES "public"."practice"("practice_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_role" CHECK (role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest'));