CREATE TABLE "contact" (
	"client_id" integer NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"sort" text NOT NULL,
	"email" text,
	"tax_number" text,
	"country" text,
	CONSTRAINT "contact_client_id_code_pk" PRIMARY KEY("client_id","code"),
	CONSTRAINT "contact_sort" CHECK ("sort" IN ('customer', 'supplier', 'both')),
	CONSTRAINT "contact_country" CHECK (country ~ '^[A-Z]{2}$')
);
--> statement-breakpoint
CREATE TABLE "open_item" (
	"client_id" integer NOT NULL,
	"sort" text NOT NULL,
	"contact" text NOT NULL,
	"number" text NOT NULL,
	"date" date NOT NULL,
	"due" date,
	"currency" char(3) NOT NULL,
	"amount" bigint NOT NULL,
	"open" bigint NOT NULL,
	CONSTRAINT "open_item_client_id_sort_contact_number_pk" PRIMARY KEY("client_id","sort","contact","number"),
	CONSTRAINT "open_item_sort" CHECK ("sort" IN ('invoice', 'bill')),
	CONSTRAINT "open_item_range" CHECK (amount BETWEEN -9000000000000000 AND 9000000000000000 AND open BETWEEN -9000000000000000 AND 9000000000000000)
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "contact" ADD CONSTRAINT "contact_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "open_item" ADD CONSTRAINT "open_item_client_id_contact_contact_client_id_code_fk" FOREIGN KEY ("client_id","contact") REFERENCES "public"."contact"("client_id","code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'make_missing', 'ask_grant', 'take_grant', 'refuse_grant', 'end_grant', 'connect', 'disconnect', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_contacts', 'remove_contact', 'save_open_items', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'take_import_back', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));