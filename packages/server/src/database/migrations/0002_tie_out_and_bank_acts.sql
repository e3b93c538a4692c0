CREATE TABLE "stated_balance" (
	"client_id" integer NOT NULL,
	"account" text NOT NULL,
	"currency" char(3) NOT NULL,
	"date" date NOT NULL,
	"amount" bigint NOT NULL,
	CONSTRAINT "stated_balance_client_id_account_currency_date_pk" PRIMARY KEY("client_id","account","currency","date")
);
--> statement-breakpoint
CREATE TABLE "gateway_label" (
	"client_id" integer NOT NULL,
	"label" text NOT NULL,
	"source" text NOT NULL,
	CONSTRAINT "gateway_label_client_id_label_pk" PRIMARY KEY("client_id","label")
);
--> statement-breakpoint
CREATE TABLE "tender_label" (
	"client_id" integer NOT NULL,
	"channel" text NOT NULL,
	"label" text NOT NULL,
	CONSTRAINT "tender_label_client_id_channel_label_pk" PRIMARY KEY("client_id","channel","label")
);
--> statement-breakpoint
CREATE TABLE "tender_match" (
	"client_id" integer NOT NULL,
	"gateway" text NOT NULL,
	"collection_line" text NOT NULL,
	"from_pull" integer NOT NULL,
	"to_pull" integer,
	"channel" text NOT NULL,
	"tender_line" text NOT NULL,
	"by" text NOT NULL,
	"currency" char(3) NOT NULL,
	"difference" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "tender_match_client_id_gateway_collection_line_from_pull_pk" PRIMARY KEY("client_id","gateway","collection_line","from_pull")
);
--> statement-breakpoint
ALTER TABLE "map_version" ADD COLUMN "any_elsewhere" boolean GENERATED ALWAYS AS (routes @> '[{"elsewhere": true}]') STORED;--> statement-breakpoint
ALTER TABLE "map_version" ADD COLUMN "labels" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "pairing" ADD COLUMN "sort" text DEFAULT 'paired' NOT NULL;--> statement-breakpoint
ALTER TABLE "pairing" ADD COLUMN "difference" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "pairing" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "pairing" ADD COLUMN "fiscal_year" integer;--> statement-breakpoint
ALTER TABLE "pairing" ADD COLUMN "number" integer;--> statement-breakpoint
ALTER TABLE "stated_balance" ADD CONSTRAINT "stated_balance_client_id_account_account_client_id_code_fk" FOREIGN KEY ("client_id","account") REFERENCES "public"."account"("client_id","code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gateway_label" ADD CONSTRAINT "gateway_label_client_id_source_source_client_id_source_fk" FOREIGN KEY ("client_id","source") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tender_label" ADD CONSTRAINT "tender_label_client_id_channel_source_client_id_source_fk" FOREIGN KEY ("client_id","channel") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tender_match" ADD CONSTRAINT "tender_match_client_id_gateway_source_client_id_source_fk" FOREIGN KEY ("client_id","gateway") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tender_match" ADD CONSTRAINT "tender_match_client_id_channel_source_client_id_source_fk" FOREIGN KEY ("client_id","channel") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "collection_matched_once" ON "tender_match" USING btree ("client_id","gateway","collection_line") WHERE to_pull IS NULL;--> statement-breakpoint
CREATE INDEX "match_differs" ON "tender_match" USING btree ("client_id") WHERE to_pull IS NULL AND difference <> 0;--> statement-breakpoint
CREATE UNIQUE INDEX "tender_matched_once" ON "tender_match" USING btree ("client_id","channel","tender_line") WHERE to_pull IS NULL;--> statement-breakpoint
ALTER TABLE "pairing" ADD CONSTRAINT "pairing_client_id_fiscal_year_number_entry_client_id_fiscal_year_number_fk" FOREIGN KEY ("client_id","fiscal_year","number") REFERENCES "public"."entry"("client_id","fiscal_year","number") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "activity_tie_out" ON "activity_line" USING btree ("client_id","source") WHERE kind IN ('tender', 'tender_returned', 'collected', 'collected_back');--> statement-breakpoint
CREATE INDEX "pairing_by_entry" ON "pairing" USING btree ("client_id","fiscal_year","number");--> statement-breakpoint
CREATE INDEX "settlement_by_source" ON "settlement" USING btree ("client_id","source","entry_date","key");