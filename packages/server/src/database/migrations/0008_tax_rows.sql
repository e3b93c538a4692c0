CREATE TABLE "product_class" (
	"client_id" integer NOT NULL,
	"sku" text DEFAULT '' NOT NULL,
	"category" text DEFAULT '' NOT NULL,
	"class" text NOT NULL,
	CONSTRAINT "product_class_client_id_sku_category_pk" PRIMARY KEY("client_id","sku","category"),
	CONSTRAINT "product_class_names_one" CHECK ((sku = '') <> (category = ''))
);
--> statement-breakpoint
CREATE TABLE "tax_row" (
	"client_id" integer NOT NULL,
	"row_id" integer NOT NULL,
	"source" text,
	"kind" text,
	"label" text,
	"region" text,
	"class" text,
	"from" date,
	"code" text,
	"reason" text DEFAULT '' NOT NULL,
	CONSTRAINT "tax_row_client_id_row_id_pk" PRIMARY KEY("client_id","row_id")
);
--> statement-breakpoint
ALTER TABLE "client" ADD COLUMN "tax_by" text DEFAULT 'routes' NOT NULL;--> statement-breakpoint
ALTER TABLE "map_version" ADD COLUMN "tax_rows" jsonb;--> statement-breakpoint
ALTER TABLE "map_version" ADD COLUMN "classes" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "product_class" ADD CONSTRAINT "product_class_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tax_row" ADD CONSTRAINT "tax_row_client_id_client_client_id_fk" FOREIGN KEY ("client_id") REFERENCES "public"."client"("client_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tax_row" ADD CONSTRAINT "tax_row_client_id_code_tax_code_client_id_code_fk" FOREIGN KEY ("client_id","code") REFERENCES "public"."tax_code"("client_id","code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "activity_by_related" ON "activity_line" USING btree ("client_id","source","related_id") WHERE kind IN ('refund', 'shipping_refund', 'tax_refund', 'discount') AND related_id IS NOT NULL;--> statement-breakpoint
ALTER TABLE "client" ADD CONSTRAINT "client_tax_by" CHECK (tax_by IN ('routes', 'rows'));