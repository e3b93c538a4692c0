CREATE TABLE "proof_answer" (
	"client_id" integer NOT NULL,
	"source" text NOT NULL,
	"about" text NOT NULL,
	"name" text NOT NULL,
	"reason" text NOT NULL,
	"until" date,
	"act_id" text NOT NULL,
	"undone_by" text,
	CONSTRAINT "proof_answer_client_id_act_id_source_about_name_pk" PRIMARY KEY("client_id","act_id","source","about","name"),
	CONSTRAINT "proof_answer_about" CHECK (about IN ('day', 'statement', 'order'))
);
--> statement-breakpoint
CREATE TABLE "registration" (
	"client_id" integer NOT NULL,
	"registration_id" integer NOT NULL,
	"agency" text NOT NULL,
	"country" text NOT NULL,
	"region" text,
	"number" text DEFAULT '' NOT NULL,
	"scheme" text DEFAULT '' NOT NULL,
	"from" date,
	"to" date,
	CONSTRAINT "registration_client_id_registration_id_pk" PRIMARY KEY("client_id","registration_id"),
	CONSTRAINT "registration_span" CHECK ("to" IS NULL OR "from" IS NULL OR "from" <= "to"),
	CONSTRAINT "registration_agency" CHECK (agency <> '')
);
--> statement-breakpoint
CREATE TABLE "registration_code" (
	"client_id" integer NOT NULL,
	"tax_code" text NOT NULL,
	"registration_id" integer NOT NULL,
	CONSTRAINT "registration_code_client_id_tax_code_pk" PRIMARY KEY("client_id","tax_code")
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "bank_line" ADD COLUMN "details" jsonb;--> statement-breakpoint
ALTER TABLE "tax_filing" ADD COLUMN "registration_id" integer;--> statement-breakpoint
ALTER TABLE "settlement" ADD COLUMN "odd_dates" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "proof_answer" ADD CONSTRAINT "proof_answer_client_id_source_source_client_id_source_fk" FOREIGN KEY ("client_id","source") REFERENCES "public"."source"("client_id","source") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "proof_answer" ADD CONSTRAINT "proof_answer_client_id_act_id_act_client_id_act_id_fk" FOREIGN KEY ("client_id","act_id") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "proof_answer" ADD CONSTRAINT "proof_answer_client_id_undone_by_act_client_id_act_id_fk" FOREIGN KEY ("client_id","undone_by") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "registration" ADD CONSTRAINT "registration_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "registration_code" ADD CONSTRAINT "registration_code_client_id_registration_id_registration_client_id_registration_id_fk" FOREIGN KEY ("client_id","registration_id") REFERENCES "public"."registration"("client_id","registration_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "proof_answer_standing" ON "proof_answer" USING btree ("client_id","source","about","name") WHERE undone_by IS NULL;--> statement-breakpoint
ALTER TABLE "tax_filing" ADD CONSTRAINT "tax_filing_client_id_registration_id_registration_client_id_registration_id_fk" FOREIGN KEY ("client_id","registration_id") REFERENCES "public"."registration"("client_id","registration_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "settlement_odd_dates" ON "settlement" USING btree ("client_id","source") WHERE odd_dates;--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'make_missing', 'ask_grant', 'take_grant', 'refuse_grant', 'end_grant', 'connect', 'disconnect', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_contacts', 'remove_contact', 'save_open_items', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'save_registrations', 'answer_proof', 'undo_proof_answer', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'take_import_back', 'row_aside', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));