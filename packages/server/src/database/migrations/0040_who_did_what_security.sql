-- What is of a client is shown to its people alone.
DO $$
DECLARE
  name text;
BEGIN
  FOREACH name IN ARRAY ARRAY['act_head', 'act_object', 'act_seal', 'consent', 'evidence', 'note', 'note_answer', 'question_link'] LOOP
    EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', name);
    EXECUTE format('CREATE POLICY one_client ON %I USING (client_id = (SELECT member_client())) WITH CHECK (client_id = (SELECT member_client()))', name);
  END LOOP;
END $$;
--> statement-breakpoint
GRANT SELECT, INSERT ON act_object, act_seal, note_answer, evidence, practice_act TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON act_head, note, question_link, consent TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON address_change TO culvert_app;
--> statement-breakpoint
-- What is long over of signing in is forgotten.
GRANT DELETE ON access_token, invitation TO culvert_app;
--> statement-breakpoint
GRANT UPDATE (told) ON personal TO culvert_app;
--> statement-breakpoint
-- An act that comes to stand has its seal. Those of before are sealed with the next one.
ALTER TABLE act ADD CONSTRAINT act_is_sealed FOREIGN KEY (client_id, act_id) REFERENCES act_seal (client_id, act_id) DEFERRABLE INITIALLY DEFERRED NOT VALID;
--> statement-breakpoint
-- Who acts is who is signed in, whatever a request says; the client's own people, who come by a link, are nobody's number.
DO $$
DECLARE
  name text;
  who text;
BEGIN
  FOR name, who IN SELECT * FROM (VALUES ('act', '"by"'), ('map_version', '"by"'), ('tax_filing', '"by"'), ('note', '"by"'), ('consent', 'asked_by'))
    AS acts (name, who)
  LOOP
    EXECUTE format('CREATE POLICY by_whoever_acts ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK (%s = coalesce((SELECT current_person()), 0))', name, who);
  END LOOP;
  FOREACH name IN ARRAY ARRAY['note_answer', 'evidence'] LOOP
    EXECUTE format('CREATE POLICY by_whoever_acts ON %I AS RESTRICTIVE FOR INSERT TO culvert_app
      WITH CHECK (coalesce("by", 0) = coalesce((SELECT current_person()), 0))', name);
  END LOOP;
END $$;
--> statement-breakpoint
-- What only some may change or take away. Whoever merely holds a row for others is not asked.
DO $$
DECLARE
  name text;
  needed text;
BEGIN
  FOR name, needed IN SELECT * FROM (VALUES ('note', 'comment'), ('question_link', 'comment'), ('consent', 'settle'), ('payment_decision', 'post'),
    ('dispute_decision', 'post'), ('account', 'map'), ('gateway_label', 'map'), ('exchange_rate', 'map'), ('bank_grant', 'connect'), ('source', 'connect')) AS needs (name, needed)
  LOOP
    EXECUTE format('CREATE POLICY who_may_insert ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may(%L)))', name, needed);
  END LOOP;
  FOR name, needed IN SELECT * FROM (VALUES ('period', 'close'), ('tax_filing', 'file'), ('pairing', 'pair'), ('payment_decision', 'post'),
    ('dispute_decision', 'post'), ('item', 'map'), ('tax_code', 'map'), ('account', 'map'), ('exchange_rate', 'map'), ('bank_grant', 'connect')) AS needs (name, needed)
  LOOP
    EXECUTE format('CREATE POLICY who_may_change ON %I AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true) WITH CHECK ((SELECT member_may(%L)))', name, needed);
  END LOOP;
  FOR name, needed IN SELECT * FROM (VALUES ('route', 'map'), ('rule', 'map'), ('item', 'map'), ('tax_code', 'map'), ('tax_row', 'map'), ('product_class', 'map'),
    ('gateway_label', 'map'), ('exchange_rate', 'map'), ('account', 'map'), ('bank_grant', 'connect')) AS needs (name, needed)
  LOOP
    EXECUTE format('CREATE POLICY who_may_take_away ON %I AS RESTRICTIVE FOR DELETE TO culvert_app USING ((SELECT member_may(%L)))', name, needed);
  END LOOP;
END $$;
--> statement-breakpoint
CREATE POLICY who_may_erase ON personal AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true)
  WITH CHECK (erased_at IS NULL OR (SELECT member_may('erase')));
--> statement-breakpoint
-- Consent is given by those who may do it themselves.
CREATE POLICY who_may_consent ON consent AS RESTRICTIVE FOR UPDATE TO culvert_app USING (true)
  WITH CHECK (outcome IS DISTINCT FROM 'given' OR ((SELECT member_may('post')) AND decided_by = (SELECT current_person())));
--> statement-breakpoint
-- Whoever has the link of a question sees this question, and may answer it. The link is named by the hash of its token.
CREATE FUNCTION current_link() RETURNS text LANGUAGE sql STABLE PARALLEL SAFE AS $$ SELECT nullif(current_setting('app.link', true), '') $$;
--> statement-breakpoint
CREATE POLICY by_link ON question_link USING (token_hash = (SELECT current_link()))
  WITH CHECK (token_hash = (SELECT current_link()));
