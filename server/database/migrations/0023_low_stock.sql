CREATE TABLE "low_stock_days" (
	"day" date PRIMARY KEY NOT NULL,
	"looked_at" timestamp with time zone DEFAULT now() NOT NULL,
	"lines" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "mails" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "mails_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"key" text NOT NULL,
	"user_id" integer NOT NULL,
	"sent_on" date NOT NULL,
	"sent_at" timestamp with time zone DEFAULT now() NOT NULL,
	"to_address" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"message" text NOT NULL,
	CONSTRAINT "mails_key_unique" UNIQUE("key")
);
--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "low_stock_days" integer DEFAULT 5 NOT NULL;--> statement-breakpoint
ALTER TABLE "users" ADD COLUMN "low_stock_mail" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "mails" ADD CONSTRAINT "mails_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mails_user" ON "mails" USING btree ("user_id","id");