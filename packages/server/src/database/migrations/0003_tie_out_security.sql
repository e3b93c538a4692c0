-- Who may reach the rows of the tables that tie-out and the bank's acts brought. Runs as the owner.

DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['tender_label', 'gateway_label', 'tender_match', 'stated_balance'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format(
      'CREATE POLICY one_client ON %I USING (client_id = current_client()) WITH CHECK (client_id = current_client())', name);
    EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO culvert_app', name);
  END LOOP;
END $$;
--> statement-breakpoint
-- Labels that channels reported before the table was there; the owner sees all clients for this one statement only.
ALTER TABLE activity_line NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE tender_label NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
INSERT INTO tender_label (client_id, channel, label)
SELECT DISTINCT client_id, source, gateway FROM activity_line
WHERE kind IN ('tender', 'tender_returned') AND gateway IS NOT NULL;
--> statement-breakpoint
ALTER TABLE activity_line FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE tender_label FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
-- What a match was is what entries were made by: it may end, but not change or go.
REVOKE UPDATE, DELETE, TRUNCATE ON tender_match FROM culvert_app;
--> statement-breakpoint
GRANT UPDATE (to_pull) ON tender_match TO culvert_app;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION remove_client(removed integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  name text;
BEGIN
  PERFORM set_config('app.client', removed::text, true);
  FOREACH name IN ARRAY ARRAY[
    'paired_transfer', 'paired_bank_line', 'pairing', 'open_bank_line', 'bank_line', 'transfer', 'account_total',
    'entry_line', 'entry', 'period', 'number_counter', 'correction'
  ] LOOP
    EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
  END LOOP;
  -- Postings and reversals refer to each other by generation: the latest go first.
  WHILE EXISTS (SELECT FROM posting WHERE client_id = removed) LOOP
    DELETE FROM reversal r WHERE client_id = removed
      AND NOT EXISTS (SELECT FROM posting p WHERE (p.client_id, p.source, p.key, p.currency, p.previous)
        = (r.client_id, r.source, r.key, r.currency, r.generation));
    DELETE FROM posting p WHERE client_id = removed
      AND NOT EXISTS (SELECT FROM reversal r WHERE (r.client_id, r.source, r.key, r.currency, r.generation)
        = (p.client_id, p.source, p.key, p.currency, p.generation));
  END LOOP;
  FOREACH name IN ARRAY ARRAY[
    'settlement', 'act', 'map_version', 'route', 'rule', 'item', 'activity_week', 'stated_balance', 'reported_balance',
    'tender_match', 'tender_label', 'gateway_label', 'activity_superseded', 'activity_line', 'pull', 'source_bank',
    'source_clearing', 'source', 'exchange_rate', 'tax_rate', 'tax_component', 'tax_code', 'account', 'client_summary',
    'membership', 'client'
  ] LOOP
    EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
  END LOOP;
END $$;
