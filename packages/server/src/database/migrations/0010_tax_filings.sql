CREATE TABLE "tax_filing" (
	"client_id" integer NOT NULL,
	"filing_id" integer NOT NULL,
	"agency" text NOT NULL,
	"from" date NOT NULL,
	"to" date NOT NULL,
	"filed_on" date NOT NULL,
	"by" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"withdrawn_by" integer,
	"withdrawn_for" text DEFAULT '' NOT NULL,
	CONSTRAINT "tax_filing_client_id_filing_id_pk" PRIMARY KEY("client_id","filing_id"),
	CONSTRAINT "tax_filing_span" CHECK ("from" <= "to"),
	CONSTRAINT "tax_filing_withdrawn" CHECK ((withdrawn_at IS NULL) = (withdrawn_for = ''))
);
--> statement-breakpoint
ALTER TABLE "tax_filing" ADD CONSTRAINT "tax_filing_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tax_filing" ENABLE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "tax_filing" FORCE ROW LEVEL SECURITY;--> statement-breakpoint
CREATE POLICY one_client ON "tax_filing" USING (client_id = current_client()) WITH CHECK (client_id = current_client());--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON "tax_filing" TO culvert_app;
