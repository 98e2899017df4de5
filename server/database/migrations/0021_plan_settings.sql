ALTER TABLE "items" ADD COLUMN "order_rule" text DEFAULT 'exact' NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "cover_days" integer;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "order_cost" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "holding_percent" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "maximum_order" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "pull_in_days" integer;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD COLUMN "from_site_id" integer;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "scope" jsonb DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "changes" jsonb DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD CONSTRAINT "planned_orders_from_site_id_sites_id_fk" FOREIGN KEY ("from_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;