--> statement-breakpoint
DO $$
DECLARE
  name text;
  linked text := '(client_id, note_id) IN (SELECT l.client_id, l.note_id FROM question_link l WHERE l.token_hash = (SELECT current_link()) AND l.withdrawn_at IS NULL)';
BEGIN
  FOREACH name IN ARRAY ARRAY['note', 'note_answer', 'evidence'] LOOP
    EXECUTE format('CREATE POLICY seen_by_link ON %I FOR SELECT TO culvert_app USING (%s)', name, linked);
  END LOOP;
  FOREACH name IN ARRAY ARRAY['note_answer', 'evidence'] LOOP
    EXECUTE format('CREATE POLICY added_by_link ON %I FOR INSERT TO culvert_app WITH CHECK (%s)', name, linked);
  END LOOP;
  -- What they do is written down like what others do.
  FOREACH name IN ARRAY ARRAY['act', 'act_object', 'act_seal'] LOOP
    EXECUTE format('CREATE POLICY added_by_link ON %I FOR INSERT TO culvert_app WITH CHECK (client_id = (SELECT l.client_id FROM question_link l
      WHERE l.token_hash = (SELECT current_link())))', name);
    EXECUTE format('CREATE POLICY seen_by_link ON %I FOR SELECT TO culvert_app USING (client_id = (SELECT l.client_id FROM question_link l
      WHERE l.token_hash = (SELECT current_link())))', name);
  END LOOP;
  EXECUTE 'CREATE POLICY kept_by_link ON act_head TO culvert_app USING (client_id = (SELECT l.client_id FROM question_link l
    WHERE l.token_hash = (SELECT current_link()))) WITH CHECK (client_id = (SELECT l.client_id FROM question_link l
    WHERE l.token_hash = (SELECT current_link())))';
END $$;
--> statement-breakpoint
-- The books are seen by whoever may read them: a client's own person, who may not, sees what is put to them and writes down that they answered.
CREATE OR REPLACE FUNCTION member_client() RETURNS integer LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF session_user <> 'culvert_app' THEN
    RETURN current_client();
  END IF;
  RETURN (SELECT m.client_id FROM membership m WHERE m.client_id = current_client() AND m.user_id = current_person() AND role_may(m.role, 'read'));
END $$;
--> statement-breakpoint
-- The client of a transaction, where its person is of it in any way.
CREATE FUNCTION any_member_client() RETURNS integer LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF session_user <> 'culvert_app' THEN
    RETURN current_client();
  END IF;
  RETURN (SELECT m.client_id FROM membership m WHERE m.client_id = current_client() AND m.user_id = current_person());
END $$;
--> statement-breakpoint
CREATE POLICY put_to_one ON note FOR SELECT TO culvert_app USING (client_id = (SELECT any_member_client()) AND to_user = (SELECT current_person()));
--> statement-breakpoint
CREATE POLICY held_by_one ON note FOR UPDATE TO culvert_app USING (client_id = (SELECT any_member_client()) AND to_user = (SELECT current_person()))
  WITH CHECK (false);
--> statement-breakpoint
DO $$
DECLARE
  name text;
  put text := 'client_id = (SELECT any_member_client()) AND note_id IN (SELECT n.note_id FROM note n WHERE n.client_id = (SELECT any_member_client())
    AND n.to_user = (SELECT current_person()))';
BEGIN
  FOREACH name IN ARRAY ARRAY['note_answer', 'evidence'] LOOP
    EXECUTE format('CREATE POLICY put_to_one ON %I FOR SELECT TO culvert_app USING (%s)', name, put);
    EXECUTE format('CREATE POLICY added_by_one ON %I FOR INSERT TO culvert_app WITH CHECK (%s)', name, put);
  END LOOP;
  FOREACH name IN ARRAY ARRAY['act', 'act_object', 'act_seal'] LOOP
    EXECUTE format('CREATE POLICY added_by_member ON %I FOR INSERT TO culvert_app WITH CHECK (client_id = (SELECT any_member_client()))', name);
  END LOOP;
  EXECUTE 'CREATE POLICY own_acts ON act FOR SELECT TO culvert_app USING (client_id = (SELECT any_member_client()) AND "by" = (SELECT current_person()))';
  EXECUTE 'CREATE POLICY kept_by_member ON act_head TO culvert_app USING (client_id = (SELECT any_member_client()))
    WITH CHECK (client_id = (SELECT any_member_client()))';
END $$;
--> statement-breakpoint
DROP POLICY members_summary ON client_summary;
--> statement-breakpoint
CREATE POLICY members_summary ON client_summary FOR SELECT USING (EXISTS (SELECT FROM membership m WHERE m.client_id = client_summary.client_id
  AND m.user_id = current_person() AND role_may(m.role, 'read')));
