CREATE TABLE "packing_lists" (
	"posting_id" integer PRIMARY KEY NOT NULL,
	"supplier_id" integer NOT NULL,
	"number" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "packing_lists" ADD CONSTRAINT "packing_lists_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "packing_lists" ADD CONSTRAINT "packing_lists_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "packing_lists_number" ON "packing_lists" USING btree ("supplier_id",lower("number"));--> statement-breakpoint
-- Until now the number stood only at the end of what the posting says.
INSERT INTO "packing_lists" ("posting_id", "supplier_id", "number")
SELECT o."id", p."supplier_id", substring(o."label" from ', packing list (.+)$')
FROM "postings" o JOIN "purchase_orders" p ON o."document_kind" = 'purchase order' AND p."id" = o."document_id"
WHERE o."kind" = 'goods receipt' AND o."label" ~ ', packing list .+$';
