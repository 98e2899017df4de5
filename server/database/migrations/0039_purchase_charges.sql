CREATE TABLE "batch_receipts" (
	"posting_id" integer PRIMARY KEY NOT NULL,
	"batch_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "invoice_charges" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "invoice_charges_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"invoice_id" integer NOT NULL,
	"name" text NOT NULL,
	"spread" text NOT NULL,
	"amount" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "invoice_lines" ADD COLUMN "charge_id" integer;--> statement-breakpoint
ALTER TABLE "supplier_invoices" ADD COLUMN "kind" text DEFAULT 'invoice' NOT NULL;--> statement-breakpoint
ALTER TABLE "batch_receipts" ADD CONSTRAINT "batch_receipts_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "batch_receipts" ADD CONSTRAINT "batch_receipts_batch_id_batches_id_fk" FOREIGN KEY ("batch_id") REFERENCES "public"."batches"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invoice_charges" ADD CONSTRAINT "invoice_charges_invoice_id_supplier_invoices_id_fk" FOREIGN KEY ("invoice_id") REFERENCES "public"."supplier_invoices"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "batch_receipts_batch" ON "batch_receipts" USING btree ("batch_id");--> statement-breakpoint
ALTER TABLE "invoice_lines" ADD CONSTRAINT "invoice_lines_charge_id_invoice_charges_id_fk" FOREIGN KEY ("charge_id") REFERENCES "public"."invoice_charges"("id") ON DELETE no action ON UPDATE no action;