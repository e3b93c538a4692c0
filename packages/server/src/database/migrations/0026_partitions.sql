-- What grows with activity lies apart by client: each table in 8 parts by a hash of the client's number, with the keys, indexes, checks, triggers, policies and rights that it had.
-- Parts have no rights of their own. Runs as the owner.
CREATE FUNCTION split_by_client(whole text, parts integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  old oid := whole::regclass;
  before text := whole || '_before';
  own text[];
  referring text[];
  indexes text[];
  triggers text[];
  policies text[];
  rights text[];
  views text[];
  view_drops text[];
  statement text;
  renamed record;
BEGIN
  SELECT array_agg(format('ALTER TABLE %I ADD CONSTRAINT %I %s', whole, conname, pg_get_constraintdef(oid))
      ORDER BY array_position(ARRAY['p', 'u', 'c', 'f'], contype::text), conname)
    INTO own FROM pg_constraint WHERE conrelid = old AND conparentid = 0 AND contype IN ('p', 'u', 'c', 'f');
  SELECT array_agg(format('ALTER TABLE %s ADD CONSTRAINT %I %s', conrelid::regclass, conname, pg_get_constraintdef(oid)) ORDER BY conname)
    INTO referring FROM pg_constraint WHERE confrelid = old AND contype = 'f' AND conparentid = 0 AND conrelid <> old;
  SELECT array_agg(pg_get_indexdef(i.indexrelid) ORDER BY i.indexrelid::regclass::text COLLATE "C")
    INTO indexes FROM pg_index i WHERE i.indrelid = old AND NOT EXISTS (SELECT FROM pg_constraint c WHERE c.conindid = i.indexrelid AND c.contype IN ('p', 'u'));
  SELECT array_agg(pg_get_triggerdef(oid) ORDER BY tgname) INTO triggers FROM pg_trigger WHERE tgrelid = old AND NOT tgisinternal;
  SELECT array_agg(format('CREATE POLICY %I ON %I FOR %s TO %s %s %s', policyname, whole, cmd, array_to_string(roles, ', '),
      coalesce('USING (' || qual || ')', ''), coalesce('WITH CHECK (' || with_check || ')', '')))
    INTO policies FROM pg_policies WHERE schemaname = 'public' AND tablename = whole;
  SELECT array_agg(format('GRANT %s ON %I TO %s', a.privilege_type, whole, a.grantee::regrole))
    INTO rights FROM pg_class c, aclexplode(c.relacl) a WHERE c.oid = old AND a.grantee <> c.relowner AND a.grantee <> 0;
  -- Views upon it are made anew, those upon them too: the latest go first, and come back last.
  WITH RECURSIVE upon AS (
    SELECT DISTINCT r.ev_class AS view, 1 AS depth FROM pg_depend d JOIN pg_rewrite r ON r.oid = d.objid WHERE d.refobjid = old AND d.classid = 'pg_rewrite'::regclass
    UNION ALL
    SELECT DISTINCT r.ev_class, u.depth + 1 FROM upon u JOIN pg_depend d ON d.refobjid = u.view JOIN pg_rewrite r ON r.oid = d.objid AND r.ev_class <> u.view
      WHERE d.classid = 'pg_rewrite'::regclass
  ), deepest AS (SELECT view, max(depth) AS depth FROM upon GROUP BY view)
  SELECT array_agg(format('CREATE VIEW %s WITH (security_invoker = true) AS %s GRANT SELECT ON %s TO culvert_app', view::regclass,
      pg_get_viewdef(view), view::regclass) ORDER BY depth, view),
    array_agg(format('DROP VIEW %s', view::regclass) ORDER BY depth DESC, view DESC)
    INTO views, view_drops FROM deepest;
  FOREACH statement IN ARRAY coalesce(view_drops, '{}') LOOP EXECUTE statement; END LOOP;
  FOR renamed IN SELECT conrelid::regclass AS referring, conname FROM pg_constraint WHERE confrelid = old AND contype = 'f' AND conparentid = 0 AND conrelid <> old LOOP
    EXECUTE format('ALTER TABLE %s DROP CONSTRAINT %I', renamed.referring, renamed.conname);
  END LOOP;
  EXECUTE format('ALTER TABLE %I RENAME TO %I', whole, before);
  EXECUTE format('CREATE TABLE %I (LIKE %I INCLUDING DEFAULTS INCLUDING STORAGE) PARTITION BY HASH (client_id)', whole, before);
  FOR part IN 0 .. parts - 1 LOOP
    EXECUTE format('CREATE TABLE %I PARTITION OF %I FOR VALUES WITH (MODULUS %s, REMAINDER %s)', whole || '_' || part, whole, parts, part);
  END LOOP;
  EXECUTE format('INSERT INTO %I SELECT * FROM %I', whole, before);
  EXECUTE format('DROP TABLE %I', before);
  FOREACH statement IN ARRAY own LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(indexes, '{}') LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(referring, '{}') LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(triggers, '{}') LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(policies, '{}') LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(rights, '{}') LOOP EXECUTE statement; END LOOP;
  FOREACH statement IN ARRAY coalesce(views, '{}') LOOP
    EXECUTE split_part(statement, ' GRANT SELECT ON ', 1);
    EXECUTE 'GRANT SELECT ON ' || split_part(statement, ' GRANT SELECT ON ', 2);
  END LOOP;
  EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', whole);
END $$;
--> statement-breakpoint
-- The owner sees all clients while it moves them, and while keys that are made anew are checked.
CREATE TEMPORARY TABLE forced ON COMMIT DROP AS SELECT oid::regclass AS name FROM pg_class WHERE relforcerowsecurity AND relnamespace = 'public'::regnamespace;--> statement-breakpoint
DO $$
DECLARE
  name regclass;
BEGIN
  FOR name IN SELECT f.name FROM forced f LOOP EXECUTE format('ALTER TABLE %s NO FORCE ROW LEVEL SECURITY', name); END LOOP;
END $$;
--> statement-breakpoint
SELECT split_by_client('activity_line', 8);--> statement-breakpoint
SELECT split_by_client('activity_superseded', 8);--> statement-breakpoint
SELECT split_by_client('entry_line', 8);--> statement-breakpoint
SELECT split_by_client('bank_line', 8);--> statement-breakpoint
DROP FUNCTION split_by_client(text, integer);--> statement-breakpoint
DO $$
DECLARE
  table_name text;
BEGIN
  FOR table_name IN SELECT relname FROM pg_class WHERE relrowsecurity AND NOT relispartition AND relkind IN ('r', 'p') AND relnamespace = 'public'::regnamespace LOOP
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', table_name);
  END LOOP;
END $$;
--> statement-breakpoint
-- The part of a table in which a client's rows lie; of one that is not split, itself.
CREATE FUNCTION part_of(whole text, client integer) RETURNS regclass LANGUAGE sql STABLE AS $$
  SELECT coalesce((SELECT c.oid::regclass FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = whole::regclass
    AND satisfies_hash_partition(whole::regclass, (SELECT count(*)::integer FROM pg_inherits WHERE inhparent = whole::regclass),
      substring(c.relname FROM '\d+$')::integer, client)), whole::regclass)
$$;
--> statement-breakpoint
-- Takes statistics of the part in which the client's rows lie; of the whole, which looks at every part, once it has doubled.
CREATE FUNCTION analyze_part(whole text, columns text) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
DECLARE
  known real := (SELECT reltuples FROM pg_class WHERE oid = whole::regclass);
BEGIN
  EXECUTE format('ANALYZE %s (%s)', part_of(whole, current_client()), columns);
  IF (SELECT sum(greatest(c.reltuples, 0)) FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = whole::regclass) > 2 * greatest(known, 0) THEN
    EXECUTE format('ANALYZE %s (%s)', whole, columns);
  END IF;
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION analyze_part(text, text) FROM PUBLIC;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_activity_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  PERFORM analyze_part('activity_line', 'client_id, source, settlement_key, currency, local_date, kind, status');
  PERFORM analyze_part('activity_superseded', 'client_id, source, line_id, revision, pull_no');
  ANALYZE personal;
  ANALYZE activity_sum;
  ANALYZE open_order;
  ANALYZE open_tie;
  ANALYZE settlement;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_ledger_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  ANALYZE entry;
  PERFORM analyze_part('entry_line', 'client_id, fiscal_year, number, account, amount, date');
  ANALYZE transfer;
  ANALYZE posting;
  ANALYZE settlement;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_bank_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  PERFORM analyze_part('bank_line', 'client_id, bank_account, line_id, date, amount, pull_id');
  ANALYZE open_bank_line;
END $$;
