CREATE TABLE "quotation_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quotation_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"quotation_id" integer NOT NULL,
	"line_id" integer NOT NULL,
	"unit" text NOT NULL,
	"price" numeric NOT NULL,
	"tiers" jsonb DEFAULT '[]' NOT NULL,
	"minimum" numeric DEFAULT '0' NOT NULL,
	"multiple" numeric DEFAULT '0' NOT NULL,
	"lead_days" integer NOT NULL,
	"order_id" integer,
	CONSTRAINT "quotation_lines_quotationId_lineId_unique" UNIQUE("quotation_id","line_id"),
	CONSTRAINT "quotation_lines_sound" CHECK ("quotation_lines"."price" >= 0 and "quotation_lines"."minimum" >= 0 and "quotation_lines"."multiple" >= 0 and "quotation_lines"."lead_days" >= 0)
);
--> statement-breakpoint
CREATE TABLE "quotation_request_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quotation_request_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"request_id" integer NOT NULL,
	"line" integer NOT NULL,
	"item_id" integer NOT NULL,
	"entered" text NOT NULL,
	"unit" text NOT NULL,
	"quantity" numeric NOT NULL,
	"needed_on" date NOT NULL,
	"want_id" integer,
	CONSTRAINT "quotation_request_lines_requestId_line_unique" UNIQUE("request_id","line"),
	CONSTRAINT "quotation_request_lines_sound" CHECK ("quotation_request_lines"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "quotation_requests" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quotation_requests_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"asked_on" date NOT NULL,
	"answer_by" date NOT NULL,
	"site_id" integer,
	"status" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "quotation_requests_number_unique" UNIQUE("number")
);
--> statement-breakpoint
CREATE TABLE "quotations" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quotations_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"request_id" integer NOT NULL,
	"supplier_id" integer NOT NULL,
	"sent_on" date,
	"reminded_on" date,
	"answered_on" date,
	"is_declined" boolean DEFAULT false NOT NULL,
	"reference" text DEFAULT '' NOT NULL,
	"valid_until" date,
	"charges" jsonb DEFAULT '[]' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "quotations_requestId_supplierId_unique" UNIQUE("request_id","supplier_id")
);
--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "list_price" numeric;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "discount_percent" numeric;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "charges" jsonb DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE "quotation_lines" ADD CONSTRAINT "quotation_lines_quotation_id_quotations_id_fk" FOREIGN KEY ("quotation_id") REFERENCES "public"."quotations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_lines" ADD CONSTRAINT "quotation_lines_line_id_quotation_request_lines_id_fk" FOREIGN KEY ("line_id") REFERENCES "public"."quotation_request_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_lines" ADD CONSTRAINT "quotation_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_lines" ADD CONSTRAINT "quotation_lines_order_id_purchase_orders_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."purchase_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_request_lines" ADD CONSTRAINT "quotation_request_lines_request_id_quotation_requests_id_fk" FOREIGN KEY ("request_id") REFERENCES "public"."quotation_requests"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_request_lines" ADD CONSTRAINT "quotation_request_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_request_lines" ADD CONSTRAINT "quotation_request_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_request_lines" ADD CONSTRAINT "quotation_request_lines_want_id_buying_wants_id_fk" FOREIGN KEY ("want_id") REFERENCES "public"."buying_wants"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotation_requests" ADD CONSTRAINT "quotation_requests_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotations" ADD CONSTRAINT "quotations_request_id_quotation_requests_id_fk" FOREIGN KEY ("request_id") REFERENCES "public"."quotation_requests"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotations" ADD CONSTRAINT "quotations_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "quotations_supplier" ON "quotations" USING btree ("supplier_id");