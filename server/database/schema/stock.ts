import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  check,
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  unique,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core'
import type { CountScope, HeldLayer, TraitValues } from '~~/shared/stock/requests'
import { items, places, sites, units } from './catalogue'
import { id, minor, moment, quantity, version } from './columns'
import { users } from './company'

export const lots = pgTable(
  'lots',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    number: text().notNull(),
    supplierNumber: text().notNull().default(''),
    receivedOn: date(),
    madeOn: date(),
    expiresOn: date(),
    bestBeforeOn: date(),
    traits: jsonb().$type<TraitValues>().notNull().default({}),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [unique().on(table.itemId, table.number), index('lots_traits').using('gin', table.traits)],
)

/** Individually measured goods, each under its own label; what remains of one is what its balances hold. */
export const pieces = pgTable(
  'pieces',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    lotId: integer().references(() => lots.id),
    label: text().notNull().unique(),
    original: quantity().notNull(),
    /** The piece that this one was cut from. */
    parentId: integer().references((): AnyPgColumn => pieces.id),
    traits: jsonb().$type<TraitValues>().notNull().default({}),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [
    index('pieces_item').on(table.itemId),
    index('pieces_lot').on(table.lotId),
    index('pieces_traits').using('gin', table.traits),
    check('pieces_original', sql`${table.original} > 0`),
  ],
)

/** One act that moved stock: a receipt, a build, a shipment, a correction, a reversal. */
export const postings = pgTable(
  'postings',
  {
    id: id(),
    kind: text().notNull(),
    documentKind: text(),
    documentId: integer(),
    label: text().notNull(),
    reason: text().notNull().default(''),
    effectiveOn: date().notNull(),
    recordedAt: moment().notNull().defaultNow(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    /** Value that work added, in minor units: debit work in progress, credit work absorbed. */
    workValue: minor()
      .notNull()
      .default(sql`0`),
    reversesId: integer().unique(),
  },
  (table) => [
    index('postings_document').on(table.documentKind, table.documentId),
    index('postings_recorded').on(table.recordedAt),
  ],
)

/** The ledger. Rows are only ever inserted; the database refuses anything else. */
export const moves = pgTable(
  'moves',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    lotId: integer().references(() => lots.id),
    pieceId: integer().references(() => pieces.id),
    /** As its posting has it. */
    effectiveOn: date().notNull(),
    quantity: quantity().notNull(),
    fromPlaceId: integer()
      .notNull()
      .references(() => places.id),
    fromStatus: text(),
    toPlaceId: integer()
      .notNull()
      .references(() => places.id),
    toStatus: text(),
    /** What was typed, kept for ever, and what did not fall on a finest step (stock unit). */
    enteredQuantity: text().notNull(),
    enteredUnit: text().notNull(),
    residueNumerator: numeric().notNull().default('0'),
    residueDenominator: numeric().notNull().default('1'),
    /**
     * Value of the goods in minor units, what the other end's account gets or gives beside it, and what the rest of the
     * stock gained.
     */
    value: minor().notNull(),
    variance: minor()
      .notNull()
      .default(sql`0`),
    restated: minor()
      .notNull()
      .default(sql`0`),
    /** How the value came about; with a share, its weight; with what takes a move back, that move. */
    basis: text().notNull(),
    weightNumerator: numeric(),
    weightDenominator: numeric(),
    reversesId: bigint({ mode: 'number' }),
    documentLineId: integer(),
  },
  (table) => [
    unique().on(table.postingId, table.line),
    index('moves_item').on(table.itemId, table.effectiveOn),
    index('moves_lot')
      .on(table.lotId)
      .where(sql`${table.lotId} is not null`),
    index('moves_piece')
      .on(table.pieceId)
      .where(sql`${table.pieceId} is not null`),
    check('moves_quantity_positive', sql`${table.quantity} > 0`),
    check('moves_value', sql`${table.value} >= 0`),
  ],
)

