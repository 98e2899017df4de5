ALTER TABLE "boms" DROP COLUMN "current";--> statement-breakpoint
ALTER TABLE "recipe_outputs" DROP COLUMN "quantity";