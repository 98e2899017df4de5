import { sql } from 'drizzle-orm'
import { check, date, index, integer, numeric, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import { customers, items, places, units } from './catalogue'
import { id, quantity, version } from './columns'
import { lots, pieces } from './stock'

export const salesOrders = pgTable('sales_orders', {
  id: id(),
  number: text().notNull().unique(),
  customerId: integer().notNull().references(() => customers.id),
  orderedOn: date().notNull(),
  dueOn: date().notNull(),
  status: text().notNull().default('open'),
  note: text().notNull().default(''),
  version: version(),
})

export const salesLines = pgTable('sales_lines', {
  id: id(),
  orderId: integer().notNull().references(() => salesOrders.id),
  line: integer().notNull(),
  itemId: integer().notNull().references(() => items.id),
  /** As typed (exact text) and in the stock unit. */
  entered: text().notNull(),
  unit: text().notNull().references(() => units.code),
  quantity: quantity().notNull(),
  price: numeric().notNull().default('0'),
  shipped: quantity().notNull().default('0'),
}, table => [
  unique().on(table.orderId, table.line),
  check('sales_lines_sound', sql`${table.quantity} > 0 and ${table.shipped} >= 0 and ${table.shipped} <= ${table.quantity} and ${table.price} >= 0`),
])

/** Goods set aside for a line: from which bin and lot. */
export const allocations = pgTable('allocations', {
  id: id(),
  /** For a line of a sales order, or for a line of a build. */
  salesLineId: integer().references(() => salesLines.id),
  buildLineId: integer(),
  itemId: integer().notNull().references(() => items.id),
  placeId: integer().notNull().references(() => places.id),
  lotId: integer().references(() => lots.id),
  pieceId: integer().references(() => pieces.id),
  quantity: quantity().notNull(),
}, table => [
  unique('allocations_key').on(table.salesLineId, table.buildLineId, table.placeId, table.lotId, table.pieceId).nullsNotDistinct(),
  index('allocations_build').on(table.buildLineId).where(sql`${table.buildLineId} is not null`),
  check('allocations_quantity', sql`${table.quantity} > 0`),
  check('allocations_for_one', sql`(${table.salesLineId} is null) <> (${table.buildLineId} is null)`),
])

export const forecasts = pgTable('forecasts', {
  id: id(),
  name: text().notNull().unique(),
  firstOn: date().notNull(),
  weeks: integer().notNull(),
  version: version(),
})

/** Quantity per item and week, in the stock unit; the week begins on a Monday. */
export const forecastCells = pgTable('forecast_cells', {
  forecastId: integer().notNull().references(() => forecasts.id),
  itemId: integer().notNull().references(() => items.id),
  startsOn: date().notNull(),
  quantity: quantity().notNull(),
}, table => [
  primaryKey({ columns: [table.forecastId, table.itemId, table.startsOn] }),
  check('forecast_cells_quantity', sql`${table.quantity} >= 0`),
])
