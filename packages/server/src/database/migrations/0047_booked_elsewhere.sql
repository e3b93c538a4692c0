ALTER TABLE "settlement" DROP CONSTRAINT "settlement_state";--> statement-breakpoint
ALTER TABLE "settlement" ADD COLUMN "payouts_only" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "settlement" ADD CONSTRAINT "settlement_state" CHECK (state IN ('blocked', 'proposed', 'posted', 'set_aside', 'elsewhere'));--> statement-breakpoint
CREATE OR REPLACE VIEW settlement_as_of WITH (security_invoker = true) AS
  SELECT p.client_id, p.source, p.key, p.currency, p.generation, s.corrections, p.map_version,
    s.state = 'posted' AND s.generation = p.generation AS stands,
    greatest(p.pull_no, (SELECT max(c.pull_no) FROM correction c WHERE c.client_id = p.client_id AND c.source = p.source
      AND c.key = p.key AND c.currency = p.currency AND c.generation = p.generation)) AS as_of,
    s.payouts_only
  FROM settlement s JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key
    AND p.currency = s.currency;
