CREATE TABLE "month_balances" (
	"month" date NOT NULL,
	"item_id" integer NOT NULL,
	"place_id" integer NOT NULL,
	"lot_id" integer,
	"piece_id" integer,
	"status" text NOT NULL,
	"on_hand" numeric NOT NULL
);
--> statement-breakpoint
CREATE TABLE "month_ends" (
	"month" date PRIMARY KEY NOT NULL
);
--> statement-breakpoint
CREATE INDEX "month_balances_place" ON "month_balances" USING btree ("month","place_id");