import { sql } from 'drizzle-orm'
import { bigint, check, date, index, integer, numeric, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import { items, places, sites } from './catalogue'
import { id, minor, moment, quantity } from './columns'
import { users } from './company'

export const lots = pgTable('lots', {
  id: id(),
  itemId: integer().notNull().references(() => items.id),
  number: text().notNull(),
  supplierNumber: text().notNull().default(''),
  receivedOn: date(),
  madeOn: date(),
  expiresOn: date(),
}, table => [unique().on(table.itemId, table.number)])

/** One act that moved stock: a receipt, a build, a shipment, a correction, a reversal. */
export const postings = pgTable('postings', {
  id: id(),
  kind: text().notNull(),
  documentKind: text(),
  documentId: integer(),
  label: text().notNull(),
  reason: text().notNull().default(''),
  effectiveOn: date().notNull(),
  recordedAt: moment().notNull().defaultNow(),
  userId: integer().notNull().references(() => users.id),
  /** Value that work added, in minor units: debit work in progress, credit work absorbed. */
  workValue: minor().notNull().default(sql`0`),
  reversesId: integer().unique(),
}, table => [index('postings_document').on(table.documentKind, table.documentId)])

/** The ledger. Rows are only ever inserted; the database refuses anything else. */
export const moves = pgTable('moves', {
  id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
  postingId: integer().notNull().references(() => postings.id),
  line: integer().notNull(),
  itemId: integer().notNull().references(() => items.id),
  lotId: integer().references(() => lots.id),
  quantity: quantity().notNull(),
  fromPlaceId: integer().notNull().references(() => places.id),
  fromStatus: text(),
  toPlaceId: integer().notNull().references(() => places.id),
  toStatus: text(),
  /** What was typed, kept for ever, and what did not fall on a finest step (stock unit). */
  enteredQuantity: text().notNull(),
  enteredUnit: text().notNull(),
  residueNumerator: numeric().notNull().default('0'),
  residueDenominator: numeric().notNull().default('1'),
  /** Value of the goods in minor units, and what the other end's account gets beside it. */
  value: minor().notNull(),
  variance: minor().notNull().default(sql`0`),
  documentLineId: integer(),
}, table => [
  unique().on(table.postingId, table.line),
  index('moves_item').on(table.itemId, table.id),
  index('moves_lot').on(table.lotId),
  check('moves_quantity_positive', sql`${table.quantity} > 0`),
  check('moves_value', sql`${table.value} >= 0`),
])

/** What lies where; derived from the moves in the same transaction. */
export const balances = pgTable('balances', {
  id: id(),
  itemId: integer().notNull().references(() => items.id),
  placeId: integer().notNull().references(() => places.id),
  lotId: integer().references(() => lots.id),
  status: text().notNull().default('available'),
  onHand: quantity().notNull().default('0'),
  allocated: quantity().notNull().default('0'),
}, table => [
  unique('balances_key').on(table.itemId, table.placeId, table.lotId, table.status).nullsNotDistinct(),
  check('balances_on_hand', sql`${table.onHand} >= 0`),
  check('balances_allocated', sql`${table.allocated} >= 0 and ${table.allocated} <= ${table.onHand}`),
])

/** Quantity and value per item and site: the moving average is value ÷ quantity. */
export const holdings = pgTable('holdings', {
  itemId: integer().notNull().references(() => items.id),
  siteId: integer().notNull().references(() => sites.id),
  quantity: quantity().notNull().default('0'),
  value: minor().notNull().default(sql`0`),
}, table => [
  primaryKey({ columns: [table.itemId, table.siteId] }),
  check('holdings_sound', sql`${table.quantity} >= 0 and ${table.value} >= 0`),
])
