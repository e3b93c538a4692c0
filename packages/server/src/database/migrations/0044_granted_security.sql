ALTER TABLE service_grant ENABLE ROW LEVEL SECURITY;
--> statement-breakpoint
ALTER TABLE service_grant FORCE ROW LEVEL SECURITY;
--> statement-breakpoint
CREATE POLICY one_client ON service_grant USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()));
--> statement-breakpoint
CREATE POLICY who_may_insert ON service_grant AS RESTRICTIVE FOR INSERT TO culvert_app
  WITH CHECK ((SELECT member_may('connect')) AND asked_by = (SELECT current_person()) AND (SELECT client_is_kept()));
--> statement-breakpoint
-- Whoever pulls renews its tokens; whoever was asked by a link grants it.
CREATE POLICY who_may_change ON service_grant AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true)
  WITH CHECK ((SELECT member_may('bring')) OR (SELECT current_link()) IN (link_hash, state_hash));
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON service_grant TO culvert_app;
--> statement-breakpoint
-- Whoever has the link sees what is asked of them, and nothing else. While they are at the service the state that goes along stands for the link.
CREATE POLICY by_link ON service_grant USING (link_hash IS NOT NULL AND (SELECT current_link()) IN (link_hash, state_hash))
  WITH CHECK (link_hash IS NOT NULL AND (SELECT current_link()) IN (link_hash, state_hash));
--> statement-breakpoint
-- What they do is written down like what others do.
DO $$
DECLARE
  name text;
  linked text := 'client_id = (SELECT g.client_id FROM service_grant g WHERE g.link_hash IS NOT NULL AND (SELECT current_link()) IN (g.link_hash, g.state_hash))';
BEGIN
  FOREACH name IN ARRAY ARRAY['act', 'act_object', 'act_seal'] LOOP
    EXECUTE format('CREATE POLICY added_by_grant ON %I FOR INSERT TO culvert_app WITH CHECK (%s)', name, linked);
    EXECUTE format('CREATE POLICY seen_by_grant ON %I FOR SELECT TO culvert_app USING (%s)', name, linked);
  END LOOP;
  EXECUTE format('CREATE POLICY kept_by_grant ON act_head TO culvert_app USING (%s) WITH CHECK (%s)', linked, linked);
END $$;
--> statement-breakpoint
-- One shop serves one client, and news of a shop is for the client that it serves: both are looked up by the owner's functions below, which tell nothing else.
CREATE POLICY shops_of_all ON source FOR SELECT TO CURRENT_USER USING (shop IS NOT NULL);
--> statement-breakpoint
CREATE POLICY grants_of_all ON service_grant FOR SELECT TO CURRENT_USER USING (granted_at IS NOT NULL);
--> statement-breakpoint
-- Whom shops serve: by name where the person is of that client too, else only that there is one.
CREATE FUNCTION whom_shops_serve(wanted text[]) RETURNS TABLE (shop text, serves text, own boolean, as_source text)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF NOT member_may('connect') THEN
    RAISE insufficient_privilege USING MESSAGE = 'whoever connects sources asks whom a shop serves';
  END IF;
  RETURN QUERY SELECT s.shop,
      (SELECT c.name FROM client c JOIN membership m USING (client_id) WHERE c.client_id = s.client_id AND m.user_id = current_person()),
      s.client_id = current_client(),
      CASE WHEN s.client_id = current_client() THEN s.source END
    FROM source s WHERE s.shop = ANY(wanted);
END $$;
--> statement-breakpoint
-- The sources that a service's news of a shop are for, each with somebody who may bring in what is new: who connected it, while they still may.
CREATE FUNCTION sources_of_shop(wanted text) RETURNS TABLE (of_client integer, of_source text, as_person integer)
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
  before text := current_setting('app.client', true);
  found record;
BEGIN
  FOR found IN SELECT s.client_id, s.source, g.asked_by FROM source s JOIN service_grant g USING (client_id, grant_id)
    WHERE s.shop = wanted AND g.ended IS NULL
  LOOP
    PERFORM set_config('app.client', found.client_id::text, true);
    of_client := found.client_id;
    of_source := found.source;
    as_person := (SELECT m.user_id FROM membership m WHERE m.client_id = found.client_id AND role_may(m.role, 'bring')
      ORDER BY m.user_id = found.asked_by DESC, m.user_id LIMIT 1);
    IF as_person IS NOT NULL THEN
      RETURN NEXT;
    END IF;
  END LOOP;
  PERFORM set_config('app.client', coalesce(before, ''), true);
END $$;
--> statement-breakpoint
REVOKE EXECUTE ON FUNCTION whom_shops_serve(text[]), sources_of_shop(text) FROM PUBLIC;
--> statement-breakpoint
GRANT EXECUTE ON FUNCTION whom_shops_serve(text[]), sources_of_shop(text) TO culvert_app;
