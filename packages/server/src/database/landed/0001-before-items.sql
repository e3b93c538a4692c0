-- From the first tables, before rules and items, to what 0000 and 0001 came to be.
ALTER TABLE client ADD COLUMN exchange_difference text;
ALTER TABLE map_version ADD COLUMN rules jsonb DEFAULT '[]'::jsonb NOT NULL, ADD COLUMN items jsonb DEFAULT '[]'::jsonb NOT NULL;
ALTER TABLE route ADD COLUMN item text, ADD COLUMN elsewhere boolean DEFAULT false NOT NULL, ADD COLUMN charge boolean DEFAULT false NOT NULL;
ALTER TABLE settlement ADD COLUMN not_double boolean DEFAULT false NOT NULL;
ALTER TABLE tax_code ADD COLUMN treatment text DEFAULT 'taxed' NOT NULL;
CREATE TABLE "item" (
	"client_id" integer NOT NULL,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"other_names" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"account" text NOT NULL,
	"tax_code" text,
	"costs" jsonb DEFAULT '[]'::jsonb NOT NULL,
	CONSTRAINT "item_client_id_code_pk" PRIMARY KEY("client_id","code")
);
CREATE TABLE "rule" (
	"client_id" integer NOT NULL,
	"rule_id" integer NOT NULL,
	"position" integer NOT NULL,
	"conditions" jsonb NOT NULL,
	"actions" jsonb NOT NULL,
	CONSTRAINT "rule_client_id_rule_id_pk" PRIMARY KEY("client_id","rule_id")
);
ALTER TABLE "item" ADD CONSTRAINT "item_client_id_account_account_client_id_code_fk" FOREIGN KEY ("client_id","account") REFERENCES "public"."account"("client_id","code") ON DELETE no action ON UPDATE no action;
ALTER TABLE "item" ADD CONSTRAINT "item_client_id_tax_code_tax_code_client_id_code_fk" FOREIGN KEY ("client_id","tax_code") REFERENCES "public"."tax_code"("client_id","code") ON DELETE no action ON UPDATE no action;
ALTER TABLE "route" ADD CONSTRAINT "route_client_id_item_item_client_id_code_fk" FOREIGN KEY ("client_id","item") REFERENCES "public"."item"("client_id","code") ON DELETE no action ON UPDATE no action;
ALTER TABLE "rule" ADD CONSTRAINT "rule_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;
CREATE UNIQUE INDEX "rule_position" ON "rule" USING btree ("client_id","position");
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['item', 'rule'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format(
      'CREATE POLICY one_client ON %I USING (client_id = current_client()) WITH CHECK (client_id = current_client())', name);
    EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO culvert_app', name);
  END LOOP;
END $$;
CREATE FUNCTION refresh_ledger_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  ANALYZE entry;
  ANALYZE entry_line (client_id, fiscal_year, number, account, amount, date);
  ANALYZE transfer;
  ANALYZE posting;
  ANALYZE settlement;
END $$;
GRANT EXECUTE ON FUNCTION refresh_ledger_statistics() TO culvert_app;
