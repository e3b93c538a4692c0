ALTER TABLE import_change ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE import_change FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON import_change USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON import_change AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('bring')));
--> statement-breakpoint
GRANT SELECT, INSERT ON import_change TO culvert_app;
--> statement-breakpoint
ALTER TABLE activity_restored ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE activity_restored FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON activity_restored USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON activity_restored AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('bring')));
--> statement-breakpoint
GRANT SELECT, INSERT ON activity_restored TO culvert_app;
--> statement-breakpoint
-- Of persons that nothing else tells of any more, what was taken in goes with the lines of a pull. Whoever was erased stays marked as that.
CREATE FUNCTION forget_persons_of(of_source text, of_pull integer) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF NOT member_may('bring') THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever brings files in takes them back';
  END IF;
  DELETE FROM personal p WHERE p.client_id = current_client() AND p.erased_at IS NULL
    AND p.person_id IN (SELECT l.person_id FROM activity_line l WHERE l.client_id = current_client() AND l.source = of_source AND l.pull_no = of_pull
      AND l.person_id IS NOT NULL)
    AND NOT EXISTS (SELECT FROM line_as_of l WHERE l.client_id = p.client_id AND l.person_id = p.person_id AND l.stands);
END $$;
--> statement-breakpoint
-- Lines and balances of a statement go, while nothing was ever decided about any of them.
CREATE FUNCTION take_statement_back(of_job text) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF NOT member_may('bring') OR NOT client_is_kept() THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever brings files in takes them back';
  END IF;
  IF EXISTS (SELECT FROM bank_line b JOIN paired_bank_line p USING (client_id, bank_account, line_id)
      WHERE b.client_id = current_client() AND b.pull_id = of_job) THEN
    RAISE object_in_use USING MESSAGE = 'lines of it are decided';
  END IF;
  DELETE FROM open_bank_line o USING bank_line b WHERE b.client_id = current_client() AND b.pull_id = of_job
    AND o.client_id = b.client_id AND o.bank_account = b.bank_account AND o.line_id = b.line_id;
  DELETE FROM bank_line WHERE client_id = current_client() AND pull_id = of_job;
  DELETE FROM statement WHERE client_id = current_client() AND pull_id = of_job;
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION forget_persons_of(text, integer), take_statement_back(text) FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION forget_persons_of(text, integer), take_statement_back(text) TO culvert_app;
