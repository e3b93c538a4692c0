DO $$
DECLARE name text; needed text;
BEGIN
  FOR name, needed IN SELECT * FROM (VALUES ('proof_answer', 'settle'), ('registration', 'file'), ('registration_code', 'file')) t(a, b) LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format('CREATE POLICY one_client ON %I USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()))', name);
    EXECUTE format('CREATE POLICY who_may_insert ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may(%L)) AND (SELECT client_is_kept()))', name, needed);
    EXECUTE format('CREATE POLICY who_may_change ON %I AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may(%L)) AND (SELECT client_is_kept()))', name, needed);
    EXECUTE format('CREATE POLICY who_may_remove ON %I AS RESTRICTIVE FOR DELETE TO culvert_app USING ((SELECT member_may(%L)) AND (SELECT client_is_kept()))', name, needed);
  END LOOP;
END $$;
--> statement-breakpoint
-- What was answered stays: only its end is written down.
GRANT SELECT, INSERT ON proof_answer TO culvert_app;
--> statement-breakpoint
GRANT UPDATE (undone_by) ON proof_answer TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON registration TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON registration_code TO culvert_app;
--> statement-breakpoint
-- Settlements that may hold lines far from their entries: proofs look at each from now on, and judge by its lines.
UPDATE settlement s SET odd_dates = true
WHERE s.state = 'posted' AND (s.entry_date - s.first_date > 30 OR s.last_date - s.entry_date > 1
  OR EXISTS (SELECT FROM transfer t WHERE t.client_id = s.client_id AND t.source = s.source AND t.key = s.key AND t.currency = s.currency
    AND NOT t.reversed AND (t.date - s.first_date > 10 OR s.last_date - t.date > 10)));
--> statement-breakpoint
-- A bank replaces or deletes a line of an earlier statement: it goes, while nothing is decided about it.
CREATE FUNCTION correct_bank_line(of_account text, of_line text) RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF NOT member_may('bring') OR NOT client_is_kept() THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever imports files corrects their lines';
  END IF;
  IF EXISTS (SELECT FROM paired_bank_line p WHERE p.client_id = current_client() AND p.bank_account = of_account AND p.line_id = of_line) THEN
    RAISE object_in_use USING MESSAGE = 'the line is matched or coded';
  END IF;
  DELETE FROM open_bank_line WHERE client_id = current_client() AND bank_account = of_account AND line_id = of_line;
  DELETE FROM bank_line WHERE client_id = current_client() AND bank_account = of_account AND line_id = of_line;
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION correct_bank_line(text, text) FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION correct_bank_line(text, text) TO culvert_app;
