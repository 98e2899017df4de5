ALTER TABLE "plans" DROP CONSTRAINT "plans_forecast_id_forecasts_id_fk";
--> statement-breakpoint
ALTER TABLE "forecasts" DROP COLUMN "weeks";--> statement-breakpoint
ALTER TABLE "plans" DROP COLUMN "forecast_id";