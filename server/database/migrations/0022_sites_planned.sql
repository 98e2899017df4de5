ALTER TABLE "planned_orders" ADD COLUMN "site_id" integer;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "site_id" integer;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD CONSTRAINT "planned_orders_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD CONSTRAINT "purchase_orders_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;