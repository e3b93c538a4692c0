CREATE TABLE "source_options" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"version" integer NOT NULL,
	"options" jsonb NOT NULL,
	CONSTRAINT "source_options_client_id_source_version_pk" PRIMARY KEY("client_id","source","version")
);
--> statement-breakpoint
ALTER TABLE "source_options" ADD CONSTRAINT "source_options_client_id_source_source_client_id_source_fk" FOREIGN KEY ("client_id","source") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;