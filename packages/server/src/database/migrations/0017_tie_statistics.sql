-- After a backfill the planner takes the matches for none, and looks through all of them for each line. Only an owner may ANALYZE.
CREATE FUNCTION refresh_tie_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  ANALYZE tender_match;
END $$;
--> statement-breakpoint
REVOKE ALL ON FUNCTION refresh_tie_statistics() FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION refresh_tie_statistics() TO culvert_app;
