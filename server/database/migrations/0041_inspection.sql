CREATE TABLE "inspection_goods" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "inspection_goods_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"inspection_id" integer NOT NULL,
	"place_id" integer NOT NULL,
	"lot_id" integer,
	"piece_id" integer,
	"quantity" numeric NOT NULL
);
--> statement-breakpoint
CREATE TABLE "inspection_plans" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "inspection_plans_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"code" text NOT NULL,
	"name" text NOT NULL,
	"item_id" integer,
	"group_id" integer,
	"supplier_id" integer,
	"on_receipts" boolean DEFAULT true NOT NULL,
	"on_builds" boolean DEFAULT false NOT NULL,
	"rule" jsonb NOT NULL,
	"characteristics" jsonb NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"retired" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "inspection_plans_code_unique" UNIQUE("code"),
	CONSTRAINT "inspection_plans_of_one" CHECK (num_nonnulls("inspection_plans"."item_id", "inspection_plans"."group_id", "inspection_plans"."supplier_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "inspections" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "inspections_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"plan_id" integer NOT NULL,
	"plan" jsonb NOT NULL,
	"item_id" integer NOT NULL,
	"supplier_id" integer,
	"posting_id" integer NOT NULL,
	"status" text DEFAULT 'open' NOT NULL,
	"opened_on" date NOT NULL,
	"letter" text DEFAULT '' NOT NULL,
	"sample_size" integer NOT NULL,
	"accept" integer NOT NULL,
	"samples" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"instrument" text DEFAULT '' NOT NULL,
	"picture_id" integer,
	"decision" text,
	"reason" text DEFAULT '' NOT NULL,
	"failed" integer DEFAULT 0 NOT NULL,
	"accepted" numeric DEFAULT '0' NOT NULL,
	"rejected" numeric DEFAULT '0' NOT NULL,
	"decided_by" integer,
	"decided_on" date,
	"decision_id" integer,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "inspections_number_unique" UNIQUE("number")
);
--> statement-breakpoint
ALTER TABLE "inspection_goods" ADD CONSTRAINT "inspection_goods_inspection_id_inspections_id_fk" FOREIGN KEY ("inspection_id") REFERENCES "public"."inspections"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_goods" ADD CONSTRAINT "inspection_goods_place_id_places_id_fk" FOREIGN KEY ("place_id") REFERENCES "public"."places"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_goods" ADD CONSTRAINT "inspection_goods_lot_id_lots_id_fk" FOREIGN KEY ("lot_id") REFERENCES "public"."lots"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_goods" ADD CONSTRAINT "inspection_goods_piece_id_pieces_id_fk" FOREIGN KEY ("piece_id") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_plans" ADD CONSTRAINT "inspection_plans_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_plans" ADD CONSTRAINT "inspection_plans_group_id_item_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."item_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspection_plans" ADD CONSTRAINT "inspection_plans_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_plan_id_inspection_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."inspection_plans"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_picture_id_pictures_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."pictures"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_decided_by_users_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "inspections" ADD CONSTRAINT "inspections_decision_id_postings_id_fk" FOREIGN KEY ("decision_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "inspection_goods_of" ON "inspection_goods" USING btree ("inspection_id");--> statement-breakpoint
CREATE INDEX "inspection_plans_item" ON "inspection_plans" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "inspections_open" ON "inspections" USING btree ("item_id","status");--> statement-breakpoint
CREATE INDEX "inspections_posting" ON "inspections" USING btree ("posting_id");--> statement-breakpoint
CREATE INDEX "inspections_plan" ON "inspections" USING btree ("plan_id");