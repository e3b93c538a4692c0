CREATE TABLE "activity_sum" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"settlement_key" text NOT NULL,
	"currency" char(3) NOT NULL,
	"local_date" date NOT NULL,
	"pull_no" integer NOT NULL,
	"part" text NOT NULL,
	"status" text NOT NULL,
	"label" text NOT NULL,
	"amount" bigint NOT NULL,
	"lines" integer NOT NULL,
	CONSTRAINT "activity_sum_pk" PRIMARY KEY("client_id","source","settlement_key","currency","local_date","pull_no","part","status","label"),
	CONSTRAINT "activity_sum_part" CHECK (part IN ('tender', 'payout', 'stock', 'matched', 'other'))
);
--> statement-breakpoint
CREATE TABLE "open_order" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"currency" char(3) NOT NULL,
	"order_id" text NOT NULL,
	"line_id" text NOT NULL,
	"payout" boolean NOT NULL,
	"available" bigint NOT NULL,
	"pending" bigint NOT NULL,
	CONSTRAINT "open_order_client_id_source_currency_order_id_line_id_payout_pk" PRIMARY KEY("client_id","source","currency","order_id","line_id","payout")
);
--> statement-breakpoint
CREATE TABLE "open_tie" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"line_id" text NOT NULL,
	"revision" integer NOT NULL,
	"kind" text NOT NULL,
	CONSTRAINT "open_tie_client_id_source_line_id_revision_pk" PRIMARY KEY("client_id","source","line_id","revision")
);
--> statement-breakpoint
ALTER TABLE "tender_match" ADD COLUMN "doubtful" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "activity_sum_by_day" ON "activity_sum" USING btree ("client_id","source","local_date");--> statement-breakpoint
CREATE INDEX "order_not_open" ON "open_order" USING btree ("client_id") WHERE available = 0 AND pending = 0;--> statement-breakpoint
CREATE INDEX "match_doubtful" ON "tender_match" USING btree ("client_id") WHERE to_pull IS NULL AND doubtful;--> statement-breakpoint
ALTER TABLE "pairing" ADD CONSTRAINT "pairing_sort" CHECK ("sort" IN ('paired', 'coded', 'set_aside'));--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_type" CHECK ("type" IN ('bank', 'card', 'clearing', 'receivable', 'inventory', 'current_asset', 'fixed_asset', 'payable', 'current_liability', 'tax', 'loan', 'equity', 'income', 'other_income', 'cost_of_sales', 'expense'));--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_treatment" CHECK ("treatment" IN ('taxed', 'zero', 'exempt', 'outside', 'withheld'));--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_basis" CHECK ("basis" IN ('inclusive', 'exclusive', 'none'));--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_use" CHECK ("use" IN ('sales', 'purchases'));--> statement-breakpoint
ALTER TABLE "entry" ADD CONSTRAINT "entry_document" CHECK ("document" IN ('journal', 'transfer', 'cost', 'correction', 'reversal', 'by_hand', 'bank', 'decision', 'opening'));--> statement-breakpoint
ALTER TABLE "tender_match" ADD CONSTRAINT "tender_match_by" CHECK ("by" IN ('order', 'reference', 'amount_day_name'));--> statement-breakpoint
ALTER TABLE "settlement" ADD CONSTRAINT "settlement_state" CHECK (state IN ('blocked', 'proposed', 'posted', 'set_aside'));--> statement-breakpoint
ALTER TABLE "activity_line" ADD CONSTRAINT "activity_line_status" CHECK (status IN ('available', 'pending', 'failed'));--> statement-breakpoint
ALTER TABLE "pull" ADD CONSTRAINT "pull_sort" CHECK (sort IN ('pull', 'upload', 'statement', 'bank_pull'));--> statement-breakpoint
ALTER TABLE "pull" ADD CONSTRAINT "pull_state" CHECK (state IN ('waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'));--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_shape" CHECK (shape IN ('combined', 'channel', 'gateway'));--> statement-breakpoint
ALTER TABLE "source_bank" ADD CONSTRAINT "source_bank_direction" CHECK (direction IN ('into', 'from'));