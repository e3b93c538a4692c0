CREATE TABLE "statement" (
	"client_id" integer NOT NULL,
	"bank_account" text NOT NULL,
	"statement_id" text NOT NULL,
	"number" text DEFAULT '' NOT NULL,
	"format" text NOT NULL,
	"currency" char(3) NOT NULL,
	"from_date" date NOT NULL,
	"to_date" date NOT NULL,
	"opening" bigint,
	"closing" bigint,
	"lines" integer NOT NULL,
	"sum" bigint NOT NULL,
	"pull_id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "statement_client_id_bank_account_statement_id_pk" PRIMARY KEY("client_id","bank_account","statement_id"),
	CONSTRAINT "statement_days" CHECK (from_date <= to_date),
	CONSTRAINT "statement_opening" CHECK (opening BETWEEN -9000000000000000 AND 9000000000000000),
	CONSTRAINT "statement_closing" CHECK (closing BETWEEN -9000000000000000 AND 9000000000000000),
	CONSTRAINT "statement_sum" CHECK (sum BETWEEN -9000000000000000 AND 9000000000000000)
);
--> statement-breakpoint
CREATE TABLE "column_mapping" (
	"client_id" integer NOT NULL,
	"subject" text NOT NULL,
	"key" text NOT NULL,
	"head" text NOT NULL,
	"mapping" jsonb NOT NULL,
	"by" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "column_mapping_client_id_subject_key_head_pk" PRIMARY KEY("client_id","subject","key","head")
);
--> statement-breakpoint
ALTER TABLE "practice_act" DROP CONSTRAINT "practice_act_sort";--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "bank_line" ADD COLUMN "format" text;--> statement-breakpoint
ALTER TABLE "account" ADD COLUMN "description" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "account" ADD COLUMN "takes_postings" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "country" char(2);--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "first_number" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "service" text;--> statement-breakpoint
ALTER TABLE "statement" ADD CONSTRAINT "statement_client_id_bank_account_account_client_id_code_fk" FOREIGN KEY ("client_id","bank_account") REFERENCES "public"."account"("client_id","code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "column_mapping" ADD CONSTRAINT "column_mapping_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practice_act" ADD CONSTRAINT "practice_act_sort" CHECK ("sort" IN ('sign_in', 'sign_in_held', 'sign_out', 'password_changed', 'password_reset', 'address_changed', 'second_factor_on', 'second_factor_off', 'end_factor', 'keep_factor', 'invite', 'withdraw_invitation', 'join', 'set_person', 'remove_person', 'add_token', 'withdraw_token', 'end_session', 'take_on', 'archive_client', 'remove_client'));--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_country" CHECK (country ~ '^[A-Z]{2}$');--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_fiscal_start" CHECK (fiscal_start BETWEEN 1 AND 12);--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_first_number" CHECK (first_number BETWEEN 1 AND 10000000);--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_service" CHECK ("service" IN ('web_shop', 'marketplace', 'till', 'card_processor', 'wallet', 'pay_later', 'cash', 'gift_cards'));