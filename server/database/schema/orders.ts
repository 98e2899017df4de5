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
  text,
  unique,
  uniqueIndex,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core'
import type { PlanInput } from '~~/core/planning/input'
import type { PlanOutput } from '~~/core/planning/explain'
import type { Spread } from '~~/core/invoicing'
import type { NamedAmount } from '~~/shared/purchasing/charges'
import type { ReturnExpects } from '~~/shared/purchasing/returns'
import type { OrderedAs, SentLine } from '~~/shared/purchasing/sent'
import type { PlanScope, WhatIfEdit } from '~~/shared/planning/requests'
import { blanketLines } from './blankets'
import { items, sites, suppliers, units } from './catalogue'
import { id, minor, moment, quantity, version } from './columns'
import { users } from './company'
import { salesLines, salesOrders } from './demand'
import { batches } from './files'
import { moves, postings } from './stock'

/** The settings of a plan that its result depends on. */
export interface PlanSettingsRun {
  readonly endsOn: string
  readonly demandRule: string
  readonly forecastFalls: 'first day' | 'spread'
  readonly forecastIds: readonly number[]
  readonly scope: PlanScope
  readonly changes: readonly WhatIfEdit[]
}

export const plans = pgTable(
  'plans',
  {
    id: id(),
    name: text().notNull(),
    kind: text().notNull(),
    startsOn: date().notNull(),
    endsOn: date().notNull(),
    demandRule: text().notNull(),
    /** Where in its week a forecast falls: on the first day, or spread over the working days. */
    forecastFalls: text().$type<'first day' | 'spread'>().notNull().default('first day'),
    forecastIds: integer().array().notNull().default([]),
    note: text().notNull().default(''),
    /** What counts, which items, which calendars: see PlanScope. */
    scope: jsonb()
      .$type<PlanScope>()
      .notNull()
      .default(sql`'{}'`),
    /** What is tried out: applied to the snapshot before it is planned on. */
    changes: jsonb()
      .$type<WhatIfEdit[]>()
      .notNull()
      .default(sql`'[]'`),
    /**
     * When what it was computed on was read, and the settings that it was computed with: what is shown of it stands on
     * them until it is computed anew.
     */
    ranAt: moment(),
    ranWith: jsonb().$type<PlanSettingsRun>(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    input: jsonb().$type<PlanInput>(),
    output: jsonb().$type<PlanOutput>(),
    version: version(),
  },
  // One plan works, all others are trials: two would buy the same twice.
  (table) => [
    uniqueIndex('plans_one_working')
      .on(table.kind)
      .where(sql`kind = 'working'`),
  ],
)

export const plannedOrders = pgTable(
  'planned_orders',
  {
    id: id(),
    planId: integer()
      .notNull()
      .references(() => plans.id, { onDelete: 'cascade' }),
    /** The order's name in the plan's output. */
    ref: text().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    kind: text().notNull(),
    quantity: quantity().notNull(),
    releaseOn: date().notNull(),
    dueOn: date().notNull(),
    lateBy: integer().notNull().default(0),
    promisedOn: date().notNull(),
    supplierId: integer().references(() => suppliers.id),
    /** Where it is wanted; none: the main site. And the site that it comes from, where it is moved. */
    siteId: integer().references(() => sites.id),
    fromSiteId: integer().references(() => sites.id),
    state: text().notNull().default('proposed'),
    documentKind: text(),
    documentId: integer(),
  },
  (table) => [unique().on(table.planId, table.ref), index('planned_orders_plan').on(table.planId, table.dueOn)],
)

export const purchaseOrders = pgTable(
  'purchase_orders',
  {
    id: id(),
    number: text().notNull().unique(),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    orderedOn: date().notNull(),
    /** Where it is to be delivered; none: the first site. */
    siteId: integer().references(() => sites.id),
    /** The supplier's currency, null for the company's own, and what one of it was worth on the day of the order. */
    currency: text(),
    rate: numeric().notNull().default('1'),
    /** open, done or cancelled; how far an open one is follows from what was sent, confirmed and received. */
    status: text().notNull().default('open'),
    note: text().notNull().default(''),
    paymentTerms: text().notNull().default(''),
    deliveryTerms: text().notNull().default(''),
    /** The customer's order to which the supplier delivers by themselves; our bins are not touched. */
    directOrderId: integer().references((): AnyPgColumn => salesOrders.id),
    /** Freight, setting-up and the like that the supplier asks for beside goods, in the order's currency. */
    charges: jsonb()
      .$type<readonly NamedAmount[]>()
      .notNull()
      .default(sql`'[]'`),
    /** When it was sent last, and its lines as they were sent: what differs since is a change that has to be sent. */
    sentOn: date(),
    sent: jsonb().$type<readonly SentLine[]>(),
    /** The number under which the supplier knows it. */
    supplierReference: text().notNull().default(''),
    /** Who approved it up to which sum, in the company’s currency. */
    approvedTotal: numeric(),
    approvedBy: integer().references(() => users.id),
    version: version(),
  },
  (table) => [check('purchase_orders_rate', sql`${table.rate} > 0`)],
)

export const purchaseLines = pgTable(
  'purchase_lines',
  {
    id: id(),
    orderId: integer()
      .notNull()
      .references(() => purchaseOrders.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    /** In the buying unit, with the price for one of it; and in the stock unit. */
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    price: numeric().notNull(),
    /** The price before the discount, where one was given: `price` is what is left of it. */
    listPrice: numeric(),
    discountPercent: numeric(),
    quantity: quantity().notNull(),
    received: quantity().notNull().default('0'),
    dueOn: date().notNull(),
    closedShort: boolean().notNull().default(false),
    /** When the supplier confirmed it, and what was asked where they confirmed something else. */
    confirmedOn: date(),
    asked: jsonb().$type<OrderedAs>(),
    /** The line of a sales order that it is bought for: what arrives is allocated to it. */
    salesLineId: integer().references((): AnyPgColumn => salesLines.id, { onDelete: 'set null' }),
    /**
     * The line that came as something else instead: this line is what came, and counts there as `replacedQuantity` in
     * that line's stock unit. It was never ordered.
     */
    replacesLineId: integer().references((): AnyPgColumn => purchaseLines.id),
    replacedQuantity: quantity(),
    /** The line of a blanket order that it calls off from. */
    blanketLineId: integer().references(() => blanketLines.id),
  },
  (table) => [
    unique().on(table.orderId, table.line),
    index('purchase_lines_replaces').on(table.replacesLineId),
    index('purchase_lines_sales_line').on(table.salesLineId),
    index('purchase_lines_blanket').on(table.blanketLineId),
    check('purchase_lines_sound', sql`${table.quantity} > 0 and ${table.received} >= 0 and ${table.price} >= 0`),
  ],
)

/** What somebody wants bought besides what plans and low stock propose: written down, or for a customer's order. */
export const buyingWants = pgTable(
  'buying_wants',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    quantity: quantity().notNull(),
    neededOn: date().notNull(),
    /** Where it is wanted; none: the first site. */
    siteId: integer().references(() => sites.id),
    note: text().notNull().default(''),
    /** The line of a sales order that it is bought for. */
    salesLineId: integer().references((): AnyPgColumn => salesLines.id, { onDelete: 'set null' }),
    /** Whether the supplier is to deliver it to that customer by themselves. */
    isDirect: boolean().notNull().default(false),
    userId: integer()
      .notNull()
      .references(() => users.id),
    notedOn: date().notNull(),
    status: text().$type<'open' | 'ordered' | 'dropped'>().notNull().default('open'),
    /** The order that it was written on. */
    orderId: integer().references(() => purchaseOrders.id),
  },
  (table) => [index('buying_wants_open').on(table.status), check('buying_wants_sound', sql`${table.quantity} > 0`)],
)

/** The number of the packing list that a goods receipt came with, where it had one. */
export const packingLists = pgTable(
  'packing_lists',
  {
    postingId: integer()
      .primaryKey()
      .references(() => postings.id),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    number: text().notNull(),
  },
  (table) => [index('packing_lists_number').on(table.supplierId, sql`lower(${table.number})`)],
)

/** Receipts that a file brought, which are taken back as one. */
export const batchReceipts = pgTable(
  'batch_receipts',
  {
    postingId: integer()
      .primaryKey()
      .references(() => postings.id),
    batchId: integer()
      .notNull()
      .references(() => batches.id),
  },
  (table) => [index('batch_receipts_batch').on(table.batchId)],
)

/** Goods of an order's line that went back to the supplier. */
export const supplierReturns = pgTable(
  'supplier_returns',
  {
    id: id(),
    number: text().notNull().unique(),
    orderId: integer()
      .notNull()
      .references(() => purchaseOrders.id),
    lineId: integer()
      .notNull()
      .references(() => purchaseLines.id),
    /** Null only while it is being recorded. */
    postingId: integer().references(() => postings.id),
    quantity: quantity().notNull(),
    reason: text().notNull(),
    /** The number under which the supplier knows it. */
    reference: text().notNull().default(''),
    expects: text().$type<ReturnExpects>().notNull(),
    /** What the supplier is expected to give for it, in minor units of the company's currency. */
    expected: minor().notNull(),
    isReversed: boolean().notNull().default(false),
  },
  (table) => [
    index('supplier_returns_line').on(table.lineId),
    check('supplier_returns_sound', sql`${table.quantity} > 0`),
  ],
)

/** What a supplier asks for, or gives back by a credit note: the amounts of the latter are below nought. */
export const supplierInvoices = pgTable('supplier_invoices', {
  id: id(),
  kind: text().notNull().default('invoice'),
  supplierId: integer()
    .notNull()
    .references(() => suppliers.id),
  number: text().notNull(),
  invoicedOn: date().notNull(),
  postingId: integer()
    .notNull()
    .references(() => postings.id),
  /** The return that it settles, and what a credit note gives for the goods of it, in minor units. */
  returnId: integer().references(() => supplierReturns.id),
  returned: minor()
    .notNull()
    .default(sql`0`),
  /** The posting that took it back. */
  cancelledId: integer().references(() => postings.id),
})

/** A charge that stands on an invoice beside goods, and by what it is spread over them. */
export const invoiceCharges = pgTable('invoice_charges', {
  id: id(),
  invoiceId: integer()
    .notNull()
    .references(() => supplierInvoices.id),
  name: text().notNull(),
  spread: text().$type<Spread>().notNull(),
  /** Minor units of the company's currency. */
  amount: minor().notNull(),
})

/**
 * What an invoice says of goods that one move brought in; `delta` is what they cost more than the order said. A line of
 * quantity 0 is their share of a charge, or of what a credit note gives back.
 */
export const invoiceLines = pgTable(
  'invoice_lines',
  {
    id: id(),
    invoiceId: integer()
      .notNull()
      .references(() => supplierInvoices.id),
    purchaseLineId: integer()
      .notNull()
      .references(() => purchaseLines.id),
    chargeId: integer().references(() => invoiceCharges.id),
    moveId: bigint({ mode: 'number' }).references(() => moves.id),
    quantity: quantity().notNull(),
    /** Minor units of the company's currency. */
    amount: minor().notNull(),
    delta: minor().notNull(),
  },
  (table) => [index('invoice_lines_move').on(table.moveId), index('invoice_lines_line').on(table.purchaseLineId)],
)
