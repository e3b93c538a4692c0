ALTER TABLE "tax_code" ADD COLUMN "country" text;--> statement-breakpoint
ALTER TABLE "tax_code" ADD COLUMN "recovery" jsonb DEFAULT '[]'::jsonb NOT NULL;