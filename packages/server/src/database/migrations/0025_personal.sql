-- What activity tells of persons stands in a table of its own, from which they can be erased; lines, and the digests of lines, hold an id. Runs as the owner.
CREATE TABLE "personal" (
	"client_id" integer NOT NULL,
	"person_id" uuid NOT NULL,
	"customer" text,
	"email" text,
	"ship_to" text,
	"note" text,
	"rest" jsonb,
	"erased_at" timestamp with time zone,
	CONSTRAINT "personal_client_id_person_id_pk" PRIMARY KEY("client_id","person_id")
);
--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "person_key" text DEFAULT replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', '') NOT NULL;--> statement-breakpoint
ALTER TABLE "activity_line" ADD COLUMN "person_id" uuid;--> statement-breakpoint
-- A text as a field of COPY, as packages/server/src/activity/copyRecords.ts writes it: of these the ids and digests are made.
CREATE FUNCTION as_field(value text) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT coalesce(replace(replace(replace(replace(value, '\', '\\'), E'\t', '\t'), E'\n', '\n'), E'\r', '\r'), '\N')
$$;
--> statement-breakpoint
-- What is no goods in a line's free text, and what is none of its known columns, is personal.
CREATE FUNCTION is_supply(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE AS $$
  SELECT kind IN ('sale', 'refund', 'shipping', 'shipping_refund', 'discount', 'other_charge', 'surcharge', 'tax', 'tax_refund', 'tax_withheld')
$$;
--> statement-breakpoint
-- The owner sees all clients for these statements only.
ALTER TABLE activity_line NO FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE posting NO FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE client NO FORCE ROW LEVEL SECURITY;--> statement-breakpoint
DROP VIEW line_as_of;--> statement-breakpoint
CREATE TABLE was_told AS
  SELECT l.client_id, l.source, l.line_id, l.revision, l.customer, l.email, l.ship_to,
    CASE WHEN NOT is_supply(l.kind) THEN l.description END AS note, more.rest, more.rest_text
  FROM activity_line l CROSS JOIN LATERAL (
    SELECT jsonb_object_agg(e.key, e.value) AS rest,
      string_agg(E'\t' || as_field(e.key) || E'\t' || as_field(e.value), '' ORDER BY e.key COLLATE "C") AS rest_text
    FROM jsonb_each_text(l.extra) e WHERE e.key NOT IN ('paid_at', 'sent_at', 'status')) more
  WHERE l.customer IS NOT NULL OR l.email IS NOT NULL OR l.ship_to IS NOT NULL OR more.rest IS NOT NULL
    OR (l.description IS NOT NULL AND NOT is_supply(l.kind));
--> statement-breakpoint
ALTER TABLE was_told ADD COLUMN person_id uuid;--> statement-breakpoint
UPDATE was_told w SET person_id = substr(encode(sha256(convert_to(c.person_key || E'\t' || as_field(w.source) || E'\t' || as_field(w.customer) || E'\t'
    || as_field(w.email) || E'\t' || as_field(w.ship_to) || E'\t' || as_field(w.note) || coalesce(w.rest_text, ''), 'UTF8')), 'hex'), 1, 32)::uuid
  FROM client c WHERE c.client_id = w.client_id;
--> statement-breakpoint
INSERT INTO personal (client_id, person_id, customer, email, ship_to, note, rest)
  SELECT DISTINCT ON (client_id, person_id) client_id, person_id, customer, email, ship_to, note, rest FROM was_told ORDER BY client_id, person_id;
--> statement-breakpoint
CREATE INDEX ON was_told (client_id, source, line_id, revision);--> statement-breakpoint
ANALYZE was_told;--> statement-breakpoint
UPDATE activity_line l SET person_id = w.person_id,
    description = CASE WHEN is_supply(l.kind) THEN l.description END,
    extra = (SELECT jsonb_object_agg(e.key, e.value) FROM jsonb_each(l.extra) e WHERE e.key IN ('paid_at', 'sent_at', 'status'))
  FROM was_told w WHERE (w.client_id, w.source, w.line_id, w.revision) = (l.client_id, l.source, l.line_id, l.revision);
--> statement-breakpoint
DROP TABLE was_told;--> statement-breakpoint
UPDATE activity_line l SET content_hash = ('x' || substr(encode(sha256(convert_to(concat_ws(E'\t',
    as_field(line_id), as_field(settlement_id), currency::text, occurred_text, kind, as_field(order_id), as_field(gateway), as_field(method),
    as_field(category), as_field(sku), as_field(description), as_field(quantity), as_field(unit_price::text), as_field(location), as_field(region),
    as_field(person_id::text), amount::text, as_field(tax_amount::text), as_field(tax_label), as_field(related_id),
    CASE WHEN extra ? 'status' THEN 'available' ELSE status END, as_field(available_at), as_field(url),
    as_field(extra->>'paid_at'), as_field(extra->>'sent_at')), 'UTF8')), 'hex'), 1, 13))::bit(52)::bigint;
--> statement-breakpoint
-- Sums of the digests that there were then.
UPDATE posting SET input_hash = 'before ids: ' || input_hash;--> statement-breakpoint
DROP FUNCTION as_field(text);--> statement-breakpoint
DROP FUNCTION is_supply(text);--> statement-breakpoint
ALTER TABLE activity_line FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE posting FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE client FORCE ROW LEVEL SECURITY;--> statement-breakpoint
ALTER TABLE "activity_line" DROP COLUMN "customer", DROP COLUMN "email", DROP COLUMN "ship_to";--> statement-breakpoint
ALTER TABLE "personal" ENABLE ROW LEVEL SECURITY;--> statement-breakpoint
CREATE POLICY one_client ON "personal" USING (client_id = current_client()) WITH CHECK (client_id = current_client());--> statement-breakpoint
ALTER TABLE "personal" FORCE ROW LEVEL SECURITY;--> statement-breakpoint
GRANT SELECT, INSERT ON "personal" TO culvert_app;--> statement-breakpoint
GRANT UPDATE (customer, email, ship_to, note, rest, erased_at) ON "personal" TO culvert_app;--> statement-breakpoint
-- As before, with what is told of persons beside each line: where nobody asks for it, it is not looked up.
CREATE VIEW line_as_of WITH (security_invoker = true) AS
  SELECT l.client_id, l.source, l.line_id, l.revision, l.pull_no, l.settlement_id, l.settlement_key, l.currency, l.occurred_at, l.occurred_text,
    l.local_date, l.kind, l.order_id, l.gateway, l.method, l.category, l.sku, coalesce(l.description, p.note) AS description, l.quantity, l.unit_price,
    l.location, l.region, l.person_id, p.customer, p.email, p.ship_to, p.rest, l.amount, l.tax_amount, l.tax_label, l.related_id, l.status,
    l.available_at, l.url, l.extra, l.content_hash, l.pull_no AS from_pull, x.pull_no AS to_pull, x.line_id IS NULL AS stands
  FROM activity_line l LEFT JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source
    AND x.line_id = l.line_id AND x.revision = l.revision
  LEFT JOIN personal p ON p.client_id = l.client_id AND p.person_id = l.person_id;
--> statement-breakpoint
GRANT SELECT ON line_as_of TO culvert_app;
--> statement-breakpoint
-- Without statistics of them the planner takes persons for few, and looks at all of them for each line.
CREATE OR REPLACE FUNCTION refresh_activity_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  ANALYZE activity_line (client_id, source, settlement_key, currency, local_date, kind, status);
  ANALYZE activity_superseded;
  ANALYZE personal;
  ANALYZE activity_sum;
  ANALYZE open_order;
  ANALYZE open_tie;
  ANALYZE settlement;
END $$;
