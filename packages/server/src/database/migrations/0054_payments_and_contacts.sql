ALTER TABLE "account" ADD COLUMN "takes_payments" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "contact" text;--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_client_id_contact_contact_client_id_code_fk" FOREIGN KEY ("client_id","contact") REFERENCES "public"."contact"("client_id","code") ON DELETE no action ON UPDATE no action;