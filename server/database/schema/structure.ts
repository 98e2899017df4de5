import { sql } from 'drizzle-orm'
import { boolean, check, integer, numeric, pgTable, text, unique } from 'drizzle-orm/pg-core'
import { items, units } from './catalogue'
import { id, quantity, version } from './columns'

/** A bill of materials or a kit's contents, per batch. */
export const boms = pgTable('boms', {
  id: id(),
  itemId: integer().notNull().references(() => items.id),
  revision: integer().notNull().default(1),
  current: boolean().notNull().default(true),
  batchSize: quantity().notNull(),
  batchUnit: text().notNull().references(() => units.code),
  outputYield: numeric().notNull().default('1'),
  workMinutes: numeric().notNull().default('0'),
  workRate: numeric().notNull().default('0'),
  note: text().notNull().default(''),
  version: version(),
}, table => [
  unique().on(table.itemId, table.revision),
  check('boms_sound', sql`${table.batchSize} > 0 and ${table.outputYield} > 0 and ${table.outputYield} <= 1 and ${table.workMinutes} >= 0 and ${table.workRate} >= 0`),
])

export const bomLines = pgTable('bom_lines', {
  id: id(),
  bomId: integer().notNull().references(() => boms.id, { onDelete: 'cascade' }),
  position: integer().notNull(),
  itemId: integer().notNull().references(() => items.id),
  numerator: numeric().notNull(),
  denominator: numeric().notNull().default('1'),
  unit: text().notNull().references(() => units.code),
  basis: text().notNull().default('per batch'),
  scrap: numeric().notNull().default('0'),
  note: text().notNull().default(''),
}, table => [
  unique().on(table.bomId, table.position),
  check('bom_lines_sound', sql`${table.numerator} > 0 and ${table.denominator} > 0 and ${table.scrap} >= 0 and ${table.scrap} < 1`),
])

/** How a quantity of a bulk item breaks down into smaller units. */
export const recipes = pgTable('recipes', {
  id: id(),
  itemId: integer().notNull().references(() => items.id).unique(),
  take: quantity().notNull(),
  unit: text().notNull().references(() => units.code),
  note: text().notNull().default(''),
  version: version(),
}, table => [check('recipes_take', sql`${table.take} > 0`)])

export const recipeOutputs = pgTable('recipe_outputs', {
  id: id(),
  recipeId: integer().notNull().references(() => recipes.id, { onDelete: 'cascade' }),
  itemId: integer().notNull().references(() => items.id),
  quantity: quantity().notNull(),
  unit: text().notNull().references(() => units.code),
  share: numeric().notNull().default('1'),
}, table => [
  unique().on(table.recipeId, table.itemId),
  check('recipe_outputs_sound', sql`${table.quantity} > 0 and ${table.share} >= 0`),
])
