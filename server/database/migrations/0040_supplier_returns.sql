CREATE TABLE "supplier_returns" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "supplier_returns_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"order_id" integer NOT NULL,
	"line_id" integer NOT NULL,
	"posting_id" integer,
	"quantity" numeric NOT NULL,
	"reason" text NOT NULL,
	"reference" text DEFAULT '' NOT NULL,
	"expects" text NOT NULL,
	"expected" bigint NOT NULL,
	"is_reversed" boolean DEFAULT false NOT NULL,
	CONSTRAINT "supplier_returns_number_unique" UNIQUE("number"),
	CONSTRAINT "supplier_returns_sound" CHECK ("supplier_returns"."quantity" > 0)
);
--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD COLUMN "return_id" integer;--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD COLUMN "returned" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "supplier_returns" ADD CONSTRAINT "supplier_returns_order_id_purchase_orders_id_fk" FOREIGN KEY ("order_id") REFERENCES "public"."purchase_orders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_returns" ADD CONSTRAINT "supplier_returns_line_id_purchase_lines_id_fk" FOREIGN KEY ("line_id") REFERENCES "public"."purchase_lines"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_returns" ADD CONSTRAINT "supplier_returns_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "supplier_returns_line" ON "supplier_returns" USING btree ("line_id");--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD CONSTRAINT "supplier_invoices_return_id_supplier_returns_id_fk" FOREIGN KEY ("return_id") REFERENCES "public"."supplier_returns"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
INSERT INTO "places" ("code", "name", "kind") SELECT 'outside:returned', 'Returned to suppliers', 'returned' WHERE EXISTS (SELECT FROM "places" WHERE "kind" = 'supplier');
