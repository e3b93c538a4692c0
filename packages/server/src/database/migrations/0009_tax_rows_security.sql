-- Who may reach tax rows and classes. Runs as the owner.
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['tax_row', 'product_class'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format(
      'CREATE POLICY one_client ON %I USING (client_id = current_client()) WITH CHECK (client_id = current_client())', name);
    EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO culvert_app', name);
  END LOOP;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION remove_client(removed integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  name text;
BEGIN
  PERFORM set_config('app.client', removed::text, true);
  FOREACH name IN ARRAY ARRAY[
    'paired_transfer', 'paired_bank_line', 'pairing', 'open_bank_line', 'bank_line', 'bank_reach', 'bank_grant', 'transfer',
    'account_total', 'entry_line', 'dispute_decision', 'entry', 'period', 'number_counter', 'correction'
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
    'tax_row', 'product_class', 'tax_filing', 'tender_match', 'tender_label', 'gateway_label', 'activity_superseded', 'activity_line', 'pull', 'source_bank',
    'source_clearing', 'source', 'exchange_rate', 'tax_rate', 'tax_component', 'tax_code', 'account', 'client_summary',
    'membership', 'client'
  ] LOOP
    EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
  END LOOP;
END $$;
