CREATE TABLE "row_aside" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"job_id" text NOT NULL,
	"row" integer NOT NULL,
	"day" date,
	"why" text NOT NULL,
	"fault" jsonb NOT NULL,
	"fields" jsonb NOT NULL,
	CONSTRAINT "row_aside_client_id_source_job_id_row_pk" PRIMARY KEY("client_id","source","job_id","row"),
	CONSTRAINT "row_aside_why" CHECK ("why" IN ('nothing', 'unread')),
	CONSTRAINT "row_aside_row" CHECK (row > 1)
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "row_aside" ADD CONSTRAINT "row_aside_client_id_source_source_client_id_source_fk" FOREIGN KEY ("client_id","source") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "row_aside" ADD CONSTRAINT "row_aside_client_id_job_id_job_client_id_job_id_fk" FOREIGN KEY ("client_id","job_id") REFERENCES "public"."job"("client_id","job_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'make_missing', 'ask_grant', 'take_grant', 'refuse_grant', 'end_grant', 'connect', 'disconnect', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_contacts', 'remove_contact', 'save_open_items', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'take_import_back', 'row_aside', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));