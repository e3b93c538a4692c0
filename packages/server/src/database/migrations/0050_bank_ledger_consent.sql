CREATE TABLE "ledger_link" (
	"client_id" integer NOT NULL,
	"grant_id" text NOT NULL,
	"service" text NOT NULL,
	"company" text NOT NULL,
	"company_name" text NOT NULL,
	CONSTRAINT "ledger_link_client_id_pk" PRIMARY KEY("client_id")
);
--> statement-breakpoint
ALTER TABLE "bank_grant" ALTER COLUMN "address" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_grant" ALTER COLUMN "credentials" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_grant" ADD COLUMN "grant_id" text;--> statement-breakpoint
ALTER TABLE "bank_grant" ADD COLUMN "shop" text;--> statement-breakpoint
ALTER TABLE "ledger_link" ADD CONSTRAINT "ledger_link_client_id_grant_id_service_grant_client_id_grant_id_fk" FOREIGN KEY ("client_id","grant_id") REFERENCES "public"."service_grant"("client_id","grant_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bank_grant" ADD CONSTRAINT "bank_grant_client_id_grant_id_service_grant_client_id_grant_id_fk" FOREIGN KEY ("client_id","grant_id") REFERENCES "public"."service_grant"("client_id","grant_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bank_grant" ADD CONSTRAINT "bank_grant_shop" UNIQUE("shop");--> statement-breakpoint
ALTER TABLE "bank_grant" ADD CONSTRAINT "bank_grant_by" CHECK ((address IS NULL) = (credentials IS NULL) AND (grant_id IS NULL) = (shop IS NULL) AND (address IS NULL) <> (grant_id IS NULL));