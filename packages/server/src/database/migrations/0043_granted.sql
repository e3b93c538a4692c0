CREATE TABLE "service_grant" (
	"client_id" integer NOT NULL,
	"grant_id" text NOT NULL,
	"service" text NOT NULL,
	"name" text NOT NULL,
	"sort" text NOT NULL,
	"practice_name" text NOT NULL,
	"client_name" text NOT NULL,
	"asked_name" text NOT NULL,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"asked_until" timestamp with time zone NOT NULL,
	"scopes" jsonb NOT NULL,
	"for_source" text,
	"for_shop" text,
	"state_hash" text,
	"verifier" jsonb,
	"redirect" text,
	"link_hash" text,
	"sent_to" text,
	"bound_hash" text,
	"granted_at" timestamp with time zone,
	"login" text,
	"granted" jsonb,
	"until" timestamp with time zone,
	"tokens" jsonb,
	"ended" text,
	"ended_at" timestamp with time zone,
	CONSTRAINT "service_grant_client_id_grant_id_pk" PRIMARY KEY("client_id","grant_id"),
	CONSTRAINT "service_grant_state_hash_unique" UNIQUE("state_hash"),
	CONSTRAINT "service_grant_link_hash_unique" UNIQUE("link_hash"),
	CONSTRAINT "service_grant_ended" CHECK ("ended" IN ('refused', 'withdrawn', 'over', 'disconnected', 'replaced', 'not_given')),
	CONSTRAINT "service_grant_whole" CHECK ((ended IS NULL) = (ended_at IS NULL) AND (granted_at IS NULL) = (granted IS NULL)),
	CONSTRAINT "service_grant_forgotten" CHECK (ended IS NULL OR (tokens IS NULL AND verifier IS NULL))
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "grant_id" text;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "shop" text;--> statement-breakpoint
ALTER TABLE "service_grant" ADD CONSTRAINT "service_grant_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_client_id_grant_id_service_grant_client_id_grant_id_fk" FOREIGN KEY ("client_id","grant_id") REFERENCES "public"."service_grant"("client_id","grant_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_shop" UNIQUE("shop");--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'make_missing', 'ask_grant', 'take_grant', 'refuse_grant', 'end_grant', 'connect', 'disconnect', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'save_account', 'save_client', 'save_source', 'save_columns', 'remove_source', 'bring', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_granted" CHECK ((grant_id IS NULL) = (shop IS NULL));