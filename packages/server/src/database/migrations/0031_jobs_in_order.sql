DROP INDEX "job_by_subject";--> statement-breakpoint
CREATE INDEX "job_by_subject" ON "job" USING btree ("client_id","subject","ordinal");--> statement-breakpoint
-- Statistics of what was replaced, apart from those of the lines: a table that the planner believes to be empty is looked through for every line beside it,
-- and a few hundred replaced lines are felt long before the lines themselves have grown by a tenth. Runs as the owner.
CREATE FUNCTION refresh_superseded_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  PERFORM analyze_part('activity_superseded', 'client_id, source, line_id, revision, pull_no');
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION refresh_superseded_statistics() FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION refresh_superseded_statistics() TO culvert_app;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_activity_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  PERFORM analyze_part('activity_line', 'client_id, source, settlement_key, currency, local_date, kind, status, pull_no, order_id');
  PERFORM analyze_part('activity_superseded', 'client_id, source, line_id, revision, pull_no');
  ANALYZE personal;
  ANALYZE activity_sum;
  ANALYZE open_order;
  ANALYZE open_tie;
  ANALYZE settlement;
END $$;
