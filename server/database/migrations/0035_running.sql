CREATE TABLE "api_keys" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "api_keys_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"digest" text NOT NULL,
	"beginning" text NOT NULL,
	"rights" text[] NOT NULL,
	"user_id" integer NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"expires_on" date,
	"used_at" timestamp with time zone,
	"used_from" text DEFAULT '' NOT NULL,
	"ended_at" timestamp with time zone,
	CONSTRAINT "api_keys_digest_unique" UNIQUE("digest")
);
--> statement-breakpoint
CREATE TABLE "hook_calls" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hook_calls_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"hook_id" integer NOT NULL,
	"event" text NOT NULL,
	"about" text NOT NULL,
	"posting_id" integer,
	"change_id" integer,
	"body" text,
	"state" text DEFAULT 'waiting' NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"status" integer,
	"problem" text DEFAULT '' NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"delivered_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "job_runs" (
	"job_id" uuid PRIMARY KEY NOT NULL,
	"queue" text NOT NULL,
	"worker" integer NOT NULL,
	"phase" text DEFAULT '' NOT NULL,
	"percent" integer DEFAULT 0 NOT NULL,
	"begun_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "web_hooks" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "web_hooks_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"url" text NOT NULL,
	"secret" text NOT NULL,
	"events" text[] NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "mails" ALTER COLUMN "user_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "changes" ADD COLUMN "key_id" integer;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "entity" text;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "entity_id" integer;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "state" text DEFAULT 'kept' NOT NULL;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "problem" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "passed_on_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "users" ADD COLUMN "calendar_digest" text;--> statement-breakpoint
ALTER TABLE "api_keys" ADD CONSTRAINT "api_keys_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hook_calls" ADD CONSTRAINT "hook_calls_hook_id_web_hooks_id_fk" FOREIGN KEY ("hook_id") REFERENCES "public"."web_hooks"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hook_calls_hook" ON "hook_calls" USING btree ("hook_id","id");--> statement-breakpoint
CREATE INDEX "hook_calls_waiting" ON "hook_calls" USING btree ("hook_id","about","id") WHERE state = 'waiting';--> statement-breakpoint
ALTER TABLE "users" ADD CONSTRAINT "users_calendarDigest_unique" UNIQUE("calendar_digest");