-- The log of pulls becomes that of all jobs.
ALTER TABLE "pull" RENAME TO "job";--> statement-breakpoint
ALTER TABLE "job" RENAME COLUMN "pull_id" TO "job_id";--> statement-breakpoint
ALTER TABLE "job" RENAME COLUMN "source" TO "subject";--> statement-breakpoint
ALTER TABLE "job" RENAME CONSTRAINT "pull_client_id_pull_id_pk" TO "job_client_id_job_id_pk";--> statement-breakpoint
ALTER TABLE "job" RENAME CONSTRAINT "pull_client_id_client_client_id_fk" TO "job_client_id_client_client_id_fk";--> statement-breakpoint
ALTER INDEX "pull_by_source" RENAME TO "job_by_subject";--> statement-breakpoint
ALTER TABLE "job" DROP COLUMN "detail", ADD COLUMN "asked" jsonb, ADD COLUMN "outcome" jsonb, ADD COLUMN "refusal" jsonb;--> statement-breakpoint
ALTER TABLE "job" DROP CONSTRAINT "pull_sort", DROP CONSTRAINT "pull_state",
  ADD CONSTRAINT "job_sort" CHECK (sort IN ('pull', 'upload', 'statement', 'bank_pull', 'post', 'take_back', 'confirm', 'confirm_certain', 'compose')),
  ADD CONSTRAINT "job_state" CHECK (state IN ('waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'));--> statement-breakpoint
CREATE INDEX "job_under_way" ON "job" USING btree ("client_id") WHERE state IN ('waiting', 'running', 'cancelling');--> statement-breakpoint
CREATE TABLE "received_part" (
	"client_id" integer NOT NULL,
	"job_id" text NOT NULL,
	"part" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "received_part_client_id_job_id_part_pk" PRIMARY KEY("client_id","job_id","part")
);--> statement-breakpoint
ALTER TABLE "received_part" ADD CONSTRAINT "received_part_client_id_job_id_job_client_id_job_id_fk" FOREIGN KEY ("client_id","job_id") REFERENCES "public"."job"("client_id","job_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
-- Compressed already.
ALTER TABLE "received_part" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;--> statement-breakpoint
ALTER TABLE "received_part" ENABLE ROW LEVEL SECURITY;--> statement-breakpoint
CREATE POLICY one_client ON "received_part" USING (client_id = current_client()) WITH CHECK (client_id = current_client());--> statement-breakpoint
ALTER TABLE "received_part" FORCE ROW LEVEL SECURITY;--> statement-breakpoint
GRANT SELECT, INSERT, DELETE ON "received_part" TO culvert_app;--> statement-breakpoint
-- Removes whatever a client has, in whichever table: a table goes once nothing refers to its rows any more, so that none is ever forgotten here.
CREATE OR REPLACE FUNCTION remove_client(removed integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  left_over text[];
  held text[];
  name text;
BEGIN
  PERFORM set_config('app.client', removed::text, true);
  SELECT array_agg(c.relname ORDER BY c.relname) INTO left_over FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid
    WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition AND a.attname = 'client_id' AND NOT a.attisdropped;
  LOOP
    held := '{}';
    FOREACH name IN ARRAY left_over LOOP
      BEGIN
        EXECUTE format('DELETE FROM %I WHERE client_id = $1', name) USING removed;
      EXCEPTION WHEN foreign_key_violation THEN
        held := held || name;
      END;
    END LOOP;
    EXIT WHEN held = '{}';
    -- Postings and reversals refer to each other by generation: the latest go first.
    IF array_length(held, 1) = array_length(left_over, 1) THEN
      DELETE FROM reversal r WHERE client_id = removed
        AND NOT EXISTS (SELECT FROM posting p WHERE (p.client_id, p.source, p.key, p.currency, p.previous)
          = (r.client_id, r.source, r.key, r.currency, r.generation));
      DELETE FROM posting p WHERE client_id = removed
        AND NOT EXISTS (SELECT FROM reversal r WHERE (r.client_id, r.source, r.key, r.currency, r.generation)
          = (p.client_id, p.source, p.key, p.currency, p.generation));
      IF NOT FOUND THEN
        RAISE EXCEPTION 'rows of client % refer to each other in a circle: %', removed, held;
      END IF;
    END IF;
    left_over := held;
  END LOOP;
END $$;
