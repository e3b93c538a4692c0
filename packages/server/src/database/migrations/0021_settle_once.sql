ALTER TABLE "settlement" ADD COLUMN "touched" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "settlement_touched" ON "settlement" USING btree ("client_id") WHERE touched;