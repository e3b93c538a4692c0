DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['statement', 'column_mapping'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format('CREATE POLICY one_client ON %I USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()))', name);
    EXECUTE format('CREATE POLICY who_may_insert ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may(''bring'')))', name);
  END LOOP;
END $$;
--> statement-breakpoint
GRANT SELECT, INSERT ON statement TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON column_mapping TO culvert_app;
--> statement-breakpoint
CREATE POLICY by_whoever_acts ON column_mapping AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ("by" = coalesce((SELECT current_person()), 0));
--> statement-breakpoint
-- Where the books of a client are only read any more.
CREATE FUNCTION client_is_kept() RETURNS boolean LANGUAGE sql STABLE AS $$
  SELECT NOT EXISTS (SELECT FROM client WHERE client_id = current_client() AND archived_at IS NOT NULL) $$;
--> statement-breakpoint
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['entry', 'bank_line', 'map_version', 'job', 'period', 'source'] LOOP
    EXECUTE format('CREATE POLICY client_is_kept ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT client_is_kept()))', name);
  END LOOP;
END $$;
--> statement-breakpoint
-- Takes a client with all its rows out of the database, whatever tables there are. For the owner only: the application may not delete entries.
CREATE OR REPLACE FUNCTION remove_client(removed integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  names text[];
  again text[];
  name text;
BEGIN
  PERFORM set_config('app.client', removed::text, true);
  SELECT array_agg(c.relname ORDER BY c.relname) INTO names FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid
    WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition
      AND a.attname = 'client_id' AND NOT a.attisdropped AND c.relname NOT IN ('client', 'membership');
  -- What others still refer to goes in a later round.
  LOOP
    again := '{}';
    -- Postings and reversals refer to each other by generation: the latest go first.
    BEGIN
      WHILE EXISTS (SELECT FROM posting WHERE client_id = removed) LOOP
        DELETE FROM reversal r WHERE client_id = removed
          AND NOT EXISTS (SELECT FROM posting p WHERE (p.client_id, p.source, p.key, p.currency, p.previous)
            = (r.client_id, r.source, r.key, r.currency, r.generation));
        DELETE FROM posting p WHERE client_id = removed
          AND NOT EXISTS (SELECT FROM reversal r WHERE (r.client_id, r.source, r.key, r.currency, r.generation)
            = (p.client_id, p.source, p.key, p.currency, p.generation));
      END LOOP;
    EXCEPTION WHEN foreign_key_violation THEN
      NULL;
    END;
    FOREACH name IN ARRAY names LOOP
      BEGIN
        EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
      EXCEPTION WHEN foreign_key_violation THEN
        again := again || name;
      END;
    END LOOP;
    EXIT WHEN cardinality(again) = 0;
    IF again = names THEN
      RAISE EXCEPTION 'rows of client % refer to each other in %', removed, array_to_string(names, ', ');
    END IF;
    names := again;
  END LOOP;
  -- In one statement: without its people nobody is shown the client that is to go.
  WITH people AS (DELETE FROM membership WHERE client_id = removed)
  DELETE FROM client WHERE client_id = removed;
END $$;
--> statement-breakpoint
-- The same for the application: of a client that was taken on by mistake, in whose ledger nothing was ever written.
CREATE FUNCTION remove_unposted_client() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF NOT member_may('take_on') THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever takes clients on removes them';
  END IF;
  PERFORM FROM client WHERE client_id = current_client() FOR UPDATE;
  IF EXISTS (SELECT FROM entry WHERE client_id = current_client()) THEN
    RAISE object_in_use USING MESSAGE = 'entries stand in its ledger';
  END IF;
  PERFORM remove_client(current_client());
END $$;
--> statement-breakpoint
-- Takes a source out with all that it brought, while nothing of it was ever posted.
CREATE FUNCTION remove_unposted_source(removed text) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
  names text[];
  again text[];
  name text;
BEGIN
  IF NOT member_may('connect') THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever connects sources removes them';
  END IF;
  PERFORM FROM source WHERE client_id = current_client() AND source = removed FOR UPDATE;
  IF EXISTS (SELECT FROM entry WHERE client_id = current_client() AND source = removed) THEN
    RAISE object_in_use USING MESSAGE = 'entries of it stand in the ledger';
  END IF;
  SELECT array_agg(c.relname ORDER BY c.relname) INTO names FROM pg_class c
    WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition AND c.relname <> 'source'
      AND (SELECT count(*) FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attname IN ('client_id', 'source') AND NOT a.attisdropped) = 2;
  LOOP
    again := '{}';
    FOREACH name IN ARRAY names LOOP
      BEGIN
        EXECUTE format('DELETE FROM %I WHERE client_id = current_client() AND source = $1', name) USING removed;
      EXCEPTION WHEN foreign_key_violation THEN
        again := again || name;
      END;
    END LOOP;
    EXIT WHEN cardinality(again) = 0;
    IF again = names THEN
      RAISE EXCEPTION 'what % brought is referred to from %', removed, array_to_string(names, ', ');
    END IF;
    names := again;
  END LOOP;
  DELETE FROM source WHERE client_id = current_client() AND source = removed;
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION remove_unposted_client(), remove_unposted_source(text) FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION remove_unposted_client(), remove_unposted_source(text) TO culvert_app;
