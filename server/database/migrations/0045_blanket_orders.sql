CREATE TABLE "blanket_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "blanket_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"blanket_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"price" numeric NOT NULL,
	"quantity" numeric NOT NULL,
	CONSTRAINT "blanket_lines_blanketId_line_unique" UNIQUE("blanket_id","line"),
	CONSTRAINT "blanket_lines_sound" CHECK ("blanket_lines"."quantity" > 0 and "blanket_lines"."price" >= 0)
);
--> statement-breakpoint
CREATE TABLE "blanket_orders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "blanket_orders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"supplier_id" integer NOT NULL,
	"reference" text DEFAULT '' NOT NULL,
	"from_on" date NOT NULL,
	"until_on" date NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "blanket_orders_number_unique" UNIQUE("number"),
	CONSTRAINT "blanket_orders_period" CHECK ("blanket_orders"."from_on" <= "blanket_orders"."until_on")
);
--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "blanket_line_id" integer;--> statement-breakpoint
ALTER TABLE "blanket_lines" ADD CONSTRAINT "blanket_lines_blanket_id_blanket_orders_id_fk" FOREIGN KEY ("blanket_id") REFERENCES "public"."blanket_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blanket_lines" ADD CONSTRAINT "blanket_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blanket_lines" ADD CONSTRAINT "blanket_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blanket_orders" ADD CONSTRAINT "blanket_orders_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD CONSTRAINT "purchase_lines_blanket_line_id_blanket_lines_id_fk" FOREIGN KEY ("blanket_line_id") REFERENCES "public"."blanket_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "purchase_lines_blanket" ON "purchase_lines" USING btree ("blanket_line_id");