ALTER TABLE ledger_link ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE ledger_link FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON ledger_link USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON ledger_link AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('connect')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_change ON ledger_link AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may('connect')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_take_away ON ledger_link AS RESTRICTIVE FOR DELETE TO culvert_app USING ((SELECT member_may('connect')) AND (SELECT client_is_kept()));
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON ledger_link TO culvert_app;
