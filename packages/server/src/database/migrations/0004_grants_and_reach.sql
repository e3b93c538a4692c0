CREATE TABLE "bank_grant" (
	"client_id" integer NOT NULL,
	"bank_account" text NOT NULL,
	"address" text NOT NULL,
	"credentials" jsonb NOT NULL,
	CONSTRAINT "bank_grant_client_id_bank_account_pk" PRIMARY KEY("client_id","bank_account")
);
--> statement-breakpoint
CREATE TABLE "bank_reach" (
	"client_id" integer NOT NULL,
	"bank_account" text NOT NULL,
	"read_to" date NOT NULL,
	CONSTRAINT "bank_reach_client_id_bank_account_pk" PRIMARY KEY("client_id","bank_account")
);
--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "setup_version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "client_summary" ADD COLUMN "stale" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "period" ADD COLUMN "reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "read_to" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "bank_grant" ADD CONSTRAINT "bank_grant_client_id_bank_account_account_client_id_code_fk" FOREIGN KEY ("client_id","bank_account") REFERENCES "public"."account"("client_id","code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bank_reach" ADD CONSTRAINT "bank_reach_client_id_bank_account_account_client_id_code_fk" FOREIGN KEY ("client_id","bank_account") REFERENCES "public"."account"("client_id","code") ON DELETE no action ON UPDATE no action;