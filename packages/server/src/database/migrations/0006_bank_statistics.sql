-- After a statement of years the planner knows nothing of the new bank lines; only an owner may ANALYZE.
CREATE FUNCTION refresh_bank_statistics() RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
BEGIN
  ANALYZE bank_line (client_id, bank_account, line_id, date, amount, pull_id);
  ANALYZE open_bank_line;
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION refresh_bank_statistics() FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION refresh_bank_statistics() TO culvert_app;
