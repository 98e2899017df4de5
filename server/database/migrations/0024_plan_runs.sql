CREATE TABLE "plan_runs" (
	"plan_id" integer PRIMARY KEY NOT NULL,
	"state" text NOT NULL,
	"asked" integer DEFAULT 1 NOT NULL,
	"user_id" integer NOT NULL,
	"today" date NOT NULL,
	"phase" text DEFAULT '' NOT NULL,
	"percent" integer DEFAULT 0 NOT NULL,
	"problem" text DEFAULT '' NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"asked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"beat_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "plan_runs" ADD CONSTRAINT "plan_runs_plan_id_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."plans"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "plan_runs" ADD CONSTRAINT "plan_runs_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "plan_runs_open" ON "plan_runs" USING btree ("state","asked_at");