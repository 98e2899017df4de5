CREATE TABLE "batches" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "batches_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"table" text NOT NULL,
	"label" text NOT NULL,
	"user_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"state" text DEFAULT 'open' NOT NULL,
	"content" "bytea",
	"mapping" jsonb,
	"rows" integer DEFAULT 0 NOT NULL,
	"made" integer DEFAULT 0 NOT NULL,
	"changed" integer DEFAULT 0 NOT NULL,
	"progress" integer DEFAULT 0 NOT NULL,
	"stopped" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "pictures" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "pictures_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"full" "bytea" NOT NULL,
	"small" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "currencies" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "currencies_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "currencies_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "exchange_rates" (
	"currency_id" integer NOT NULL,
	"from_on" date NOT NULL,
	"rate" numeric NOT NULL,
	CONSTRAINT "exchange_rates_currency_id_from_on_pk" PRIMARY KEY("currency_id","from_on"),
	CONSTRAINT "exchange_rates_positive" CHECK ("exchange_rates"."rate" > 0)
);
--> statement-breakpoint
CREATE TABLE "item_codes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "item_codes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"code" text NOT NULL,
	"kind" text DEFAULT 'code' NOT NULL,
	"unit" text,
	"whose" text DEFAULT '' NOT NULL,
	CONSTRAINT "item_codes_itemId_code_kind_unique" UNIQUE("item_id","code","kind")
);
--> statement-breakpoint
CREATE TABLE "item_marks" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "item_marks_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"site_id" integer,
	"from_on" date,
	"until_on" date,
	"yearly" boolean DEFAULT false NOT NULL,
	"safety_stock" numeric,
	"reorder_point" numeric,
	"target_stock" numeric,
	"maximum_stock" numeric,
	CONSTRAINT "item_marks_key" UNIQUE NULLS NOT DISTINCT("item_id","site_id","from_on")
);
--> statement-breakpoint
CREATE TABLE "item_prices" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "item_prices_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"price_list_id" integer,
	"customer_id" integer,
	"unit" text NOT NULL,
	"from_quantity" numeric DEFAULT '0' NOT NULL,
	"from_on" date,
	"until_on" date,
	"price" numeric NOT NULL,
	CONSTRAINT "item_prices_key" UNIQUE NULLS NOT DISTINCT("item_id","price_list_id","customer_id","unit","from_quantity","from_on"),
	CONSTRAINT "item_prices_sound" CHECK ("item_prices"."price" >= 0 and "item_prices"."from_quantity" >= 0 and coalesce("item_prices"."from_on" <= "item_prices"."until_on", true) and ("item_prices"."price_list_id" is null or "item_prices"."customer_id" is null))
);
--> statement-breakpoint
CREATE TABLE "item_substitutes" (
	"item_id" integer NOT NULL,
	"substitute_id" integer NOT NULL,
	"rank" integer DEFAULT 1 NOT NULL,
	"numerator" numeric DEFAULT '1' NOT NULL,
	"denominator" numeric DEFAULT '1' NOT NULL,
	"both_ways" boolean DEFAULT false NOT NULL,
	CONSTRAINT "item_substitutes_item_id_substitute_id_pk" PRIMARY KEY("item_id","substitute_id"),
	CONSTRAINT "item_substitutes_sound" CHECK ("item_substitutes"."item_id" <> "item_substitutes"."substitute_id" and "item_substitutes"."numerator" > 0 and "item_substitutes"."denominator" > 0)
);
--> statement-breakpoint
CREATE TABLE "price_lists" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "price_lists_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "price_lists_code_unique" UNIQUE("code")
);
--> statement-breakpoint
ALTER TABLE "closed_days" DROP CONSTRAINT "closed_days_calendar_id_calendars_id_fk";
--> statement-breakpoint
ALTER TABLE "item_relations" DROP CONSTRAINT "item_relations_item_id_items_id_fk";
--> statement-breakpoint
ALTER TABLE "supplier_terms" DROP CONSTRAINT "supplier_terms_item_id_items_id_fk";
--> statement-breakpoint
ALTER TABLE "calendars" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "calendars" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "changes" ADD COLUMN "label" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "changes" ADD COLUMN "batch_id" integer;--> statement-breakpoint
ALTER TABLE "changes" ADD COLUMN "undoes_id" integer;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "email" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "phone" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "addresses" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "site_id" integer;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "price_list_id" integer;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "retired" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "parent_id" integer;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "number_pattern" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "defaults" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "traits" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "item_groups" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "from_site_id" integer;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "name2" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "making_unit" text;--> statement-breakpoint
UPDATE "items" SET "making_unit" = "stock_unit";--> statement-breakpoint
ALTER TABLE "items" ALTER COLUMN "making_unit" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "costing" text DEFAULT 'moving average' NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "reorder_point" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "target_stock" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "maximum_stock" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "usual_order" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "lowest_price" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "highest_price" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "purchase_text" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "sales_text" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "links" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "picture_id" integer;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "inherited" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "places" ADD COLUMN "quarantine" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "places" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "places" ADD COLUMN "retired" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "places" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "address" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "outside" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "retired" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "sites" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "supplier_terms" ADD COLUMN "tiers" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "phone" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "contact" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "currency_id" integer;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "payment_terms" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "retired" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "units" ADD COLUMN "id" integer NOT NULL GENERATED ALWAYS AS IDENTITY (sequence name "units_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1);--> statement-breakpoint
ALTER TABLE "units" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "batches" ADD CONSTRAINT "batches_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exchange_rates" ADD CONSTRAINT "exchange_rates_currency_id_currencies_id_fk" FOREIGN KEY ("currency_id") REFERENCES "public"."currencies"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_codes" ADD CONSTRAINT "item_codes_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_codes" ADD CONSTRAINT "item_codes_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_marks" ADD CONSTRAINT "item_marks_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_marks" ADD CONSTRAINT "item_marks_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_prices" ADD CONSTRAINT "item_prices_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_prices" ADD CONSTRAINT "item_prices_price_list_id_price_lists_id_fk" FOREIGN KEY ("price_list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_prices" ADD CONSTRAINT "item_prices_customer_id_customers_id_fk" FOREIGN KEY ("customer_id") REFERENCES "public"."customers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_prices" ADD CONSTRAINT "item_prices_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_substitutes" ADD CONSTRAINT "item_substitutes_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_substitutes" ADD CONSTRAINT "item_substitutes_substitute_id_items_id_fk" FOREIGN KEY ("substitute_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "batches_at" ON "batches" USING btree ("at");--> statement-breakpoint
CREATE INDEX "item_codes_code" ON "item_codes" USING btree (lower("code"));--> statement-breakpoint
ALTER TABLE "closed_days" ADD CONSTRAINT "closed_days_calendar_id_calendars_id_fk" FOREIGN KEY ("calendar_id") REFERENCES "public"."calendars"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customers" ADD CONSTRAINT "customers_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customers" ADD CONSTRAINT "customers_price_list_id_price_lists_id_fk" FOREIGN KEY ("price_list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_groups" ADD CONSTRAINT "item_groups_parent_id_item_groups_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."item_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_relations" ADD CONSTRAINT "item_relations_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_from_site_id_sites_id_fk" FOREIGN KEY ("from_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_making_unit_units_code_fk" FOREIGN KEY ("making_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_picture_id_pictures_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."pictures"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_terms" ADD CONSTRAINT "supplier_terms_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "suppliers" ADD CONSTRAINT "suppliers_currency_id_currencies_id_fk" FOREIGN KEY ("currency_id") REFERENCES "public"."currencies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "changes_entity" ON "changes" USING btree ("entity","entity_id");--> statement-breakpoint
CREATE INDEX "changes_batch" ON "changes" USING btree ("batch_id");--> statement-breakpoint
CREATE INDEX "items_group" ON "items" USING btree ("group_id");--> statement-breakpoint
CREATE INDEX "supplier_terms_supplier" ON "supplier_terms" USING btree ("supplier_id");--> statement-breakpoint
ALTER TABLE "changes" ADD CONSTRAINT "changes_undoesId_unique" UNIQUE("undoes_id");--> statement-breakpoint
ALTER TABLE "units" ADD CONSTRAINT "units_id_unique" UNIQUE("id");--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_marks" CHECK ("items"."safety_stock" <= coalesce("items"."reorder_point", "items"."target_stock", "items"."maximum_stock", "items"."safety_stock") and coalesce("items"."reorder_point" <= coalesce("items"."target_stock", "items"."maximum_stock"), true) and coalesce("items"."target_stock" <= "items"."maximum_stock", true));--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_prices" CHECK (coalesce("items"."lowest_price" <= "items"."highest_price", true));--> statement-breakpoint
ALTER TABLE "units" ADD CONSTRAINT "units_ratio" CHECK (("units"."dimension" = 'pack') = ("units"."numerator" is null) and coalesce("units"."numerator" > 0 and "units"."denominator" > 0, true));