import { sql } from 'drizzle-orm'
import { check, date, index, integer, jsonb, numeric, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import type { MethodName, Parameters } from '~~/core/forecasting'
import type { Step } from '~~/core/calendar/periods'
import type { ForecastResult } from '~~/shared/demand/forecast'
import { customers, items, places, sites, units } from './catalogue'
import { id, minor, quantity, version } from './columns'
import { users } from './company'
import { batches } from './files'
import { lots, pieces } from './stock'

export const salesOrders = pgTable('sales_orders', {
  id: id(),
  number: text().notNull().unique(),
  customerId: integer()
    .notNull()
    .references(() => customers.id),
  orderedOn: date().notNull(),
  dueOn: date().notNull(),
  status: text().notNull().default('open'),
  note: text().notNull().default(''),
  /** Where it is filled from; none: the customer's site, else the first. */
  siteId: integer().references(() => sites.id),
  /** Those with a higher one are allocated first where that is asked for. */
  priority: integer().notNull().default(0),
  /** How the outside calls it, each name once: a web shop's number, for one. */
  outsideRef: text().unique(),
  /** The file that brought it. */
  batchId: integer().references(() => batches.id),
  version: version(),
})

export const salesLines = pgTable(
  'sales_lines',
  {
    id: id(),
    orderId: integer()
      .notNull()
      .references(() => salesOrders.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    /** As typed (exact text) and in the stock unit. */
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    quantity: quantity().notNull(),
    price: numeric().notNull().default('0'),
    /** The price for one stock unit. */
    stockPrice: numeric().notNull().default('0'),
    shipped: quantity().notNull().default('0'),
  },
  (table) => [
    unique().on(table.orderId, table.line),
    check(
      'sales_lines_sound',
      sql`
        ${table.quantity} > 0
          and ${table.shipped} >= 0
          and ${table.shipped} <= ${table.quantity}
          and ${table.price} >= 0`,
    ),
  ],
)

/** Goods set aside for a line: from which bin and lot. */
export const allocations = pgTable(
  'allocations',
  {
    id: id(),
    /** For a line of a sales order, or for a line of a build. */
    salesLineId: integer().references(() => salesLines.id),
    buildLineId: integer(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    placeId: integer()
      .notNull()
      .references(() => places.id),
    lotId: integer().references(() => lots.id),
    pieceId: integer().references(() => pieces.id),
    quantity: quantity().notNull(),
  },
  (table) => [
    unique('allocations_key')
      .on(table.salesLineId, table.buildLineId, table.placeId, table.lotId, table.pieceId)
      .nullsNotDistinct(),
    index('allocations_build')
      .on(table.buildLineId)
      .where(sql`${table.buildLineId} is not null`),
    check('allocations_quantity', sql`${table.quantity} > 0`),
    check('allocations_for_one', sql`(${table.salesLineId} is null) <> (${table.buildLineId} is null)`),
  ],
)

/** What was sold before these books began, or beside them. */
export const pastSales = pgTable(
  'past_sales',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    customerId: integer().references(() => customers.id),
    siteId: integer().references(() => sites.id),
    soldOn: date().notNull(),
    quantity: quantity().notNull(),
    /** Minor units of the company's currency: what it brought, and what it cost where that is known. */
    value: minor().notNull(),
    cost: minor(),
    batchId: integer().references(() => batches.id),
  },
  (table) => [
    index('past_sales_item').on(table.itemId, table.soldOn),
    index('past_sales_batch').on(table.batchId),
    check('past_sales_quantity', sql`${table.quantity} > 0`),
  ],
)

/** What a stretch of days counts as in forecasts, whatever was sold in it. */
export const historyCorrections = pgTable(
  'history_corrections',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    firstOn: date().notNull(),
    lastOn: date().notNull(),
    quantity: quantity().notNull(),
    reason: text().notNull().default(''),
    userId: integer()
      .notNull()
      .references(() => users.id),
  },
  (table) => [
    unique().on(table.itemId, table.firstOn),
    check('history_corrections_sound', sql`${table.quantity} >= 0 and ${table.lastOn} >= ${table.firstOn}`),
  ],
)

/** An item counts a share of what another sold, up to a day, as its own history. */
export const historyBorrowings = pgTable(
  'history_borrowings',
  {
    itemId: integer()
      .primaryKey()
      .references(() => items.id),
    fromItemId: integer()
      .notNull()
      .references(() => items.id),
    share: numeric().notNull(),
    untilOn: date().notNull(),
  },
  (table) => [check('history_borrowings_sound', sql`${table.share} > 0 and ${table.itemId} <> ${table.fromItemId}`)],
)

export const forecasts = pgTable('forecasts', {
  id: id(),
  name: text().notNull().unique(),
  step: text().$type<Step>().notNull().default('week'),
  firstOn: date().notNull(),
  lastOn: date().notNull(),
  note: text().notNull().default(''),
  version: version(),
})

/** How an item of a forecast is forecast, and what came of it. */
export const forecastItems = pgTable(
  'forecast_items',
  {
    forecastId: integer()
      .notNull()
      .references(() => forecasts.id, { onDelete: 'cascade' }),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    /** None: the best by test. */
    method: text().$type<MethodName>(),
    parameters: jsonb().$type<Parameters>(),
    result: jsonb().$type<ForecastResult>(),
  },
  (table) => [primaryKey({ columns: [table.forecastId, table.itemId] })],
)

/** Quantity per item and period, in the stock unit, by the period's first day. */
export const forecastCells = pgTable(
  'forecast_cells',
  {
    forecastId: integer()
      .notNull()
      .references(() => forecasts.id, { onDelete: 'cascade' }),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    startsOn: date().notNull(),
    quantity: quantity().notNull(),
    /** What the method said; where it differs, a person typed over it. */
    computed: numeric(),
  },
  (table) => [
    primaryKey({ columns: [table.forecastId, table.itemId, table.startsOn] }),
    check('forecast_cells_quantity', sql`${table.quantity} >= 0`),
  ],
)

/** The order book of the web shop that ships with Tsumiki: orders as its buyers left them. */
export const shopOrders = pgTable('shop_orders', {
  id: id(),
  number: text().notNull().unique(),
  placedOn: date().notNull(),
  buyer: text().notNull(),
  email: text().notNull(),
  note: text().notNull().default(''),
  lines: jsonb()
    .$type<readonly { readonly code: string; readonly quantity: number; readonly price: string }[]>()
    .notNull(),
})
