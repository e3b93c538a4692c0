-- Statistics of the part in which the client's rows lie; of the whole, which looks at every part, once it has doubled. Two imports that both look at the
-- whole hold a part each: what the other holds is left out, since waiting for it would be waiting for each other. Runs as the owner.
CREATE OR REPLACE FUNCTION analyze_part(whole text, columns text) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
DECLARE
  known real := (SELECT reltuples FROM pg_class WHERE oid = whole::regclass);
BEGIN
  EXECUTE format('ANALYZE %s (%s)', part_of(whole, current_client()), columns);
  IF (SELECT sum(greatest(c.reltuples, 0)) FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = whole::regclass) > 2 * greatest(known, 0) THEN
    EXECUTE format('ANALYZE (SKIP_LOCKED) %s (%s)', whole, columns);
  END IF;
END $$;
