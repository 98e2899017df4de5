ALTER TABLE "items" ADD COLUMN "over_delivery" numeric;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "over_delivery" numeric;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD COLUMN "is_direct" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "replaces_line_id" integer;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "replaced_quantity" numeric;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "direct_order_id" integer;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_replaces_line_id_purchase_lines_id_fk" FOREIGN KEY ("replaces_line_id") REFERENCES "public"."purchase_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD CONSTRAINT "purchase_orders_direct_order_id_sales_orders_id_fk" FOREIGN KEY ("direct_order_id") REFERENCES "public"."sales_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "purchase_lines_replaces" ON "purchase_lines" USING btree ("replaces_line_id");--> statement-breakpoint
CREATE INDEX "purchase_lines_sales_line" ON "purchase_lines" USING btree ("sales_line_id");