-- Who may reach the kept sums, what keeps them, and what "as of a pull" means. Runs as the owner.
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['activity_sum', 'open_order', 'open_tie'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format(
      'CREATE POLICY one_client ON %I USING (client_id = current_client()) WITH CHECK (client_id = current_client())', name);
    EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO culvert_app', name);
  END LOOP;
END $$;
--> statement-breakpoint
-- A line as it stood from one pull to another: `to_pull` is the pull that replaced it, null while it stands. As of pull n stands what has
-- from_pull <= n and no to_pull up to n.
CREATE VIEW line_as_of WITH (security_invoker = true) AS
  SELECT l.*, l.pull_no AS from_pull, x.pull_no AS to_pull, x.line_id IS NULL AS stands
  FROM activity_line l LEFT JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source
    AND x.line_id = l.line_id AND x.revision = l.revision;
--> statement-breakpoint
-- Postings of settlements, with the last pull that is in the books: the posting's, or that of its latest correction. One that was taken back
-- stands no more.
CREATE VIEW settlement_as_of WITH (security_invoker = true) AS
  SELECT p.client_id, p.source, p.key, p.currency, p.generation, s.corrections, p.map_version,
    s.state = 'posted' AND s.generation = p.generation AS stands,
    greatest(p.pull_no, (SELECT max(c.pull_no) FROM correction c WHERE c.client_id = p.client_id AND c.source = p.source
      AND c.key = p.key AND c.currency = p.currency AND c.generation = p.generation)) AS as_of
  FROM settlement s JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key
    AND p.currency = s.currency;
--> statement-breakpoint
GRANT SELECT ON line_as_of, settlement_as_of TO culvert_app;
--> statement-breakpoint
GRANT UPDATE (doubtful) ON tender_match TO culvert_app;
--> statement-breakpoint
-- Into which part of a settlement's sum a line counts.
CREATE FUNCTION sum_part(kind text, matched boolean) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN kind IN ('payout', 'payout_returned') THEN 'payout'
    WHEN kind IN ('stock_received', 'supplier_credit') THEN 'stock'
    WHEN kind IN ('tender', 'tender_returned') THEN 'tender'
    WHEN matched AND kind IN ('collected', 'collected_back') THEN 'matched' ELSE 'other' END $$;
--> statement-breakpoint
CREATE FUNCTION is_tie_kind(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT kind IN ('tender', 'tender_returned', 'collected', 'collected_back') $$;
--> statement-breakpoint
-- The triggers go from the rows that changed to what is kept of them, by its key: any other way would read all that is kept, and the planner,
-- which knows nothing of rows that came a moment ago, takes it (measured: 41,000 matches in minutes instead of a second).
--
-- What was brought in counts from its pull on.
CREATE FUNCTION keep_brought() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT client_id, source, settlement_key, currency, local_date, pull_no,
    sum_part(kind, kind IN ('collected', 'collected_back') AND EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id
      AND t.gateway = b.source AND t.collection_line = b.line_id AND t.to_pull IS NULL)),
    status, CASE WHEN kind IN ('tender', 'tender_returned') THEN coalesce(gateway, '') ELSE '' END, sum(amount), count(*)
  FROM brought b WHERE status <> 'failed'
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8, 9
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  IF EXISTS (SELECT FROM (SELECT DISTINCT client_id, source FROM brought) b JOIN source s USING (client_id, source) WHERE s.shape = 'channel') THEN
  INSERT INTO open_order (client_id, source, currency, order_id, line_id, payout, available, pending)
  SELECT b.client_id, b.source, b.currency, coalesce(b.order_id, ''), CASE WHEN b.order_id IS NULL THEN b.line_id ELSE '' END,
    b.kind IN ('payout', 'payout_returned'),
    coalesce(sum(b.amount) FILTER (WHERE b.status = 'available'), 0), coalesce(sum(b.amount) FILTER (WHERE b.status = 'pending'), 0)
  FROM brought b JOIN source s ON s.client_id = b.client_id AND s.source = b.source AND s.shape = 'channel'
  WHERE b.status <> 'failed' AND b.kind NOT IN ('stock_received', 'supplier_credit')
  GROUP BY 1, 2, 3, 4, 5, 6
  HAVING coalesce(sum(b.amount) FILTER (WHERE b.status = 'available'), 0) <> 0 OR coalesce(sum(b.amount) FILTER (WHERE b.status = 'pending'), 0) <> 0
  ORDER BY 1, 2, 3, 4, 5, 6
  ON CONFLICT (client_id, source, currency, order_id, line_id, payout) DO UPDATE SET
    available = open_order.available + excluded.available, pending = open_order.pending + excluded.pending;
  DELETE FROM open_order o WHERE o.client_id IN (SELECT DISTINCT client_id FROM brought) AND available = 0 AND pending = 0;
  END IF;
  INSERT INTO open_tie (client_id, source, line_id, revision, kind)
  SELECT b.client_id, b.source, b.line_id, b.revision, b.kind FROM brought b
  WHERE is_tie_kind(b.kind) AND b.status <> 'failed'
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id AND t.gateway = b.source
      AND t.collection_line = b.line_id AND t.to_pull IS NULL)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id AND t.channel = b.source
      AND t.tender_line = b.line_id AND t.to_pull IS NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER keep_brought AFTER INSERT ON activity_line REFERENCING NEW TABLE AS brought
  FOR EACH STATEMENT EXECUTE FUNCTION keep_brought();
