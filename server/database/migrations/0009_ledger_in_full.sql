CREATE TABLE "adjustments" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "adjustments_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"posting_id" integer NOT NULL,
	"move_id" bigint NOT NULL,
	"effective_on" date NOT NULL,
	"value" bigint NOT NULL,
	"variance" bigint NOT NULL,
	"restated" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "count_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "count_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"count_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"place_id" integer NOT NULL,
	"lot_id" integer,
	"piece_id" integer,
	"status" text DEFAULT 'available' NOT NULL,
	"booked" numeric,
	"counted" numeric,
	"entered" text DEFAULT '' NOT NULL,
	"unit" text DEFAULT '' NOT NULL,
	"counted_by" integer,
	"counted_at" timestamp with time zone,
	"first" numeric,
	"recount" boolean DEFAULT false NOT NULL,
	"worth" bigint,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "count_lines_key" UNIQUE NULLS NOT DISTINCT("count_id","item_id","place_id","lot_id","piece_id","status"),
	CONSTRAINT "count_lines_sound" CHECK ("count_lines"."counted" >= 0)
);
--> statement-breakpoint
CREATE TABLE "entries" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "entries_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"posting_id" integer NOT NULL,
	"account" text NOT NULL,
	"item_id" integer,
	"site_id" integer,
	"amount" bigint NOT NULL,
	"effective_on" date NOT NULL,
	"cause_id" integer
);
--> statement-breakpoint
CREATE TABLE "pieces" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "pieces_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"lot_id" integer,
	"label" text NOT NULL,
	"original" numeric NOT NULL,
	"parent_id" integer,
	"traits" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "pieces_label_unique" UNIQUE("label"),
	CONSTRAINT "pieces_original" CHECK ("pieces"."original" > 0)
);
--> statement-breakpoint
CREATE TABLE "routes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "routes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"from_site_id" integer NOT NULL,
	"to_site_id" integer NOT NULL,
	"days" integer DEFAULT 0 NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "routes_code_unique" UNIQUE("code"),
	CONSTRAINT "routes_fromSiteId_toSiteId_unique" UNIQUE("from_site_id","to_site_id"),
	CONSTRAINT "routes_sound" CHECK ("routes"."from_site_id" <> "routes"."to_site_id" and "routes"."days" >= 0)
);
--> statement-breakpoint
CREATE TABLE "standard_costs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "standard_costs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"from_on" date NOT NULL,
	"cost" numeric NOT NULL,
	"posting_id" integer,
	CONSTRAINT "standard_costs_positive" CHECK ("standard_costs"."cost" >= 0)
);
--> statement-breakpoint
CREATE TABLE "stock_counts" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "stock_counts_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"name" text NOT NULL,
	"scope" jsonb NOT NULL,
	"blind" boolean DEFAULT true NOT NULL,
	"recount_over" bigint,
	"status" text DEFAULT 'open' NOT NULL,
	"opened_on" date NOT NULL,
	"user_id" integer NOT NULL,
	"approved_by" integer,
	"approved_on" date,
	"posting_id" integer,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "stock_counts_number_unique" UNIQUE("number")
);
--> statement-breakpoint
CREATE TABLE "transfer_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "transfer_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"transfer_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"quantity" numeric NOT NULL,
	"shipped" numeric DEFAULT '0' NOT NULL,
	"received" numeric DEFAULT '0' NOT NULL,
	"lost" numeric DEFAULT '0' NOT NULL,
	"closed_short" boolean DEFAULT false NOT NULL,
	CONSTRAINT "transfer_lines_transferId_line_unique" UNIQUE("transfer_id","line"),
	CONSTRAINT "transfer_lines_sound" CHECK ("transfer_lines"."quantity" > 0 and "transfer_lines"."received" + "transfer_lines"."lost" <= "transfer_lines"."shipped")
);
--> statement-breakpoint
CREATE TABLE "transfers" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "transfers_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"from_site_id" integer NOT NULL,
	"to_site_id" integer NOT NULL,
	"leaves_on" date NOT NULL,
	"due_on" date NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"user_id" integer NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "transfers_number_unique" UNIQUE("number")
);
--> statement-breakpoint
CREATE TABLE "invoice_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "invoice_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"invoice_id" integer NOT NULL,
	"purchase_line_id" integer NOT NULL,
	"move_id" bigint,
	"quantity" numeric NOT NULL,
	"amount" bigint NOT NULL,
	"delta" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "supplier_invoices" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "supplier_invoices_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"supplier_id" integer NOT NULL,
	"number" text NOT NULL,
	"invoiced_on" date NOT NULL,
	"posting_id" integer NOT NULL,
	"cancelled_id" integer
);
--> statement-breakpoint
ALTER TABLE "balances" DROP CONSTRAINT "balances_key";--> statement-breakpoint
ALTER TABLE "allocations" DROP CONSTRAINT "allocations_key";--> statement-breakpoint
ALTER TABLE "holdings" DROP CONSTRAINT "holdings_site_id_sites_id_fk";
--> statement-breakpoint
DROP INDEX "moves_item";--> statement-breakpoint
DROP INDEX "moves_lot";--> statement-breakpoint
ALTER TABLE "holdings" DROP CONSTRAINT "holdings_item_id_site_id_pk";--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "closed_through" date;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "correction_limits" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "balances" ADD COLUMN "piece_id" integer;--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "line_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "holdings" ADD CONSTRAINT "holdings_item_id_site_id_line_id_pk" PRIMARY KEY("item_id","site_id","line_id");--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "unit_numerator" numeric;--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "unit_denominator" numeric;--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "layers" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "last_on" date;--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "best_before_on" date;--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "traits" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "piece_id" integer;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "effective_on" date;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "restated" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "basis" text;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "weight_numerator" numeric;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "weight_denominator" numeric;--> statement-breakpoint
ALTER TABLE "moves" ADD COLUMN "reverses_id" bigint;--> statement-breakpoint
ALTER TABLE "moves" DISABLE TRIGGER USER;--> statement-breakpoint
-- What older moves did not say yet: their day, how their value came about, and which move they take back.
UPDATE "moves" m SET "effective_on" = o.effective_on,
  "reverses_id" = (SELECT w.id FROM "moves" w WHERE w.posting_id = o.reverses_id AND w.line = m.line),
  "basis" = CASE WHEN o.reverses_id IS NOT NULL THEN 'back' WHEN f.kind = 'bin' THEN 'method' WHEN f.kind = 'workshop' THEN 'share' ELSE 'stated' END,
  "weight_numerator" = CASE WHEN o.reverses_id IS NULL AND f.kind = 'workshop' THEN m.value END, "weight_denominator" = CASE WHEN o.reverses_id IS NULL AND f.kind = 'workshop' THEN 1 END
  FROM "postings" o, "places" f WHERE o.id = m.posting_id AND f.id = m.from_place_id;--> statement-breakpoint
