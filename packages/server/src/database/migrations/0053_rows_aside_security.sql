ALTER TABLE row_aside ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE row_aside FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON row_aside USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON row_aside AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('bring')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_change ON row_aside AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may('bring')) AND (SELECT client_is_kept()));
--> statement-breakpoint
GRANT SELECT, INSERT ON row_aside TO culvert_app;
--> statement-breakpoint
-- What it is can be said anew; what stood in it cannot.
GRANT UPDATE (why) ON row_aside TO culvert_app;