--> statement-breakpoint
-- What was replaced counts up to the pull that did, and no more.
CREATE FUNCTION keep_replaced() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, r.pull_no,
    sum_part(l.kind, l.kind IN ('collected', 'collected_back') AND EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id
      AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)),
    l.status, CASE WHEN l.kind IN ('tender', 'tender_returned') THEN coalesce(l.gateway, '') ELSE '' END, -sum(l.amount), -count(*)
  FROM replaced r JOIN activity_line l USING (client_id, source, line_id, revision) WHERE l.status <> 'failed'
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8, 9
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  INSERT INTO open_order (client_id, source, currency, order_id, line_id, payout, available, pending)
  SELECT l.client_id, l.source, l.currency, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END,
    l.kind IN ('payout', 'payout_returned'),
    -coalesce(sum(l.amount) FILTER (WHERE l.status = 'available'), 0), -coalesce(sum(l.amount) FILTER (WHERE l.status = 'pending'), 0)
  FROM replaced r JOIN activity_line l USING (client_id, source, line_id, revision)
  JOIN source s ON s.client_id = l.client_id AND s.source = l.source AND s.shape = 'channel'
  WHERE l.status <> 'failed' AND l.kind NOT IN ('stock_received', 'supplier_credit')
  GROUP BY 1, 2, 3, 4, 5, 6 ORDER BY 1, 2, 3, 4, 5, 6
  ON CONFLICT (client_id, source, currency, order_id, line_id, payout) DO UPDATE SET
    available = open_order.available + excluded.available, pending = open_order.pending + excluded.pending;
  DELETE FROM open_order o WHERE o.client_id IN (SELECT DISTINCT client_id FROM replaced) AND available = 0 AND pending = 0;
  DELETE FROM open_tie o USING replaced r
  WHERE o.client_id = r.client_id AND o.source = r.source AND o.line_id = r.line_id AND o.revision = r.revision;
  UPDATE tender_match t SET doubtful = true FROM replaced r
  WHERE t.client_id = r.client_id AND t.gateway = r.source AND t.collection_line = r.line_id AND t.to_pull IS NULL AND NOT t.doubtful;
  UPDATE tender_match t SET doubtful = true FROM replaced r
  WHERE t.client_id = r.client_id AND t.channel = r.source AND t.tender_line = r.line_id AND t.to_pull IS NULL AND NOT t.doubtful;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER keep_replaced AFTER INSERT ON activity_superseded REFERENCING NEW TABLE AS replaced
  FOR EACH STATEMENT EXECUTE FUNCTION keep_replaced();
--> statement-breakpoint
-- From a match on its collection counts apart, and neither side is open any more.
CREATE FUNCTION keep_matched() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, m.from_pull, side.part, l.status, '', sum(side.sign * l.amount), sum(side.sign)
  FROM made m JOIN line_as_of l ON l.client_id = m.client_id AND l.source = m.gateway AND l.line_id = m.collection_line AND l.stands
  CROSS JOIN (VALUES ('other', -1), ('matched', 1)) side(part, sign)
  WHERE l.status <> 'failed' AND l.kind IN ('collected', 'collected_back')
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  DELETE FROM open_tie o USING made m WHERE o.client_id = m.client_id AND o.source = m.gateway AND o.line_id = m.collection_line;
  DELETE FROM open_tie o USING made m WHERE o.client_id = m.client_id AND o.source = m.channel AND o.line_id = m.tender_line;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER keep_matched AFTER INSERT ON tender_match REFERENCING NEW TABLE AS made
  FOR EACH STATEMENT EXECUTE FUNCTION keep_matched();
--> statement-breakpoint
-- And from its end on both count as what they are now.
CREATE FUNCTION keep_unmatched() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, n.to_pull, side.part, l.status, '', sum(side.sign * l.amount), sum(side.sign)
  FROM before_it b JOIN after_it n USING (client_id, gateway, collection_line, from_pull)
  JOIN line_as_of l ON l.client_id = n.client_id AND l.source = n.gateway AND l.line_id = n.collection_line AND l.stands
  CROSS JOIN (VALUES ('other', 1), ('matched', -1)) side(part, sign)
  WHERE b.to_pull IS NULL AND n.to_pull IS NOT NULL AND l.status <> 'failed' AND l.kind IN ('collected', 'collected_back')
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  INSERT INTO open_tie (client_id, source, line_id, revision, kind)
  SELECT l.client_id, l.source, l.line_id, l.revision, l.kind
  FROM before_it b JOIN after_it n USING (client_id, gateway, collection_line, from_pull)
  CROSS JOIN LATERAL (VALUES (n.gateway, n.collection_line), (n.channel, n.tender_line)) side(source, line_id)
  JOIN line_as_of l ON l.client_id = n.client_id AND l.source = side.source AND l.line_id = side.line_id AND l.stands
  WHERE b.to_pull IS NULL AND n.to_pull IS NOT NULL AND l.status <> 'failed' AND is_tie_kind(l.kind)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.channel = l.source AND t.tender_line = l.line_id AND t.to_pull IS NULL)
  ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER keep_unmatched AFTER UPDATE ON tender_match REFERENCING OLD TABLE AS before_it NEW TABLE AS after_it
  FOR EACH STATEMENT EXECUTE FUNCTION keep_unmatched();
