CREATE TABLE "act_head" (
	"client_id" integer PRIMARY KEY NOT NULL,
	"seq" integer NOT NULL,
	"seal" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "act_object" (
	"client_id" integer NOT NULL,
	"act_id" text NOT NULL,
	"no" integer NOT NULL,
	"subject" text NOT NULL,
	"key" text NOT NULL,
	"before" jsonb,
	"after" jsonb,
	CONSTRAINT "act_object_client_id_act_id_no_pk" PRIMARY KEY("client_id","act_id","no")
);
--> statement-breakpoint
CREATE TABLE "act_seal" (
	"client_id" integer NOT NULL,
	"seq" integer NOT NULL,
	"act_id" text NOT NULL,
	"key_id" text NOT NULL,
	"seal" text NOT NULL,
	"sealed_at" timestamp with time zone NOT NULL,
	CONSTRAINT "act_seal_client_id_seq_pk" PRIMARY KEY("client_id","seq"),
	CONSTRAINT "act_seal_of_act" UNIQUE("client_id","act_id")
);
--> statement-breakpoint
CREATE TABLE "practice_act" (
	"practice_id" integer NOT NULL,
	"seq" integer NOT NULL,
	"sort" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"by" integer,
	"note" text NOT NULL,
	"subject" text,
	"key" text,
	"before" jsonb,
	"after" jsonb,
	"key_id" text NOT NULL,
	"seal" text NOT NULL,
	CONSTRAINT "practice_act_practice_id_seq_pk" PRIMARY KEY("practice_id","seq"),
	CONSTRAINT "practice_act_sort" CHECK ("sort" IN ('sign_in', 'sign_in_held', 'sign_out', 'password_changed', 'password_reset', 'address_changed', 'second_factor_on', 'second_factor_off', 'end_factor', 'keep_factor', 'invite', 'withdraw_invitation', 'join', 'set_person', 'remove_person', 'add_token', 'withdraw_token', 'end_session', 'take_on'))
);
--> statement-breakpoint
CREATE TABLE "address_change" (
	"user_id" integer PRIMARY KEY NOT NULL,
	"email" text NOT NULL,
	"old_hash" text NOT NULL,
	"new_hash" text NOT NULL,
	"old_confirmed" boolean DEFAULT false NOT NULL,
	"new_confirmed" boolean DEFAULT false NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	CONSTRAINT "address_change_old_hash_unique" UNIQUE("old_hash"),
	CONSTRAINT "address_change_new_hash_unique" UNIQUE("new_hash")
);
--> statement-breakpoint
CREATE TABLE "consent" (
	"client_id" integer NOT NULL,
	"consent_id" text NOT NULL,
	"sort" text NOT NULL,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"note" text NOT NULL,
	"asked" jsonb NOT NULL,
	"digest" text NOT NULL,
	"setup_version" integer NOT NULL,
	"count" integer NOT NULL,
	"amount" bigint NOT NULL,
	"outcome" text,
	"decided_by" integer,
	"decided_at" timestamp with time zone,
	"reason" text DEFAULT '' NOT NULL,
	CONSTRAINT "consent_client_id_consent_id_pk" PRIMARY KEY("client_id","consent_id"),
	CONSTRAINT "consent_sort" CHECK ("sort" IN ('post', 'take_back', 'correct', 'decide_payments', 'lock')),
	CONSTRAINT "consent_outcome" CHECK (outcome IN ('given', 'refused', 'withdrawn', 'moved')),
	CONSTRAINT "consent_decided" CHECK ((outcome IS NULL) = (decided_by IS NULL) AND (outcome IS NULL) = (decided_at IS NULL)),
	CONSTRAINT "consent_by_another" CHECK (outcome IS DISTINCT FROM 'given' OR decided_by <> asked_by)
);
--> statement-breakpoint
CREATE TABLE "evidence" (
	"client_id" integer NOT NULL,
	"evidence_id" text NOT NULL,
	"note_id" text NOT NULL,
	"by" integer,
	"at" timestamp with time zone NOT NULL,
	"name" text NOT NULL,
	"media_type" text NOT NULL,
	"size" integer NOT NULL,
	"sha256" text NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "evidence_client_id_evidence_id_pk" PRIMARY KEY("client_id","evidence_id"),
	CONSTRAINT "evidence_type" CHECK (media_type IN ('image/png', 'image/jpeg', 'image/webp', 'image/gif', 'application/pdf')),
	CONSTRAINT "evidence_size" CHECK (size BETWEEN 1 AND 10000000 AND size = octet_length(content))
);
--> statement-breakpoint
CREATE TABLE "note" (
	"client_id" integer NOT NULL,
	"note_id" text NOT NULL,
	"subject" text NOT NULL,
	"key" text NOT NULL,
	"title" text NOT NULL,
	"link" text NOT NULL,
	"sort" text NOT NULL,
	"text" text NOT NULL,
	"by" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"to_user" integer,
	"closed_at" timestamp with time zone,
	"closed_by" integer,
	CONSTRAINT "note_client_id_note_id_pk" PRIMARY KEY("client_id","note_id"),
	CONSTRAINT "note_sort" CHECK (sort IN ('note', 'question', 'client_question')),
	CONSTRAINT "note_asks" CHECK ((sort = 'question') = (to_user IS NOT NULL))
);
--> statement-breakpoint
CREATE TABLE "note_answer" (
	"client_id" integer NOT NULL,
	"note_id" text NOT NULL,
	"no" integer NOT NULL,
	"by" integer,
	"text" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "note_answer_client_id_note_id_no_pk" PRIMARY KEY("client_id","note_id","no")
);
--> statement-breakpoint
CREATE TABLE "question_link" (
	"client_id" integer NOT NULL,
	"note_id" text NOT NULL,
	"token_hash" text NOT NULL,
	"practice_name" text NOT NULL,
	"client_name" text NOT NULL,
	"asked_by" text NOT NULL,
	"sent_to" text,
	"expires_at" timestamp with time zone NOT NULL,
	"bound_hash" text,
	"bound_at" timestamp with time zone,
	"withdrawn_at" timestamp with time zone,
	CONSTRAINT "question_link_client_id_note_id_pk" PRIMARY KEY("client_id","note_id"),
	CONSTRAINT "question_link_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
ALTER TABLE "act" DROP CONSTRAINT "act_sort";--> statement-breakpoint
ALTER TABLE "personal" ADD COLUMN "told" text DEFAULT 'all' NOT NULL;--> statement-breakpoint
ALTER TABLE "source" ADD COLUMN "personal_data" text DEFAULT 'all' NOT NULL;--> statement-breakpoint
ALTER TABLE "act_head" ADD CONSTRAINT "act_head_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "act_object" ADD CONSTRAINT "act_object_client_id_act_id_act_client_id_act_id_fk" FOREIGN KEY ("client_id","act_id") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "act_seal" ADD CONSTRAINT "act_seal_client_id_act_id_act_client_id_act_id_fk" FOREIGN KEY ("client_id","act_id") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practice_act" ADD CONSTRAINT "practice_act_practice_id_practice_practice_id_fk" FOREIGN KEY ("practice_id") REFERENCES "public"."practice"("practice_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "address_change" ADD CONSTRAINT "address_change_user_id_app_user_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "consent" ADD CONSTRAINT "consent_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "consent" ADD CONSTRAINT "consent_asked_by_app_user_user_id_fk" FOREIGN KEY ("asked_by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "consent" ADD CONSTRAINT "consent_decided_by_app_user_user_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "evidence" ADD CONSTRAINT "evidence_by_app_user_user_id_fk" FOREIGN KEY ("by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "evidence" ADD CONSTRAINT "evidence_client_id_note_id_note_client_id_note_id_fk" FOREIGN KEY ("client_id","note_id") REFERENCES "public"."note"("client_id","note_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note" ADD CONSTRAINT "note_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note" ADD CONSTRAINT "note_by_app_user_user_id_fk" FOREIGN KEY ("by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note" ADD CONSTRAINT "note_to_user_app_user_user_id_fk" FOREIGN KEY ("to_user") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note" ADD CONSTRAINT "note_closed_by_app_user_user_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note_answer" ADD CONSTRAINT "note_answer_by_app_user_user_id_fk" FOREIGN KEY ("by") REFERENCES "public"."app_user"("user_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note_answer" ADD CONSTRAINT "note_answer_client_id_note_id_note_client_id_note_id_fk" FOREIGN KEY ("client_id","note_id") REFERENCES "public"."note"("client_id","note_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "question_link" ADD CONSTRAINT "question_link_client_id_note_id_note_client_id_note_id_fk" FOREIGN KEY ("client_id","note_id") REFERENCES "public"."note"("client_id","note_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "act_object_of" ON "act_object" USING btree ("client_id","subject","key");--> statement-breakpoint
CREATE INDEX "note_about" ON "note" USING btree ("client_id","subject","key");--> statement-breakpoint
CREATE INDEX "personal_narrowed" ON "personal" USING btree ("client_id") WHERE told <> 'all';--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_sort" CHECK ("sort" IN ('post', 'take_back', 'set_aside', 'no_double', 'take_up', 'book_correction', 'confirm_pairings', 'undo_pairing', 'code_line', 'set_aside_bank', 'grant_bank', 'save_wording', 'state_balance', 'save_routes', 'save_rules', 'save_items', 'save_tax_codes', 'save_tax_rows', 'save_rates', 'save_labels', 'save_options', 'decide_dispute', 'undo_dispute', 'decide_payments', 'undo_payments', 'save_write_off', 'file_tax', 'withdraw_tax_filing', 'post_opening', 'undo_opening', 'lock_period', 'unlock_period', 'add_source', 'add_accounts', 'bring', 'personal_data', 'export_person', 'erase_person', 'ask', 'answer', 'close_question', 'attach', 'ask_consent', 'refuse_consent', 'give_consent'));--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_personal_data" CHECK (personal_data IN ('none', 'name', 'all'));