ALTER TABLE "company" ADD COLUMN "calendar_id" integer;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "time_zone" text;--> statement-breakpoint
ALTER TABLE "company" ADD CONSTRAINT "company_calendar_id_calendars_id_fk" FOREIGN KEY ("calendar_id") REFERENCES "public"."calendars"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
UPDATE "company" SET "calendar_id" = (SELECT "calendar_id" FROM "sites" WHERE "calendar_id" IS NOT NULL ORDER BY "id" LIMIT 1);