--> statement-breakpoint
-- What is there already. The owner sees all clients for these statements only.
ALTER TABLE activity_line NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE activity_superseded NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE tender_match NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE source NO FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
SELECT client_id, source, settlement_key, currency, local_date, at, part, status, label, sum(amount), sum(lines) FROM (
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, at.pull AS at, sum_part(l.kind, false) AS part, l.status,
    CASE WHEN l.kind IN ('tender', 'tender_returned') THEN coalesce(l.gateway, '') ELSE '' END AS label, at.sign * l.amount AS amount, at.sign AS lines
  FROM line_as_of l CROSS JOIN LATERAL (VALUES (l.from_pull, 1), (l.to_pull, -1)) at(pull, sign)
  WHERE l.status <> 'failed' AND at.pull IS NOT NULL
  UNION ALL
  -- A matched collection moves apart while both the match and the revision stand.
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, at.pull, side.part, l.status, '',
    at.sign * side.sign * l.amount, at.sign * side.sign
  FROM tender_match m JOIN line_as_of l ON l.client_id = m.client_id AND l.source = m.gateway AND l.line_id = m.collection_line
  CROSS JOIN LATERAL (VALUES (greatest(l.from_pull, m.from_pull), 1), (least(l.to_pull, m.to_pull), -1)) at(pull, sign)
  CROSS JOIN (VALUES ('other', -1), ('matched', 1)) side(part, sign)
  WHERE l.status <> 'failed' AND l.kind IN ('collected', 'collected_back') AND at.pull IS NOT NULL
    AND greatest(l.from_pull, m.from_pull) < coalesce(least(l.to_pull, m.to_pull), 2147483647)
) moves GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9;
--> statement-breakpoint
INSERT INTO open_order (client_id, source, currency, order_id, line_id, payout, available, pending)
SELECT l.client_id, l.source, l.currency, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END,
  l.kind IN ('payout', 'payout_returned'),
  coalesce(sum(l.amount) FILTER (WHERE l.status = 'available'), 0), coalesce(sum(l.amount) FILTER (WHERE l.status = 'pending'), 0)
FROM line_as_of l JOIN source s ON s.client_id = l.client_id AND s.source = l.source AND s.shape = 'channel'
WHERE l.stands AND l.status <> 'failed' AND l.kind NOT IN ('stock_received', 'supplier_credit')
GROUP BY 1, 2, 3, 4, 5, 6
HAVING coalesce(sum(l.amount) FILTER (WHERE l.status = 'available'), 0) <> 0 OR coalesce(sum(l.amount) FILTER (WHERE l.status = 'pending'), 0) <> 0;
--> statement-breakpoint
INSERT INTO open_tie (client_id, source, line_id, revision, kind)
SELECT l.client_id, l.source, l.line_id, l.revision, l.kind FROM line_as_of l
WHERE l.stands AND l.status <> 'failed' AND is_tie_kind(l.kind)
  AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)
  AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.channel = l.source AND t.tender_line = l.line_id AND t.to_pull IS NULL);
--> statement-breakpoint
UPDATE tender_match m SET doubtful = true WHERE to_pull IS NULL AND (
  EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = m.client_id AND x.source = m.gateway AND x.line_id = m.collection_line)
  OR EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = m.client_id AND x.source = m.channel AND x.line_id = m.tender_line));
--> statement-breakpoint
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['activity_line', 'activity_superseded', 'tender_match', 'source', 'activity_sum', 'open_order', 'open_tie'] LOOP
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
  END LOOP;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_activity_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  ANALYZE activity_line (client_id, source, settlement_key, currency, local_date, kind, status);
  ANALYZE activity_superseded;
  ANALYZE activity_sum;
  ANALYZE open_order;
  ANALYZE open_tie;
  ANALYZE settlement;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_tie_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  ANALYZE tender_match;
  ANALYZE open_tie;
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
    'tax_row', 'product_class', 'tax_filing', 'tender_match', 'tender_label', 'gateway_label', 'open_tie', 'open_order', 'activity_sum', 'activity_superseded', 'activity_line', 'pull', 'source_bank',
    'source_clearing', 'source_options', 'source', 'exchange_rate', 'tax_rate', 'tax_component', 'tax_code', 'account', 'client_summary',
    'membership', 'client'
  ] LOOP
    EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
  END LOOP;
END $$;
