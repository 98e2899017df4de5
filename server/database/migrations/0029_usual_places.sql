ALTER TABLE "company" ADD COLUMN "finished_bin_id" integer;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "web_customer_id" integer;--> statement-breakpoint
ALTER TABLE "company" ADD CONSTRAINT "company_finished_bin_id_places_id_fk" FOREIGN KEY ("finished_bin_id") REFERENCES "places"("id");--> statement-breakpoint
ALTER TABLE "company" ADD CONSTRAINT "company_web_customer_id_customers_id_fk" FOREIGN KEY ("web_customer_id") REFERENCES "customers"("id");--> statement-breakpoint
-- Until now a bin called FIN and a customer called WEB were meant.
UPDATE "company" SET
  "finished_bin_id" = (SELECT "id" FROM "places" WHERE "code" = 'FIN' AND "kind" = 'bin'),
  "web_customer_id" = (SELECT "id" FROM "customers" WHERE "code" = 'WEB');
