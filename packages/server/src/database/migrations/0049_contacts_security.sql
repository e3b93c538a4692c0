ALTER TABLE contact ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE contact FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON contact USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON contact AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_change ON contact AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_take_away ON contact AS RESTRICTIVE FOR DELETE TO culvert_app USING ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON contact TO culvert_app;
--> statement-breakpoint
ALTER TABLE open_item ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE open_item FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON open_item USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON open_item AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_change ON open_item AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
CREATE POLICY who_may_take_away ON open_item AS RESTRICTIVE FOR DELETE TO culvert_app USING ((SELECT member_may('map')) AND (SELECT client_is_kept()));
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON open_item TO culvert_app;
