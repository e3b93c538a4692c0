ALTER TABLE "statement" ALTER COLUMN "at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "client" ALTER COLUMN "created_at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "client_summary" ALTER COLUMN "at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "entry" ALTER COLUMN "posted_at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "job" ALTER COLUMN "started_at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "map_version" ALTER COLUMN "at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "tax_filing" ALTER COLUMN "at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "act" ALTER COLUMN "at" SET DEFAULT clock_now();--> statement-breakpoint
ALTER TABLE "column_mapping" ALTER COLUMN "at" SET DEFAULT clock_now();