CREATE TABLE "activity_restored" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"line_id" text NOT NULL,
	"revision" integer NOT NULL,
	"of_revision" integer NOT NULL,
	CONSTRAINT "activity_restored_client_id_source_line_id_revision_pk" PRIMARY KEY("client_id","source","line_id","revision")
);
--> statement-breakpoint
CREATE TABLE "import_change" (
	"client_id" integer NOT NULL,
	"job_id" text NOT NULL,
	"source" text NOT NULL,
	"sort" text NOT NULL,
	"key" text NOT NULL,
	"currency" char(3) NOT NULL,
	"before" jsonb,
	"after" jsonb NOT NULL,
	CONSTRAINT "import_change_client_id_job_id_sort_key_currency_pk" PRIMARY KEY("client_id","job_id","sort","key","currency"),
	CONSTRAINT "import_change_sort" CHECK ("sort" IN ('head', 'balance'))
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "taken_back_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "taken_back_by" integer;--> statement-breakpoint
ALTER TABLE "activity_restored" ADD CONSTRAINT "activity_restored_client_id_source_line_id_revision_activity_line_client_id_source_line_id_revision_fk" FOREIGN KEY ("client_id","source","line_id","revision") REFERENCES "public"."activity_line"("client_id","source","line_id","revision") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "import_change" ADD CONSTRAINT "import_change_client_id_job_id_job_client_id_job_id_fk" FOREIGN KEY ("client_id","job_id") REFERENCES "public"."job"("client_id","job_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_taken_back" CHECK ((taken_back_at IS NULL) = (taken_back_by IS NULL) AND (taken_back_at IS NULL OR state = 'done'));--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'make_missing', 'ask_grant', 'take_grant', 'refuse_grant', 'end_grant', 'connect', 'disconnect', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'take_import_back', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));