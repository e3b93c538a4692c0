-- Functions whose bodies are made from the core's tables of kinds and documents, as they stood when this was written: whoever prepares a database gives them
-- the bodies of his own core (packages/server/src/database/generated.ts). Runs as the owner.
CREATE FUNCTION kind_is_payout(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT kind IN ('payout', 'payout_returned') $$;
--> statement-breakpoint
CREATE FUNCTION kind_is_stock(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT kind IN ('stock_received', 'supplier_credit') $$;
--> statement-breakpoint
CREATE FUNCTION kind_is_tender(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT kind IN ('tender', 'tender_returned') $$;
--> statement-breakpoint
CREATE FUNCTION kind_is_collection(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT kind IN ('collected', 'collected_back') $$;
--> statement-breakpoint
CREATE FUNCTION kind_is_tie(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT kind IN ('tender', 'tender_returned', 'collected', 'collected_back') $$;
--> statement-breakpoint
CREATE FUNCTION document_sorts() RETURNS TABLE (document text, books_lines boolean, moves_payout boolean, mirrors boolean, opens boolean, from_bank boolean, may_repeat boolean) LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT * FROM (VALUES ('journal', true, false, false, false, false, true), ('transfer', false, true, false, false, false, false), ('cost', false, false, false, false, false, false), ('correction', true, false, false, false, false, false), ('reversal', false, false, true, false, false, false), ('by_hand', false, false, false, false, false, true), ('bank', false, false, false, false, true, false), ('decision', false, false, false, false, false, false), ('opening', false, false, false, true, false, false)) sorts $$;
--> statement-breakpoint
CREATE OR REPLACE VIEW document_sort AS SELECT document, books_lines, moves_payout, mirrors, opens, from_bank, may_repeat FROM document_sorts();
--> statement-breakpoint
-- Into which part of a settlement's sum a line counts.
CREATE OR REPLACE FUNCTION sum_part(kind text, matched boolean) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN kind_is_payout(kind) THEN 'payout'
    WHEN kind_is_stock(kind) THEN 'stock'
    WHEN kind_is_tender(kind) THEN 'tender'
    WHEN matched AND kind_is_collection(kind) THEN 'matched' ELSE 'other' END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION keep_brought() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT client_id, source, settlement_key, currency, local_date, pull_no,
    sum_part(kind, kind_is_collection(kind) AND EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id
      AND t.gateway = b.source AND t.collection_line = b.line_id AND t.to_pull IS NULL)),
    status, CASE WHEN kind_is_tender(kind) THEN coalesce(gateway, '') ELSE '' END, sum(amount), count(*)
  FROM brought b WHERE status <> 'failed'
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8, 9
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  IF EXISTS (SELECT FROM (SELECT DISTINCT client_id, source FROM brought) b JOIN source s USING (client_id, source) WHERE s.shape = 'channel') THEN
  INSERT INTO open_order (client_id, source, currency, order_id, line_id, payout, available, pending)
  SELECT b.client_id, b.source, b.currency, coalesce(b.order_id, ''), CASE WHEN b.order_id IS NULL THEN b.line_id ELSE '' END,
    kind_is_payout(b.kind),
    coalesce(sum(b.amount) FILTER (WHERE b.status = 'available'), 0), coalesce(sum(b.amount) FILTER (WHERE b.status = 'pending'), 0)
  FROM brought b JOIN source s ON s.client_id = b.client_id AND s.source = b.source AND s.shape = 'channel'
  WHERE b.status <> 'failed' AND NOT kind_is_stock(b.kind)
  GROUP BY 1, 2, 3, 4, 5, 6
  HAVING coalesce(sum(b.amount) FILTER (WHERE b.status = 'available'), 0) <> 0 OR coalesce(sum(b.amount) FILTER (WHERE b.status = 'pending'), 0) <> 0
  ORDER BY 1, 2, 3, 4, 5, 6
  ON CONFLICT (client_id, source, currency, order_id, line_id, payout) DO UPDATE SET
    available = open_order.available + excluded.available, pending = open_order.pending + excluded.pending;
  DELETE FROM open_order o WHERE o.client_id IN (SELECT DISTINCT client_id FROM brought) AND available = 0 AND pending = 0;
  END IF;
  INSERT INTO open_tie (client_id, source, line_id, revision, kind)
  SELECT b.client_id, b.source, b.line_id, b.revision, b.kind FROM brought b
  WHERE kind_is_tie(b.kind) AND b.status <> 'failed'
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id AND t.gateway = b.source
      AND t.collection_line = b.line_id AND t.to_pull IS NULL)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = b.client_id AND t.channel = b.source
      AND t.tender_line = b.line_id AND t.to_pull IS NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION keep_replaced() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, r.pull_no,
    sum_part(l.kind, kind_is_collection(l.kind) AND EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id
      AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)),
    l.status, CASE WHEN kind_is_tender(l.kind) THEN coalesce(l.gateway, '') ELSE '' END, -sum(l.amount), -count(*)
  FROM replaced r JOIN activity_line l USING (client_id, source, line_id, revision) WHERE l.status <> 'failed'
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8, 9
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  INSERT INTO open_order (client_id, source, currency, order_id, line_id, payout, available, pending)
  SELECT l.client_id, l.source, l.currency, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END,
    kind_is_payout(l.kind),
    -coalesce(sum(l.amount) FILTER (WHERE l.status = 'available'), 0), -coalesce(sum(l.amount) FILTER (WHERE l.status = 'pending'), 0)
  FROM replaced r JOIN activity_line l USING (client_id, source, line_id, revision)
  JOIN source s ON s.client_id = l.client_id AND s.source = l.source AND s.shape = 'channel'
  WHERE l.status <> 'failed' AND NOT kind_is_stock(l.kind)
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
CREATE OR REPLACE FUNCTION keep_matched() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, m.from_pull, side.part, l.status, '', sum(side.sign * l.amount), sum(side.sign)
  FROM made m JOIN line_as_of l ON l.client_id = m.client_id AND l.source = m.gateway AND l.line_id = m.collection_line AND l.stands
  CROSS JOIN (VALUES ('other', -1), ('matched', 1)) side(part, sign)
  WHERE l.status <> 'failed' AND kind_is_collection(l.kind)
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  DELETE FROM open_tie o USING made m WHERE o.client_id = m.client_id AND o.source = m.gateway AND o.line_id = m.collection_line;
  DELETE FROM open_tie o USING made m WHERE o.client_id = m.client_id AND o.source = m.channel AND o.line_id = m.tender_line;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION keep_unmatched() RETURNS trigger LANGUAGE plpgsql
  SET enable_seqscan = off SET enable_hashjoin = off SET enable_mergejoin = off SET enable_material = off AS $$
BEGIN
  INSERT INTO activity_sum (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label, amount, lines)
  SELECT l.client_id, l.source, l.settlement_key, l.currency, l.local_date, n.to_pull, side.part, l.status, '', sum(side.sign * l.amount), sum(side.sign)
  FROM before_it b JOIN after_it n USING (client_id, gateway, collection_line, from_pull)
  JOIN line_as_of l ON l.client_id = n.client_id AND l.source = n.gateway AND l.line_id = n.collection_line AND l.stands
  CROSS JOIN (VALUES ('other', 1), ('matched', -1)) side(part, sign)
  WHERE b.to_pull IS NULL AND n.to_pull IS NOT NULL AND l.status <> 'failed' AND kind_is_collection(l.kind)
  GROUP BY 1, 2, 3, 4, 5, 6, 7, 8 ORDER BY 1, 2, 3, 4, 5, 6, 7, 8
  ON CONFLICT (client_id, source, settlement_key, currency, local_date, pull_no, part, status, label)
    DO UPDATE SET amount = activity_sum.amount + excluded.amount, lines = activity_sum.lines + excluded.lines;
  INSERT INTO open_tie (client_id, source, line_id, revision, kind)
  SELECT l.client_id, l.source, l.line_id, l.revision, l.kind
  FROM before_it b JOIN after_it n USING (client_id, gateway, collection_line, from_pull)
  CROSS JOIN LATERAL (VALUES (n.gateway, n.collection_line), (n.channel, n.tender_line)) side(source, line_id)
  JOIN line_as_of l ON l.client_id = n.client_id AND l.source = side.source AND l.line_id = side.line_id AND l.stands
  WHERE b.to_pull IS NULL AND n.to_pull IS NOT NULL AND l.status <> 'failed' AND kind_is_tie(l.kind)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)
    AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.channel = l.source AND t.tender_line = l.line_id AND t.to_pull IS NULL)
  ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;
--> statement-breakpoint
DROP FUNCTION is_tie_kind(text);