/** What lies where; derived from the moves in the same transaction. */
export const balances = pgTable(
  'balances',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    placeId: integer()
      .notNull()
      .references(() => places.id),
    lotId: integer().references(() => lots.id),
    pieceId: integer().references(() => pieces.id),
    status: text().notNull().default('available'),
    onHand: quantity().notNull().default('0'),
    allocated: quantity().notNull().default('0'),
  },
  (table) => [
    unique('balances_key').on(table.itemId, table.placeId, table.lotId, table.pieceId, table.status).nullsNotDistinct(),
    index('balances_place').on(table.placeId),
    index('balances_lot')
      .on(table.lotId)
      .where(sql`${table.lotId} is not null`),
    index('balances_piece')
      .on(table.pieceId)
      .where(sql`${table.pieceId} is not null`),
    check('balances_on_hand', sql`${table.onHand} >= 0`),
    check('balances_allocated', sql`${table.allocated} >= 0 and ${table.allocated} <= ${table.onHand}`),
  ],
)

/** Where goods on their way between sites are counted. */
export const ON_THE_WAY = 0

/**
 * Quantity and value per item and site, and per transfer line on the way (site 0): what cost is worked out from next.
 */
export const holdings = pgTable(
  'holdings',
  {
    itemId: integer()
      .notNull()
      .references(() => items.id),
    siteId: integer().notNull(),
    lineId: integer().notNull().default(0),
    quantity: quantity().notNull().default('0'),
    value: minor()
      .notNull()
      .default(sql`0`),
    /** What one stock unit is worth in minor units, where the method goes by that. */
    unitNumerator: numeric(),
    unitDenominator: numeric(),
    layers: jsonb().$type<HeldLayer[]>().notNull().default([]),
    /** The last day on which something moved; what is entered before it re-values what followed. */
    lastOn: date(),
  },
  (table) => [
    primaryKey({ columns: [table.itemId, table.siteId, table.lineId] }),
    index('holdings_site').on(table.siteId),
    check('holdings_sound', sql`${table.quantity} >= 0 and ${table.value} >= 0`),
  ],
)

/**
 * Months of which what lay where on their last evening is kept, until something is entered for a day in or before them.
 */
export const monthEnds = pgTable('month_ends', { month: date().primaryKey() })

export const monthBalances = pgTable(
  'month_balances',
  {
    month: date().notNull(),
    itemId: integer().notNull(),
    placeId: integer().notNull(),
    lotId: integer(),
    pieceId: integer(),
    status: text().notNull(),
    onHand: quantity().notNull(),
  },
  (table) => [index('month_balances_place').on(table.month, table.placeId)],
)

/** What a move turned out to be worth more, or less, than it was said to be. Only ever inserted. */
export const adjustments = pgTable(
  'adjustments',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    moveId: bigint({ mode: 'number' })
      .notNull()
      .references(() => moves.id),
    /** The day of the move, or the first day that is not closed. */
    effectiveOn: date().notNull(),
    value: minor().notNull(),
    variance: minor().notNull(),
    restated: minor().notNull(),
  },
  (table) => [index('adjustments_move').on(table.moveId), index('adjustments_posting').on(table.postingId)],
)

/** Journal lines of a posting that belong to no move: invoices, new standard costs. Only ever inserted. */
export const entries = pgTable(
  'entries',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    account: text().notNull(),
    itemId: integer().references(() => items.id),
    siteId: integer(),
    amount: minor().notNull(),
    effectiveOn: date().notNull(),
    /** The posting that this line corrects. */
    causeId: integer().references(() => postings.id),
  },
  (table) => [index('entries_posting').on(table.postingId), index('entries_item').on(table.itemId)],
)

