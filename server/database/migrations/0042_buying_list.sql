CREATE TABLE "buying_wants" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "buying_wants_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"quantity" numeric NOT NULL,
	"needed_on" date NOT NULL,
	"site_id" integer,
	"note" text DEFAULT '' NOT NULL,
	"sales_line_id" integer,
	"user_id" integer NOT NULL,
	"noted_on" date NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"order_id" integer,
	CONSTRAINT "buying_wants_sound" CHECK ("buying_wants"."quantity" > 0)
);
--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "minimum_order" numeric;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "free_freight" numeric;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "sales_line_id" integer;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_sales_line_id_sales_lines_id_fk" FOREIGN KEY ("sales_line_id") REFERENCES "public"."sales_lines"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "buying_wants" ADD CONSTRAINT "buying_wants_order_id_purchase_orders_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."purchase_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "buying_wants_open" ON "buying_wants" USING btree ("status");--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_sales_line_id_sales_lines_id_fk" FOREIGN KEY ("sales_line_id") REFERENCES "public"."sales_lines"("id") ON DELETE set null ON UPDATE no action;