ALTER TABLE "moves" ENABLE TRIGGER USER;--> statement-breakpoint
ALTER TABLE "moves" ALTER COLUMN "effective_on" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "moves" ALTER COLUMN "basis" SET NOT NULL;--> statement-breakpoint
UPDATE "holdings" h SET "last_on" = (SELECT max(m.effective_on) FROM "moves" m WHERE m.item_id = h.item_id);--> statement-breakpoint
INSERT INTO "places" ("code", "name", "kind") SELECT 'outside:transit', 'On the way', 'transit' WHERE EXISTS (SELECT 1 FROM "places" WHERE "kind" = 'supplier');--> statement-breakpoint
ALTER TABLE "allocations" ADD COLUMN "piece_id" integer;--> statement-breakpoint
ALTER TABLE "adjustments" ADD CONSTRAINT "adjustments_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "adjustments" ADD CONSTRAINT "adjustments_move_id_moves_id_fk" FOREIGN KEY ("move_id") REFERENCES "public"."moves"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_count_id_stock_counts_id_fk" FOREIGN KEY ("count_id") REFERENCES "public"."stock_counts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_place_id_places_id_fk" FOREIGN KEY ("place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_piece_id_pieces_id_fk" FOREIGN KEY ("piece_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "count_lines" ADD CONSTRAINT "count_lines_counted_by_users_id_fk" FOREIGN KEY ("counted_by") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entries" ADD CONSTRAINT "entries_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entries" ADD CONSTRAINT "entries_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entries" ADD CONSTRAINT "entries_cause_id_postings_id_fk" FOREIGN KEY ("cause_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pieces" ADD CONSTRAINT "pieces_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pieces" ADD CONSTRAINT "pieces_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pieces" ADD CONSTRAINT "pieces_parent_id_pieces_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_from_site_id_sites_id_fk" FOREIGN KEY ("from_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "routes" ADD CONSTRAINT "routes_to_site_id_sites_id_fk" FOREIGN KEY ("to_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "standard_costs" ADD CONSTRAINT "standard_costs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "standard_costs" ADD CONSTRAINT "standard_costs_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_counts" ADD CONSTRAINT "stock_counts_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_counts" ADD CONSTRAINT "stock_counts_approved_by_users_id_fk" FOREIGN KEY ("approved_by") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stock_counts" ADD CONSTRAINT "stock_counts_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfer_lines" ADD CONSTRAINT "transfer_lines_transfer_id_transfers_id_fk" FOREIGN KEY ("transfer_id") REFERENCES "public"."transfers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfer_lines" ADD CONSTRAINT "transfer_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfer_lines" ADD CONSTRAINT "transfer_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_from_site_id_sites_id_fk" FOREIGN KEY ("from_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_to_site_id_sites_id_fk" FOREIGN KEY ("to_site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invoice_lines" ADD CONSTRAINT "invoice_lines_invoice_id_supplier_invoices_id_fk" FOREIGN KEY ("invoice_id") REFERENCES "public"."supplier_invoices"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invoice_lines" ADD CONSTRAINT "invoice_lines_purchase_line_id_purchase_lines_id_fk" FOREIGN KEY ("purchase_line_id") REFERENCES "public"."purchase_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invoice_lines" ADD CONSTRAINT "invoice_lines_move_id_moves_id_fk" FOREIGN KEY ("move_id") REFERENCES "public"."moves"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD CONSTRAINT "supplier_invoices_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD CONSTRAINT "supplier_invoices_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD CONSTRAINT "supplier_invoices_cancelled_id_postings_id_fk" FOREIGN KEY ("cancelled_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "adjustments_move" ON "adjustments" USING btree ("move_id");--> statement-breakpoint
CREATE INDEX "adjustments_posting" ON "adjustments" USING btree ("posting_id");--> statement-breakpoint
CREATE INDEX "entries_posting" ON "entries" USING btree ("posting_id");--> statement-breakpoint
CREATE INDEX "entries_item" ON "entries" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "pieces_item" ON "pieces" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "pieces_lot" ON "pieces" USING btree ("lot_id");--> statement-breakpoint
CREATE INDEX "pieces_traits" ON "pieces" USING gin ("traits");--> statement-breakpoint
CREATE INDEX "standard_costs_item" ON "standard_costs" USING btree ("item_id","from_on");--> statement-breakpoint
CREATE INDEX "invoice_lines_move" ON "invoice_lines" USING btree ("move_id");--> statement-breakpoint
CREATE INDEX "invoice_lines_line" ON "invoice_lines" USING btree ("purchase_line_id");--> statement-breakpoint
ALTER TABLE "balances" ADD CONSTRAINT "balances_piece_id_pieces_id_fk" FOREIGN KEY ("piece_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "moves" ADD CONSTRAINT "moves_piece_id_pieces_id_fk" FOREIGN KEY ("piece_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_piece_id_pieces_id_fk" FOREIGN KEY ("piece_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "balances_place" ON "balances" USING btree ("place_id");--> statement-breakpoint
CREATE INDEX "balances_lot" ON "balances" USING btree ("lot_id") WHERE "balances"."lot_id" is not null;--> statement-breakpoint
CREATE INDEX "balances_piece" ON "balances" USING btree ("piece_id") WHERE "balances"."piece_id" is not null;--> statement-breakpoint
CREATE INDEX "holdings_site" ON "holdings" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "lots_traits" ON "lots" USING gin ("traits");--> statement-breakpoint
CREATE INDEX "moves_piece" ON "moves" USING btree ("piece_id") WHERE "moves"."piece_id" is not null;--> statement-breakpoint
CREATE INDEX "moves_day" ON "moves" USING btree ("effective_on");--> statement-breakpoint
CREATE INDEX "moves_item" ON "moves" USING btree ("item_id","effective_on");--> statement-breakpoint
CREATE INDEX "moves_lot" ON "moves" USING btree ("lot_id") WHERE "moves"."lot_id" is not null;--> statement-breakpoint
ALTER TABLE "balances" ADD CONSTRAINT "balances_key" UNIQUE NULLS NOT DISTINCT("item_id","place_id","lot_id","piece_id","status");--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_key" UNIQUE NULLS NOT DISTINCT("sales_line_id","place_id","lot_id","piece_id");