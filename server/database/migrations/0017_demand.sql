CREATE TABLE "forecast_items" (
	"forecast_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"method" text,
	"parameters" jsonb,
	"result" jsonb,
	CONSTRAINT "forecast_items_forecast_id_item_id_pk" PRIMARY KEY("forecast_id","item_id")
);
--> statement-breakpoint
CREATE TABLE "history_borrowings" (
	"item_id" integer PRIMARY KEY NOT NULL,
	"from_item_id" integer NOT NULL,
	"share" numeric NOT NULL,
	"until_on" date NOT NULL,
	CONSTRAINT "history_borrowings_sound" CHECK ("history_borrowings"."share" > 0 and "history_borrowings"."item_id" <> "history_borrowings"."from_item_id")
);
--> statement-breakpoint
CREATE TABLE "history_corrections" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "history_corrections_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"first_on" date NOT NULL,
	"last_on" date NOT NULL,
	"quantity" numeric NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"user_id" integer NOT NULL,
	CONSTRAINT "history_corrections_itemId_firstOn_unique" UNIQUE("item_id","first_on"),
	CONSTRAINT "history_corrections_sound" CHECK ("history_corrections"."quantity" >= 0 and "history_corrections"."last_on" >= "history_corrections"."first_on")
);
--> statement-breakpoint
CREATE TABLE "past_sales" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "past_sales_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"customer_id" integer,
	"site_id" integer,
	"sold_on" date NOT NULL,
	"quantity" numeric NOT NULL,
	"value" bigint NOT NULL,
	"cost" bigint,
	"batch_id" integer,
	CONSTRAINT "past_sales_quantity" CHECK ("past_sales"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "shop_orders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "shop_orders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"placed_on" date NOT NULL,
	"buyer" text NOT NULL,
	"email" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"lines" jsonb NOT NULL,
	CONSTRAINT "shop_orders_number_unique" UNIQUE("number")
);
--> statement-breakpoint
ALTER TABLE "forecast_cells" DROP CONSTRAINT "forecast_cells_forecast_id_forecasts_id_fk";
--> statement-breakpoint
ALTER TABLE "forecasts" ALTER COLUMN "weeks" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "forecast_cells" ADD COLUMN "computed" numeric;--> statement-breakpoint
ALTER TABLE "forecasts" ADD COLUMN "step" text DEFAULT 'week' NOT NULL;--> statement-breakpoint
ALTER TABLE "forecasts" ADD COLUMN "last_on" date;--> statement-breakpoint
UPDATE "forecasts" SET "last_on" = "first_on" + "weeks" * 7 - 1;--> statement-breakpoint
ALTER TABLE "forecasts" ALTER COLUMN "last_on" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "forecasts" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sales_lines" ADD COLUMN "stock_price" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD COLUMN "site_id" integer;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD COLUMN "priority" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD COLUMN "outside_ref" text;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "forecast_ids" integer[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "forecast_items" ADD CONSTRAINT "forecast_items_forecast_id_forecasts_id_fk" FOREIGN KEY ("forecast_id") REFERENCES "public"."forecasts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_items" ADD CONSTRAINT "forecast_items_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "history_borrowings" ADD CONSTRAINT "history_borrowings_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "history_borrowings" ADD CONSTRAINT "history_borrowings_from_item_id_items_id_fk" FOREIGN KEY ("from_item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "history_corrections" ADD CONSTRAINT "history_corrections_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "history_corrections" ADD CONSTRAINT "history_corrections_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "past_sales" ADD CONSTRAINT "past_sales_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "past_sales" ADD CONSTRAINT "past_sales_customer_id_customers_id_fk" FOREIGN KEY ("customer_id") REFERENCES "public"."customers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "past_sales" ADD CONSTRAINT "past_sales_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "past_sales" ADD CONSTRAINT "past_sales_batch_id_batches_id_fk" FOREIGN KEY ("batch_id") REFERENCES "public"."batches"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "past_sales_item" ON "past_sales" USING btree ("item_id","sold_on");--> statement-breakpoint
CREATE INDEX "past_sales_batch" ON "past_sales" USING btree ("batch_id");--> statement-breakpoint
ALTER TABLE "forecast_cells" ADD CONSTRAINT "forecast_cells_forecast_id_forecasts_id_fk" FOREIGN KEY ("forecast_id") REFERENCES "public"."forecasts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD CONSTRAINT "sales_orders_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD CONSTRAINT "sales_orders_outsideRef_unique" UNIQUE("outside_ref");--> statement-breakpoint
UPDATE "plans" SET "forecast_ids" = ARRAY["forecast_id"] WHERE "forecast_id" IS NOT NULL;--> statement-breakpoint
UPDATE "sales_lines" SET "stock_price" = CASE WHEN "entered" ~ '^[0-9]+([.][0-9]+)?$' THEN round("price" * "entered"::numeric / "quantity", 12) ELSE "price" END;
