CREATE TABLE "bom_by_products" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "bom_by_products_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"bom_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"numerator" numeric NOT NULL,
	"denominator" numeric DEFAULT '1' NOT NULL,
	"unit" text NOT NULL,
	"share" numeric DEFAULT '0' NOT NULL,
	CONSTRAINT "bom_by_products_bomId_itemId_unique" UNIQUE("bom_id","item_id"),
	CONSTRAINT "bom_by_products_sound" CHECK ("bom_by_products"."numerator" > 0 and "bom_by_products"."denominator" > 0 and "bom_by_products"."share" >= 0 and "bom_by_products"."share" < 1)
);
--> statement-breakpoint
CREATE TABLE "bom_substitutes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "bom_substitutes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"bom_id" integer NOT NULL,
	"position" integer NOT NULL,
	"item_id" integer NOT NULL,
	"rank" integer DEFAULT 1 NOT NULL,
	"numerator" numeric NOT NULL,
	"denominator" numeric DEFAULT '1' NOT NULL,
	CONSTRAINT "bom_substitutes_bomId_position_itemId_unique" UNIQUE("bom_id","position","item_id"),
	CONSTRAINT "bom_substitutes_sound" CHECK ("bom_substitutes"."numerator" > 0 and "bom_substitutes"."denominator" > 0)
);
--> statement-breakpoint
ALTER TABLE "recipes" DROP CONSTRAINT "recipes_itemId_unique";--> statement-breakpoint
ALTER TABLE "boms" DROP CONSTRAINT "boms_sound";--> statement-breakpoint
ALTER TABLE "recipe_outputs" DROP CONSTRAINT "recipe_outputs_sound";--> statement-breakpoint
ALTER TABLE "recipes" DROP CONSTRAINT "recipes_take";--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "standard_cost" numeric;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "kit_policy" text DEFAULT 'sealed' NOT NULL;--> statement-breakpoint
ALTER TABLE "bom_lines" ADD COLUMN "offset_days" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "bom_lines" ADD COLUMN "phantom" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "boms" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "boms" ADD COLUMN "from_on" date;--> statement-breakpoint
ALTER TABLE "boms" ADD COLUMN "minutes_per_unit" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "boms" ADD COLUMN "other_cost" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "boms" ADD COLUMN "steps" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD COLUMN "numerator" numeric;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD COLUMN "denominator" numeric DEFAULT '1' NOT NULL;--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "rank" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "loss" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "loss_unit" text;--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "on_arrival" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "bom_by_products" ADD CONSTRAINT "bom_by_products_bom_id_boms_id_fk" FOREIGN KEY ("bom_id") REFERENCES "public"."boms"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_by_products" ADD CONSTRAINT "bom_by_products_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_by_products" ADD CONSTRAINT "bom_by_products_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_substitutes" ADD CONSTRAINT "bom_substitutes_bom_id_boms_id_fk" FOREIGN KEY ("bom_id") REFERENCES "public"."boms"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bom_substitutes" ADD CONSTRAINT "bom_substitutes_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_loss_unit_units_code_fk" FOREIGN KEY ("loss_unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boms" ADD CONSTRAINT "boms_name_unique" UNIQUE("name");--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_name_unique" UNIQUE("name");--> statement-breakpoint
ALTER TABLE "boms" ADD CONSTRAINT "boms_sound" CHECK ("boms"."batch_size" > 0 and "boms"."output_yield" > 0 and "boms"."output_yield" <= 1 and "boms"."work_minutes" >= 0 and "boms"."minutes_per_unit" >= 0 and "boms"."work_rate" >= 0 and "boms"."other_cost" >= 0);--> statement-breakpoint
ALTER TABLE "recipe_outputs" ADD CONSTRAINT "recipe_outputs_sound" CHECK ("recipe_outputs"."numerator" > 0 and "recipe_outputs"."denominator" > 0 and "recipe_outputs"."share" >= 0);--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_take" CHECK ("recipes"."take" > 0 and "recipes"."loss" >= 0);--> statement-breakpoint
-- A bill that was in use stays in use, from the day on which it was first written.
UPDATE "boms" b SET "name" = i.code || ' revision ' || b.revision, "from_on" = case when b."current" then least(
  coalesce((select min(c.at)::date from changes c where c.entity = 'bill' and c.entity_id = b.id::text), current_date), (select fixed_day::date from company), current_date) end FROM items i WHERE i.id = b.item_id;--> statement-breakpoint
UPDATE "recipes" r SET "name" = i.code || ' break-down ' || r.rank FROM items i WHERE i.id = r.item_id;--> statement-breakpoint
UPDATE "recipe_outputs" SET "numerator" = "quantity";--> statement-breakpoint
ALTER TABLE "boms" ALTER COLUMN "name" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "recipes" ALTER COLUMN "name" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "recipe_outputs" ALTER COLUMN "numerator" SET NOT NULL;--> statement-breakpoint
CREATE FUNCTION structures_named() RETURNS trigger LANGUAGE plpgsql AS $$ begin
  update boms set name = new.code || ' revision ' || revision where item_id = new.id;
  update recipes set name = new.code || ' break-down ' || rank where item_id = new.id;
  return null;
end $$;--> statement-breakpoint
CREATE TRIGGER structures_named AFTER UPDATE OF code ON items FOR EACH ROW WHEN (old.code IS DISTINCT FROM new.code) EXECUTE FUNCTION structures_named();--> statement-breakpoint
CREATE INDEX bom_substitutes_item ON bom_substitutes (item_id);--> statement-breakpoint
CREATE INDEX bom_by_products_item ON bom_by_products (item_id);--> statement-breakpoint
CREATE INDEX recipe_outputs_item ON recipe_outputs (item_id);--> statement-breakpoint
CREATE INDEX recipes_item ON recipes (item_id);
