-- Who may reach what a source's options were, and what they are so far. Runs as the owner.
ALTER TABLE source_options ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON source_options USING (client_id = current_client()) WITH CHECK (client_id = current_client());
--> statement-breakpoint
GRANT SELECT, INSERT ON source_options TO culvert_app;
--> statement-breakpoint
-- No options could be changed so far: those that stand have held from the beginning. The owner sees all clients for this one statement only.
ALTER TABLE source NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
INSERT INTO source_options (client_id, source, version, options) SELECT client_id, source, 0, options FROM source;
--> statement-breakpoint
ALTER TABLE source FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE source_options FORCE ROW LEVEL SECURITY;
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
    'source_clearing', 'source_options', 'source', 'exchange_rate', 'tax_rate', 'tax_component', 'tax_code', 'account', 'client_summary',
    'membership', 'client'
  ] LOOP
    EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
  END LOOP;
END $$;
