import { sql } from 'drizzle-orm'
import { boolean, check, date, integer, jsonb, numeric, pgTable, text, unique } from 'drizzle-orm/pg-core'
import type { Step } from '~~/shared/structure/requests'
import { items, units } from './catalogue'
import { id, quantity, version } from './columns'

/** A revision of a bill of materials, or of a kit's contents, per batch. A draft until it has a first day. */
export const boms = pgTable(
  'boms',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    revision: integer().notNull().default(1),
    /** Its item's code and its number; a trigger keeps it when the code changes. */
    name: text().notNull().unique(),
    fromOn: date(),
    batchSize: quantity().notNull(),
    batchUnit: text()
      .notNull()
      .references(() => units.code),
    outputYield: numeric().notNull().default('1'),
    workMinutes: numeric().notNull().default('0'),
    minutesPerUnit: numeric().notNull().default('0'),
    workRate: numeric().notNull().default('0'),
    otherCost: numeric().notNull().default('0'),
    steps: jsonb().$type<Step[]>().notNull().default([]),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [
    unique().on(table.itemId, table.revision),
    check(
      'boms_sound',
      sql`
        ${table.batchSize} > 0
          and ${table.outputYield} > 0
          and ${table.outputYield} <= 1
          and ${table.workMinutes} >= 0
          and ${table.minutesPerUnit} >= 0
          and ${table.workRate} >= 0
          and ${table.otherCost} >= 0`,
    ),
  ],
)

export const bomLines = pgTable(
  'bom_lines',
  {
    id: id(),
    bomId: integer()
      .notNull()
      .references(() => boms.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    numerator: numeric().notNull(),
    denominator: numeric().notNull().default('1'),
    unit: text()
      .notNull()
      .references(() => units.code),
    basis: text().notNull().default('per batch'),
    scrap: numeric().notNull().default('0'),
    offsetDays: integer().notNull().default(0),
    phantom: boolean().notNull().default(false),
    note: text().notNull().default(''),
  },
  (table) => [
    unique().on(table.bomId, table.position),
    check(
      'bom_lines_sound',
      sql`${table.numerator} > 0 and ${table.denominator} > 0 and ${table.scrap} >= 0 and ${table.scrap} < 1`,
    ),
  ],
)

/**
 * What may stand in for the component of a line; `numerator / denominator`: how much of it for one of the component, in
 * stock units.
 */
export const bomSubstitutes = pgTable(
  'bom_substitutes',
  {
    id: id(),
    bomId: integer()
      .notNull()
      .references(() => boms.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    rank: integer().notNull().default(1),
    numerator: numeric().notNull(),
    denominator: numeric().notNull().default('1'),
  },
  (table) => [
    unique().on(table.bomId, table.position, table.itemId),
    check('bom_substitutes_sound', sql`${table.numerator} > 0 and ${table.denominator} > 0`),
  ],
)

/** What else a batch gives, with its share of the cost. */
export const bomByProducts = pgTable(
  'bom_by_products',
  {
    id: id(),
    bomId: integer()
      .notNull()
      .references(() => boms.id, { onDelete: 'cascade' }),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    numerator: numeric().notNull(),
    denominator: numeric().notNull().default('1'),
    unit: text()
      .notNull()
      .references(() => units.code),
    share: numeric().notNull().default('0'),
  },
  (table) => [
    unique().on(table.bomId, table.itemId),
    check(
      'bom_by_products_sound',
      sql`${table.numerator} > 0 and ${table.denominator} > 0 and ${table.share} >= 0 and ${table.share} < 1`,
    ),
  ],
)

/** How a quantity of a bulk item breaks down into smaller units. */
export const recipes = pgTable(
  'recipes',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    /** The codes of its bulk item and of what it gives; a trigger keeps it when a code changes. */
    name: text().notNull().unique(),
    rank: integer().notNull().default(1),
    take: quantity().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    loss: quantity().notNull().default('0'),
    lossUnit: text().references(() => units.code),
    /** What is lost goes off the books, instead of being borne by what comes out. */
    lossWrittenOff: boolean().notNull().default(false),
    onArrival: boolean().notNull().default(false),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [check('recipes_take', sql`${table.take} > 0 and ${table.loss} >= 0`)],
)

export const recipeOutputs = pgTable(
  'recipe_outputs',
  {
    id: id(),
    recipeId: integer()
      .notNull()
      .references(() => recipes.id, { onDelete: 'cascade' }),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    numerator: numeric().notNull(),
    denominator: numeric().notNull().default('1'),
    unit: text()
      .notNull()
      .references(() => units.code),
    share: numeric().notNull().default('1'),
  },
  (table) => [
    unique().on(table.recipeId, table.itemId),
    check('recipe_outputs_sound', sql`${table.numerator} > 0 and ${table.denominator} > 0 and ${table.share} >= 0`),
  ],
)
