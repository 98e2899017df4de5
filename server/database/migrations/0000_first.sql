CREATE TABLE "answers" (
	"key" uuid PRIMARY KEY NOT NULL,
	"user_id" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"answer" jsonb
);
--> statement-breakpoint
CREATE TABLE "calendars" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "calendars_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"weekdays" boolean[] DEFAULT '{t,t,t,t,t,f,f}' NOT NULL,
	CONSTRAINT "calendars_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "changes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "changes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"user_id" integer,
	"entity" text NOT NULL,
	"entity_id" text NOT NULL,
	"before" jsonb,
	"after" jsonb
);
--> statement-breakpoint
CREATE TABLE "closed_days" (
	"calendar_id" integer NOT NULL,
	"day" date NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "closed_days_calendar_id_day_pk" PRIMARY KEY("calendar_id","day")
);
--> statement-breakpoint
CREATE TABLE "company" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"currency" text DEFAULT 'EUR' NOT NULL,
	"minor_digits" integer DEFAULT 2 NOT NULL,
	"decimal_sign" text DEFAULT '.' NOT NULL,
	"fixed_day" date,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "counters" (
	"name" text PRIMARY KEY NOT NULL,
	"next" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "users" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "users_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"email" text NOT NULL,
	"name" text NOT NULL,
	"role" text NOT NULL,
	"password_hash" text NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	CONSTRAINT "users_email_unique" UNIQUE("email")
);
--> statement-breakpoint
CREATE TABLE "customers" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "customers_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"address" text DEFAULT '' NOT NULL,
	CONSTRAINT "customers_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "item_groups" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "item_groups_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "item_groups_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "item_relations" (
	"item_id" integer NOT NULL,
	"unit" text NOT NULL,
	"of_unit" text NOT NULL,
	"numerator" numeric NOT NULL,
	"denominator" numeric NOT NULL,
	CONSTRAINT "item_relations_item_id_unit_of_unit_pk" PRIMARY KEY("item_id","unit","of_unit"),
	CONSTRAINT "item_relations_positive" CHECK ("item_relations"."numerator" > 0 and "item_relations"."denominator" > 0)
);
--> statement-breakpoint
CREATE TABLE "items" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "items_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"group_id" integer NOT NULL,
	"kind" text DEFAULT 'stocked' NOT NULL,
	"status" text DEFAULT 'active' NOT NULL,
	"source" text DEFAULT 'bought' NOT NULL,
	"stock_unit" text NOT NULL,
	"buying_unit" text NOT NULL,
	"selling_unit" text NOT NULL,
	"finest_step" numeric NOT NULL,
	"lead_days" integer DEFAULT 0 NOT NULL,
	"tracking" text DEFAULT 'none' NOT NULL,
	"safety_stock" numeric DEFAULT '0' NOT NULL,
	"shelf_life_days" integer,
	"price" numeric,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "items_code_unique" UNIQUE("code"),
	CONSTRAINT "items_finest_step_positive" CHECK ("items"."finest_step" > 0),
	CONSTRAINT "items_safety_stock" CHECK ("items"."safety_stock" >= 0),
	CONSTRAINT "items_lead_days" CHECK ("items"."lead_days" >= 0)
);
--> statement-breakpoint
CREATE TABLE "places" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "places_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer,
	"code" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"pick_order" integer DEFAULT 0 NOT NULL,
	"closed_to_picking" boolean DEFAULT false NOT NULL,
	"closed_to_receiving" boolean DEFAULT false NOT NULL,
	CONSTRAINT "places_code_unique" UNIQUE("code"),
	CONSTRAINT "places_bin_has_site" CHECK (("places"."kind" = 'bin') = ("places"."site_id" is not null))
);
--> statement-breakpoint
CREATE TABLE "sites" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "sites_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"calendar_id" integer,
	CONSTRAINT "sites_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "supplier_terms" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "supplier_terms_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"supplier_id" integer NOT NULL,
	"rank" integer DEFAULT 1 NOT NULL,
	"supplier_code" text DEFAULT '' NOT NULL,
	"unit" text NOT NULL,
	"price" numeric NOT NULL,
	"minimum" numeric DEFAULT '0' NOT NULL,
	"multiple" numeric DEFAULT '0' NOT NULL,
	"lead_days" integer NOT NULL,
	CONSTRAINT "supplier_terms_itemId_supplierId_unique" UNIQUE("item_id","supplier_id"),
	CONSTRAINT "supplier_terms_sound" CHECK ("supplier_terms"."price" >= 0 and "supplier_terms"."minimum" >= 0 and "supplier_terms"."multiple" >= 0 and "supplier_terms"."lead_days" >= 0)
);
--> statement-breakpoint
CREATE TABLE "suppliers" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "suppliers_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"email" text DEFAULT '' NOT NULL,
	"address" text DEFAULT '' NOT NULL,
	"calendar_id" integer,
	CONSTRAINT "suppliers_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "units" (
	"code" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"plural" text NOT NULL,
	"symbol" text NOT NULL,
	"dimension" text NOT NULL,
	"numerator" numeric,
	"denominator" numeric,
	"decimals" integer DEFAULT 2 NOT NULL,
	"rec20" text,
	"own" boolean DEFAULT false NOT NULL,
	"retired" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "bom_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "bom_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"bom_id" integer NOT NULL,
	"position" integer NOT NULL,
	"item_id" integer NOT NULL,
	"numerator" numeric NOT NULL,
	"denominator" numeric DEFAULT '1' NOT NULL,
	"unit" text NOT NULL,
	"basis" text DEFAULT 'per batch' NOT NULL,
	"scrap" numeric DEFAULT '0' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "bom_lines_bomId_position_unique" UNIQUE("bom_id","position"),
	CONSTRAINT "bom_lines_sound" CHECK ("bom_lines"."numerator" > 0 and "bom_lines"."denominator" > 0 and "bom_lines"."scrap" >= 0 and "bom_lines"."scrap" < 1)
);
--> statement-breakpoint
CREATE TABLE "boms" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "boms_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL,
	"current" boolean DEFAULT true NOT NULL,
	"batch_size" numeric NOT NULL,
	"batch_unit" text NOT NULL,
	"output_yield" numeric DEFAULT '1' NOT NULL,
	"work_minutes" numeric DEFAULT '0' NOT NULL,
	"work_rate" numeric DEFAULT '0' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "boms_itemId_revision_unique" UNIQUE("item_id","revision"),
	CONSTRAINT "boms_sound" CHECK ("boms"."batch_size" > 0 and "boms"."output_yield" > 0 and "boms"."output_yield" <= 1 and "boms"."work_minutes" >= 0 and "boms"."work_rate" >= 0)
);
--> statement-breakpoint
CREATE TABLE "recipe_outputs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recipe_outputs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"recipe_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"quantity" numeric NOT NULL,
	"unit" text NOT NULL,
	"share" numeric DEFAULT '1' NOT NULL,
	CONSTRAINT "recipe_outputs_recipeId_itemId_unique" UNIQUE("recipe_id","item_id"),
	CONSTRAINT "recipe_outputs_sound" CHECK ("recipe_outputs"."quantity" > 0 and "recipe_outputs"."share" >= 0)
);
--> statement-breakpoint
CREATE TABLE "recipes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recipes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"take" numeric NOT NULL,
	"unit" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "recipes_itemId_unique" UNIQUE("item_id"),
	CONSTRAINT "recipes_take" CHECK ("recipes"."take" > 0)
);
--> statement-breakpoint
CREATE TABLE "balances" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "balances_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"place_id" integer NOT NULL,
	"lot_id" integer,
	"status" text DEFAULT 'available' NOT NULL,
	"on_hand" numeric DEFAULT '0' NOT NULL,
	"allocated" numeric DEFAULT '0' NOT NULL,
	CONSTRAINT "balances_key" UNIQUE NULLS NOT DISTINCT("item_id","place_id","lot_id","status"),
	CONSTRAINT "balances_on_hand" CHECK ("balances"."on_hand" >= 0),
	CONSTRAINT "balances_allocated" CHECK ("balances"."allocated" >= 0 and "balances"."allocated" <= "balances"."on_hand")
);
--> statement-breakpoint
CREATE TABLE "holdings" (
	"item_id" integer NOT NULL,
	"site_id" integer NOT NULL,
	"quantity" numeric DEFAULT '0' NOT NULL,
	"value" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "holdings_item_id_site_id_pk" PRIMARY KEY("item_id","site_id"),
	CONSTRAINT "holdings_sound" CHECK ("holdings"."quantity" >= 0 and "holdings"."value" >= 0)
);
--> statement-breakpoint
CREATE TABLE "lots" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "lots_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"number" text NOT NULL,
	"supplier_number" text DEFAULT '' NOT NULL,
	"received_on" date,
	"made_on" date,
	"expires_on" date,
	CONSTRAINT "lots_itemId_number_unique" UNIQUE("item_id","number")
);
--> statement-breakpoint
CREATE TABLE "moves" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "moves_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"posting_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"lot_id" integer,
	"quantity" numeric NOT NULL,
	"from_place_id" integer NOT NULL,
	"from_status" text,
	"to_place_id" integer NOT NULL,
	"to_status" text,
	"entered_quantity" text NOT NULL,
	"entered_unit" text NOT NULL,
	"residue_numerator" numeric DEFAULT '0' NOT NULL,
	"residue_denominator" numeric DEFAULT '1' NOT NULL,
	"value" bigint NOT NULL,
	"variance" bigint DEFAULT 0 NOT NULL,
	"document_line_id" integer,
	CONSTRAINT "moves_postingId_line_unique" UNIQUE("posting_id","line"),
	CONSTRAINT "moves_quantity_positive" CHECK ("moves"."quantity" > 0),
	CONSTRAINT "moves_value" CHECK ("moves"."value" >= 0)
);
--> statement-breakpoint
CREATE TABLE "postings" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "postings_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"document_kind" text,
	"document_id" integer,
	"label" text NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"effective_on" date NOT NULL,
	"recorded_at" timestamp with time zone DEFAULT now() NOT NULL,
	"user_id" integer NOT NULL,
	"work_value" bigint DEFAULT 0 NOT NULL,
	"reverses_id" integer,
	CONSTRAINT "postings_reversesId_unique" UNIQUE("reverses_id")
);
--> statement-breakpoint
CREATE TABLE "allocations" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "allocations_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"sales_line_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"place_id" integer NOT NULL,
	"lot_id" integer,
	"quantity" numeric NOT NULL,
	CONSTRAINT "allocations_key" UNIQUE NULLS NOT DISTINCT("sales_line_id","place_id","lot_id"),
	CONSTRAINT "allocations_quantity" CHECK ("allocations"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "forecast_cells" (
	"forecast_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"starts_on" date NOT NULL,
	"quantity" numeric NOT NULL,
	CONSTRAINT "forecast_cells_forecast_id_item_id_starts_on_pk" PRIMARY KEY("forecast_id","item_id","starts_on"),
	CONSTRAINT "forecast_cells_quantity" CHECK ("forecast_cells"."quantity" >= 0)
);
--> statement-breakpoint
CREATE TABLE "forecasts" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "forecasts_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"first_on" date NOT NULL,
	"weeks" integer NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "forecasts_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "sales_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "sales_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"order_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"quantity" numeric NOT NULL,
	"price" numeric DEFAULT '0' NOT NULL,
	"shipped" numeric DEFAULT '0' NOT NULL,
	CONSTRAINT "sales_lines_orderId_line_unique" UNIQUE("order_id","line"),
	CONSTRAINT "sales_lines_sound" CHECK ("sales_lines"."quantity" > 0 and "sales_lines"."shipped" >= 0 and "sales_lines"."shipped" <= "sales_lines"."quantity" and "sales_lines"."price" >= 0)
);
--> statement-breakpoint
CREATE TABLE "sales_orders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "sales_orders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"customer_id" integer NOT NULL,
	"ordered_on" date NOT NULL,
	"due_on" date NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "sales_orders_number_unique" UNIQUE("number")
);
--> statement-breakpoint
CREATE TABLE "break_downs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "break_downs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"recipe_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"times" numeric NOT NULL,
	"due_on" date NOT NULL,
	"status" text DEFAULT 'planned' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "break_downs_number_unique" UNIQUE("number"),
	CONSTRAINT "break_downs_times" CHECK ("break_downs"."times" > 0)
);
--> statement-breakpoint
CREATE TABLE "builds" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "builds_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"item_id" integer NOT NULL,
	"bom_id" integer NOT NULL,
	"quantity" numeric NOT NULL,
	"release_on" date NOT NULL,
	"due_on" date NOT NULL,
	"status" text DEFAULT 'planned' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "builds_number_unique" UNIQUE("number"),
	CONSTRAINT "builds_quantity" CHECK ("builds"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "planned_orders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "planned_orders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"plan_id" integer NOT NULL,
	"ref" text NOT NULL,
	"item_id" integer NOT NULL,
	"kind" text NOT NULL,
	"quantity" numeric NOT NULL,
	"release_on" date NOT NULL,
	"due_on" date NOT NULL,
	"late_by" integer DEFAULT 0 NOT NULL,
	"promised_on" date NOT NULL,
	"supplier_id" integer,
	"state" text DEFAULT 'proposed' NOT NULL,
	"document_kind" text,
	"document_id" integer,
	CONSTRAINT "planned_orders_planId_ref_unique" UNIQUE("plan_id","ref")
);
--> statement-breakpoint
CREATE TABLE "plans" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "plans_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"starts_on" date NOT NULL,
	"ends_on" date NOT NULL,
	"demand_rule" text NOT NULL,
	"forecast_id" integer,
	"ran_at" timestamp with time zone,
	"user_id" integer NOT NULL,
	"input" jsonb,
	"output" jsonb,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "purchase_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "purchase_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"order_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"price" numeric NOT NULL,
	"quantity" numeric NOT NULL,
	"received" numeric DEFAULT '0' NOT NULL,
	"due_on" date NOT NULL,
	"closed_short" boolean DEFAULT false NOT NULL,
	CONSTRAINT "purchase_lines_orderId_line_unique" UNIQUE("order_id","line"),
	CONSTRAINT "purchase_lines_sound" CHECK ("purchase_lines"."quantity" > 0 and "purchase_lines"."received" >= 0 and "purchase_lines"."price" >= 0)
);
--> statement-breakpoint
CREATE TABLE "purchase_orders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "purchase_orders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"supplier_id" integer NOT NULL,
	"ordered_on" date NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "purchase_orders_number_unique" UNIQUE("number")
);
--> statement-breakpoint
ALTER TABLE "answers" ADD CONSTRAINT "answers_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "changes" ADD CONSTRAINT "changes_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "closed_days" ADD CONSTRAINT "closed_days_calendar_id_calendars_id_fk" FOREIGN KEY ("calendar_id") REFERENCES "public"."calendars"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_relations" ADD CONSTRAINT "item_relations_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_relations" ADD CONSTRAINT "item_relations_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "item_relations" ADD CONSTRAINT "item_relations_of_unit_units_code_fk" FOREIGN KEY ("of_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_group_id_item_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."item_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_stock_unit_units_code_fk" FOREIGN KEY ("stock_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_buying_unit_units_code_fk" FOREIGN KEY ("buying_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_selling_unit_units_code_fk" FOREIGN KEY ("selling_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "places" ADD CONSTRAINT "places_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sites" ADD CONSTRAINT "sites_calendar_id_calendars_id_fk" FOREIGN KEY ("calendar_id") REFERENCES "public"."calendars"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_terms" ADD CONSTRAINT "supplier_terms_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_terms" ADD CONSTRAINT "supplier_terms_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_terms" ADD CONSTRAINT "supplier_terms_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "suppliers" ADD CONSTRAINT "suppliers_calendar_id_calendars_id_fk" FOREIGN KEY ("calendar_id") REFERENCES "public"."calendars"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_lines" ADD CONSTRAINT "bom_lines_bom_id_boms_id_fk" FOREIGN KEY ("bom_id") REFERENCES "public"."boms"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_lines" ADD CONSTRAINT "bom_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_lines" ADD CONSTRAINT "bom_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boms" ADD CONSTRAINT "boms_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boms" ADD CONSTRAINT "boms_batch_unit_units_code_fk" FOREIGN KEY ("batch_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD CONSTRAINT "recipe_outputs_recipe_id_recipes_id_fk" FOREIGN KEY ("recipe_id") REFERENCES "public"."recipes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD CONSTRAINT "recipe_outputs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD CONSTRAINT "recipe_outputs_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "balances" ADD CONSTRAINT "balances_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "balances" ADD CONSTRAINT "balances_place_id_places_id_fk" FOREIGN KEY ("place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "balances" ADD CONSTRAINT "balances_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "holdings" ADD CONSTRAINT "holdings_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "holdings" ADD CONSTRAINT "holdings_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "lots" ADD CONSTRAINT "lots_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_from_place_id_places_id_fk" FOREIGN KEY ("from_place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_to_place_id_places_id_fk" FOREIGN KEY ("to_place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "postings" ADD CONSTRAINT "postings_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_sales_line_id_sales_lines_id_fk" FOREIGN KEY ("sales_line_id") REFERENCES "public"."sales_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_place_id_places_id_fk" FOREIGN KEY ("place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_cells" ADD CONSTRAINT "forecast_cells_forecast_id_forecasts_id_fk" FOREIGN KEY ("forecast_id") REFERENCES "public"."forecasts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "forecast_cells" ADD CONSTRAINT "forecast_cells_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_lines" ADD CONSTRAINT "sales_lines_order_id_sales_orders_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."sales_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_lines" ADD CONSTRAINT "sales_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_lines" ADD CONSTRAINT "sales_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sales_orders" ADD CONSTRAINT "sales_orders_customer_id_customers_id_fk" FOREIGN KEY ("customer_id") REFERENCES "public"."customers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_downs" ADD CONSTRAINT "break_downs_recipe_id_recipes_id_fk" FOREIGN KEY ("recipe_id") REFERENCES "public"."recipes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_downs" ADD CONSTRAINT "break_downs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "builds" ADD CONSTRAINT "builds_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "builds" ADD CONSTRAINT "builds_bom_id_boms_id_fk" FOREIGN KEY ("bom_id") REFERENCES "public"."boms"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD CONSTRAINT "planned_orders_plan_id_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."plans"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD CONSTRAINT "planned_orders_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "planned_orders" ADD CONSTRAINT "planned_orders_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "plans" ADD CONSTRAINT "plans_forecast_id_forecasts_id_fk" FOREIGN KEY ("forecast_id") REFERENCES "public"."forecasts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "plans" ADD CONSTRAINT "plans_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_order_id_purchase_orders_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."purchase_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD CONSTRAINT "purchase_orders_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "items_name" ON "items" USING btree (lower("name"));--> statement-breakpoint
CREATE INDEX "moves_item" ON "moves" USING btree ("item_id","id");--> statement-breakpoint
CREATE INDEX "moves_lot" ON "moves" USING btree ("lot_id");--> statement-breakpoint
CREATE INDEX "postings_document" ON "postings" USING btree ("document_kind","document_id");--> statement-breakpoint
CREATE INDEX "planned_orders_plan" ON "planned_orders" USING btree ("plan_id","due_on");