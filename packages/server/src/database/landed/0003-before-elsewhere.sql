-- From 0002 and 0003 as they were before it was kept whether a map sends anything elsewhere, to what they came to be.
ALTER TABLE "map_version" ADD COLUMN "any_elsewhere" boolean GENERATED ALWAYS AS (routes @> '[{"elsewhere": true}]') STORED;
CREATE INDEX "settlement_by_source" ON "settlement" USING btree ("client_id","source","entry_date","key");
ALTER TABLE activity_line NO FORCE ROW LEVEL SECURITY;
ALTER TABLE tender_label NO FORCE ROW LEVEL SECURITY;
INSERT INTO tender_label (client_id, channel, label)
SELECT DISTINCT client_id, source, gateway FROM activity_line
WHERE kind IN ('tender', 'tender_returned') AND gateway IS NOT NULL
ON CONFLICT DO NOTHING;
ALTER TABLE activity_line FORCE ROW LEVEL SECURITY;
ALTER TABLE tender_label FORCE ROW LEVEL SECURITY;
