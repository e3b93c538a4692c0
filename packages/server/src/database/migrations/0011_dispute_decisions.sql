CREATE TABLE "dispute_decision" (
	"client_id" integer NOT NULL,
	"fiscal_year" integer NOT NULL,
	"number" integer NOT NULL,
	"source" text NOT NULL,
	"line_id" text NOT NULL,
	"decision" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"act_id" text NOT NULL,
	"undone_by" text,
	CONSTRAINT "dispute_decision_client_id_fiscal_year_number_pk" PRIMARY KEY("client_id","fiscal_year","number"),
	CONSTRAINT "dispute_decision_sort" CHECK (decision IN ('written_off', 'credited'))
);
--> statement-breakpoint
ALTER TABLE "dispute_decision" ADD CONSTRAINT "dispute_decision_client_id_fiscal_year_number_entry_client_id_fiscal_year_number_fk" FOREIGN KEY ("client_id","fiscal_year","number") REFERENCES "public"."entry"("client_id","fiscal_year","number") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dispute_decision" ADD CONSTRAINT "dispute_decision_client_id_act_id_act_client_id_act_id_fk" FOREIGN KEY ("client_id","act_id") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dispute_decision" ADD CONSTRAINT "dispute_decision_client_id_undone_by_act_client_id_act_id_fk" FOREIGN KEY ("client_id","undone_by") REFERENCES "public"."act"("client_id","act_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "dispute_decided_once" ON "dispute_decision" USING btree ("client_id","source","line_id") WHERE undone_by IS NULL;--> statement-breakpoint
ALTER TABLE "dispute_decision" ENABLE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "dispute_decision" FORCE ROW LEVEL SECURITY;--> statement-breakpoint
CREATE POLICY one_client ON "dispute_decision" USING (client_id = current_client()) WITH CHECK (client_id = current_client());--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON "dispute_decision" TO culvert_app;
