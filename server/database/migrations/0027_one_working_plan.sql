-- Of several working plans the newest stays the one that works.
UPDATE "plans" SET "kind" = 'trial', "version" = "version" + 1 WHERE "kind" = 'working' AND "id" <> (SELECT max("id") FROM "plans" WHERE "kind" = 'working');--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "ran_with" jsonb;--> statement-breakpoint
CREATE INDEX "changes_at" ON "changes" USING btree ("at");--> statement-breakpoint
CREATE INDEX "postings_recorded" ON "postings" USING btree ("recorded_at");--> statement-breakpoint
CREATE UNIQUE INDEX "plans_one_working" ON "plans" USING btree ("kind") WHERE kind = 'working';