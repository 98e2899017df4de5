ALTER TABLE "company" ADD COLUMN "approve_above" numeric;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "order_letter" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "confirmed_on" date;--> statement-breakpoint
ALTER TABLE "purchase_lines" ADD COLUMN "asked" jsonb;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "payment_terms" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "delivery_terms" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "sent_on" date;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "sent" jsonb;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "supplier_reference" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "approved_total" numeric;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "approved_by" integer;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD CONSTRAINT "purchase_orders_approved_by_users_id_fk" FOREIGN KEY ("approved_by") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;