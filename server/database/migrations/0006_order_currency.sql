ALTER TABLE "purchase_orders" ADD COLUMN "currency" text;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD COLUMN "rate" numeric DEFAULT '1' NOT NULL;--> statement-breakpoint
ALTER TABLE "purchase_orders" ADD CONSTRAINT "purchase_orders_rate" CHECK ("purchase_orders"."rate" > 0);