ALTER TABLE "company" ADD COLUMN "grouping" text DEFAULT 'space' NOT NULL;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "date_format" text DEFAULT 'day month' NOT NULL;