-- Who may reach the rows of grants and reaches, and what stood before the counters were there. Runs as the owner.

-- The application's clock: a demo that lives in another month sets it for each transaction.
CREATE FUNCTION clock_now() RETURNS timestamptz LANGUAGE sql STABLE PARALLEL SAFE AS
  $$ SELECT coalesce(nullif(current_setting('app.now', true), '')::timestamptz, now()) $$;
--> statement-breakpoint
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['bank_grant', 'bank_reach'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format(
      'CREATE POLICY one_client ON %I USING (client_id = current_client()) WITH CHECK (client_id = current_client())', name);
    EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO culvert_app', name);
  END LOOP;
END $$;
--> statement-breakpoint
-- The owner sees all clients for these statements only.
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['client', 'map_version', 'source', 'pull', 'bank_line', 'bank_reach', 'client_summary'] LOOP
    EXECUTE format('ALTER TABLE %I NO FORCE ROW LEVEL SECURITY', name);
  END LOOP;
  UPDATE client c SET setup_version = coalesce((SELECT max(version) FROM map_version m WHERE m.client_id = c.client_id), 0);
  UPDATE source s SET read_to = (SELECT max(p.started_at) FROM pull p WHERE p.client_id = s.client_id AND p.source = s.source
    AND p.sort = 'pull' AND p.state = 'done') WHERE address IS NOT NULL;
  INSERT INTO bank_reach (client_id, bank_account, read_to)
    SELECT client_id, bank_account, max(date) FROM bank_line GROUP BY 1, 2;
  UPDATE client_summary SET stale = true;
  FOREACH name IN ARRAY ARRAY['client', 'map_version', 'source', 'pull', 'bank_line', 'bank_reach', 'client_summary'] LOOP
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
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
    'account_total', 'entry_line', 'entry', 'period', 'number_counter', 'correction'
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
--> statement-breakpoint
-- Gross counts what was sold and its tax, not the tenders that say how it was paid. The owner's rows are shown to it for once.
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['settlement', 'activity_line', 'activity_superseded', 'source'] LOOP
    EXECUTE format('ALTER TABLE %I NO FORCE ROW LEVEL SECURITY', name);
  END LOOP;
  UPDATE settlement s SET gross = s.gross - t.tendered
  FROM (SELECT l.client_id, l.source, l.settlement_key, l.currency, sum(l.amount)::bigint AS tendered FROM activity_line l
    WHERE l.kind IN ('tender', 'tender_returned') AND l.status <> 'failed'
      AND (l.status = 'available' OR EXISTS (SELECT FROM source f WHERE f.client_id = l.client_id AND f.source = l.source
        AND f.options->>'bookPending' = 'true'))
      AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
        AND x.line_id = l.line_id AND x.revision = l.revision)
    GROUP BY 1, 2, 3, 4) t
  WHERE t.client_id = s.client_id AND t.source = s.source AND t.settlement_key = s.key AND t.currency = s.currency;
  FOREACH name IN ARRAY ARRAY['settlement', 'activity_line', 'activity_superseded', 'source'] LOOP
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
  END LOOP;
END $$;