/** What one stock unit is taken to cost from a day on, where stock stands at a standard. */
export const standardCosts = pgTable(
  'standard_costs',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    fromOn: date().notNull(),
    cost: numeric().notNull(),
    /** Null for the first, which nothing came before. */
    postingId: integer().references(() => postings.id),
  },
  (table) => [
    index('standard_costs_item').on(table.itemId, table.fromOn),
    check('standard_costs_positive', sql`${table.cost} >= 0`),
  ],
)

/** Usual ways between two sites. */
export const routes = pgTable(
  'routes',
  {
    id: id(),
    code: text().notNull().unique(),
    name: text().notNull(),
    fromSiteId: integer()
      .notNull()
      .references(() => sites.id),
    toSiteId: integer()
      .notNull()
      .references(() => sites.id),
    days: integer().notNull().default(0),
    note: text().notNull().default(''),
    retired: boolean().notNull().default(false),
    version: version(),
  },
  (table) => [
    unique().on(table.fromSiteId, table.toSiteId),
    check('routes_sound', sql`${table.fromSiteId} <> ${table.toSiteId} and ${table.days} >= 0`),
  ],
)

export const transfers = pgTable('transfers', {
  id: id(),
  number: text().notNull().unique(),
  fromSiteId: integer()
    .notNull()
    .references(() => sites.id),
  toSiteId: integer()
    .notNull()
    .references(() => sites.id),
  leavesOn: date().notNull(),
  dueOn: date().notNull(),
  status: text().notNull().default('open'),
  note: text().notNull().default(''),
  userId: integer()
    .notNull()
    .references(() => users.id),
  version: version(),
})

export const transferLines = pgTable(
  'transfer_lines',
  {
    id: id(),
    transferId: integer()
      .notNull()
      .references(() => transfers.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    quantity: quantity().notNull(),
    shipped: quantity().notNull().default('0'),
    received: quantity().notNull().default('0'),
    /** What left and never came. */
    lost: quantity().notNull().default('0'),
    closedShort: boolean().notNull().default(false),
  },
  (table) => [
    unique().on(table.transferId, table.line),
    check('transfer_lines_sound', sql`${table.quantity} > 0 and ${table.received} + ${table.lost} <= ${table.shipped}`),
  ],
)

export const stockCounts = pgTable('stock_counts', {
  id: id(),
  number: text().notNull().unique(),
  name: text().notNull(),
  scope: jsonb().$type<CountScope>().notNull(),
  /** Whether counters see what the books say. */
  blind: boolean().notNull().default(true),
  /** A line whose difference is worth more than this, in minor units, is counted again. */
  recountOver: minor(),
  status: text().notNull().default('open'),
  openedOn: date().notNull(),
  userId: integer()
    .notNull()
    .references(() => users.id),
  approvedBy: integer().references(() => users.id),
  approvedOn: date(),
  postingId: integer().references(() => postings.id),
  version: version(),
})

export const countLines = pgTable(
  'count_lines',
  {
    id: id(),
    countId: integer()
      .notNull()
      .references(() => stockCounts.id, { onDelete: 'cascade' }),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    placeId: integer()
      .notNull()
      .references(() => places.id),
    lotId: integer().references(() => lots.id),
    pieceId: integer().references(() => pieces.id),
    status: text().notNull().default('available'),
    /** What the books said when the line was counted: goods that move before or after do not count as a difference. */
    booked: quantity(),
    counted: quantity(),
    entered: text().notNull().default(''),
    unit: text().notNull().default(''),
    countedBy: integer().references(() => users.id),
    countedAt: moment(),
    /** What the first count said, where it was counted again. */
    first: quantity(),
    recount: boolean().notNull().default(false),
    /** What the difference was worth when it was recorded, in minor units. */
    worth: minor(),
    note: text().notNull().default(''),
  },
  (table) => [
    unique('count_lines_key')
      .on(table.countId, table.itemId, table.placeId, table.lotId, table.pieceId, table.status)
      .nullsNotDistinct(),
    check('count_lines_sound', sql`${table.counted} >= 0`),
  ],
)
