-- Where people sign in: tables of the package that keeps their passwords, second factors and sessions; nothing else reads them.
CREATE SCHEMA auth;
--> statement-breakpoint
CREATE TABLE auth."user" (
  id text PRIMARY KEY, name text NOT NULL, email text NOT NULL UNIQUE, "emailVerified" boolean NOT NULL DEFAULT false, image text,
  "createdAt" timestamptz NOT NULL DEFAULT now(), "updatedAt" timestamptz NOT NULL DEFAULT now(), "twoFactorEnabled" boolean DEFAULT false,
  "personId" integer NOT NULL UNIQUE REFERENCES public.app_user (user_id)
);
--> statement-breakpoint
CREATE TABLE auth.session (
  id text PRIMARY KEY, "expiresAt" timestamptz NOT NULL, token text NOT NULL UNIQUE, "createdAt" timestamptz NOT NULL DEFAULT now(),
  "updatedAt" timestamptz NOT NULL, "ipAddress" text, "userAgent" text, "userId" text NOT NULL REFERENCES auth."user" (id) ON DELETE CASCADE
);
--> statement-breakpoint
CREATE INDEX session_of_user ON auth.session ("userId");
--> statement-breakpoint
CREATE TABLE auth.account (
  id text PRIMARY KEY, "accountId" text NOT NULL, "providerId" text NOT NULL, "userId" text NOT NULL REFERENCES auth."user" (id) ON DELETE CASCADE,
  "accessToken" text, "refreshToken" text, "idToken" text, "accessTokenExpiresAt" timestamptz, "refreshTokenExpiresAt" timestamptz, scope text,
  password text, "createdAt" timestamptz NOT NULL DEFAULT now(), "updatedAt" timestamptz NOT NULL DEFAULT now()
);
--> statement-breakpoint
CREATE INDEX account_user ON auth.account ("userId");
--> statement-breakpoint
CREATE TABLE auth.verification (
  id text PRIMARY KEY, identifier text NOT NULL, value text NOT NULL, "expiresAt" timestamptz NOT NULL,
  "createdAt" timestamptz NOT NULL DEFAULT now(), "updatedAt" timestamptz NOT NULL DEFAULT now()
);
--> statement-breakpoint
CREATE INDEX verification_identifier ON auth.verification (identifier);
--> statement-breakpoint
CREATE TABLE auth."twoFactor" (
  id text PRIMARY KEY, secret text NOT NULL, "backupCodes" text NOT NULL, "userId" text NOT NULL REFERENCES auth."user" (id) ON DELETE CASCADE,
  verified boolean DEFAULT true, "failedVerificationCount" integer DEFAULT 0, "lockedUntil" timestamptz
);
--> statement-breakpoint
CREATE INDEX two_factor_user ON auth."twoFactor" ("userId");
--> statement-breakpoint
-- Tries that are counted, by all processes together; as rate-limiter-flexible keeps them.
CREATE TABLE auth.tries (key text PRIMARY KEY, points integer NOT NULL DEFAULT 0, expire bigint);
--> statement-breakpoint
GRANT USAGE ON SCHEMA auth TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA auth TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT ON practice TO culvert_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON practice_person, invitation, access_token TO culvert_app;
--> statement-breakpoint
GRANT UPDATE (name) ON practice TO culvert_app;
--> statement-breakpoint
GRANT UPDATE (email, name) ON app_user TO culvert_app;
--> statement-breakpoint
-- What a role may do of a client is written from the one table that the contract holds.
CREATE FUNCTION role_may(role text, "right" text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT false $$;
--> statement-breakpoint
-- The client of a transaction, where its person is of it: naming a client and a person is not enough for the application. Others who connect see by the
-- client alone, as the owner does when it migrates.
CREATE FUNCTION member_client() RETURNS integer LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF session_user <> 'culvert_app' THEN
    RETURN current_client();
  END IF;
  RETURN (SELECT m.client_id FROM membership m WHERE m.client_id = current_client() AND m.user_id = current_person());
END $$;
--> statement-breakpoint
-- Whether the person of a transaction may do something of its client.
CREATE FUNCTION member_may("right" text) RETURNS boolean LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
  IF session_user <> 'culvert_app' THEN
    RETURN true;
  END IF;
  RETURN coalesce((SELECT role_may(m.role, "right") FROM membership m WHERE m.client_id = current_client() AND m.user_id = current_person()), false);
END $$;
--> statement-breakpoint
DO $$
DECLARE
  found record;
BEGIN
  FOR found IN SELECT tablename, policyname, with_check FROM pg_policies
    WHERE schemaname = 'public' AND qual = '(client_id = ( SELECT current_client() AS current_client))'
      AND tablename NOT IN ('client', 'membership') ORDER BY tablename
  LOOP
    EXECUTE format('ALTER POLICY %I ON %I USING (client_id = (SELECT member_client()))%s', found.policyname, found.tablename,
      CASE WHEN found.with_check IS NULL THEN '' ELSE ' WITH CHECK (client_id = (SELECT member_client()))' END);
  END LOOP;
END $$;
--> statement-breakpoint
-- What only some may write, whatever the program does.
DO $$
DECLARE
  name text;
  needed text;
BEGIN
  FOR name, needed IN SELECT * FROM (VALUES ('posting', 'post'), ('reversal', 'post'), ('correction', 'post'), ('period', 'pair'), ('tax_filing', 'file'),
    ('pairing', 'pair'), ('paired_bank_line', 'pair'), ('paired_transfer', 'pair'), ('entry', 'pair'), ('entry_line', 'pair'), ('map_version', 'map'),
    ('route', 'map'), ('rule', 'map'), ('item', 'map'), ('tax_code', 'map'), ('tax_row', 'map'), ('product_class', 'map'), ('source_options', 'map'),
    ('bank_line', 'bring')) AS needs (name, needed)
  LOOP
    EXECUTE format('CREATE POLICY who_may_insert ON %I AS RESTRICTIVE FOR INSERT TO culvert_app WITH CHECK ((SELECT member_may(%L)))', name, needed);
  END LOOP;
END $$;
