CREATE TABLE "payment_decision" (
	"client_id" integer NOT NULL,
	"act_id" text NOT NULL,
	"source" text NOT NULL,
	"line_id" text NOT NULL,
	"decision" text NOT NULL,
	"amount" bigint NOT NULL,
	"other_source" text,
	"other_line" text,
	"until" date,
	"account" text,
	"tax_code" text,
	"fiscal_year" integer,
	"number" integer,
	"note" text DEFAULT '' NOT NULL,
	"undone_by" text,
	CONSTRAINT "payment_decision_client_id_act_id_source_line_id_pk" PRIMARY KEY("client_id","act_id","source","line_id"),
	CONSTRAINT "payment_decision_sort" CHECK ("decision" IN ('attached', 'price_reduction', 'written_off', 'gift', 'own_test', 'sale', 'as_routed', 'waits', 'set_aside')),
	CONSTRAINT "payment_decision_attached" CHECK ((decision = 'attached') = (other_line IS NOT NULL AND other_source IS NOT NULL)),
	CONSTRAINT "payment_decision_waits" CHECK ((decision = 'waits') = ("until" IS NOT NULL)),
	CONSTRAINT "payment_decision_entry" CHECK ((fiscal_year IS NULL) = (number IS NULL))
);
--> statement-breakpoint
ALTER TABLE "tender_match" DROP CONSTRAINT "tender_match_by";--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "write_off_up_to" bigint;--> statement-breakpoint
ALTER TABLE "payment_decision" ADD CONSTRAINT "payment_decision_client_id_fiscal_year_number_entry_client_id_fiscal_year_number_fk" FOREIGN KEY ("client_id","fiscal_year","number") REFERENCES "public"."entry"("client_id","fiscal_year","number") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "payment_decision" ADD CONSTRAINT "payment_decision_client_id_act_id_act_client_id_act_id_fk" FOREIGN KEY ("client_id","act_id") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "payment_decision" ADD CONSTRAINT "payment_decision_client_id_undone_by_act_client_id_act_id_fk" FOREIGN KEY ("client_id","undone_by") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "payment_decided_once" ON "payment_decision" USING btree ("client_id","source","line_id") WHERE undone_by IS NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "payment_attached_once" ON "payment_decision" USING btree ("client_id","other_source","other_line") WHERE undone_by IS NULL AND other_line IS NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "payment_decision_of_entry" ON "payment_decision" USING btree ("client_id","fiscal_year","number");--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_write_off_up_to" CHECK (write_off_up_to BETWEEN 1 AND 9000000000000000);--> statement-breakpoint
ALTER TABLE "tender_match" ADD CONSTRAINT "tender_match_by" CHECK ("by" IN ('by_hand', 'order', 'reference', 'amount_day_name'));--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period'));--> statement-breakpoint
ALTER TABLE "payment_decision" ENABLE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "payment_decision" FORCE ROW LEVEL SECURITY;--> statement-breakpoint
CREATE POLICY one_client ON "payment_decision" USING (client_id = current_client()) WITH CHECK (client_id = current_client());--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON "payment_decision" TO culvert_app;
