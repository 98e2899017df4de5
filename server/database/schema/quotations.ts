import { sql } from 'drizzle-orm'
import { boolean, check, date, index, integer, jsonb, numeric, pgTable, text, unique } from 'drizzle-orm/pg-core'
import type { Tier } from '~~/shared/catalogue/item-parts'
import type { NamedAmount } from '~~/shared/purchasing/charges'
import { items, sites, suppliers, units } from './catalogue'
import { id, quantity, version } from './columns'
import { buyingWants, purchaseOrders } from './orders'

/** What several suppliers are asked to quote for. */
export const quotationRequests = pgTable('quotation_requests', {
  id: id(),
  number: text().notNull().unique(),
  askedOn: date().notNull(),
  /** When answers are wanted; from the day after it is reminded of. */
  answerBy: date().notNull(),
  /** Where it is to be delivered; none: the first site. */
  siteId: integer().references(() => sites.id),
  status: text().$type<'open' | 'taken' | 'cancelled'>().notNull().default('open'),
  note: text().notNull().default(''),
  version: version(),
})

export const quotationRequestLines = pgTable(
  'quotation_request_lines',
  {
    id: id(),
    requestId: integer()
      .notNull()
      .references(() => quotationRequests.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    /** In the stock unit. */
    quantity: quantity().notNull(),
    neededOn: date().notNull(),
    /** What was written down on the buying list, which is ordered with it. */
    wantId: integer().references(() => buyingWants.id),
  },
  (table) => [
    unique().on(table.requestId, table.line),
    check('quotation_request_lines_sound', sql`${table.quantity} > 0`),
  ],
)

/** A supplier who is asked, and what they answered. Amounts are in the currency that they are paid in. */
export const quotations = pgTable(
  'quotations',
  {
    id: id(),
    requestId: integer()
      .notNull()
      .references(() => quotationRequests.id),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    sentOn: date(),
    remindedOn: date(),
    answeredOn: date(),
    isDeclined: boolean().notNull().default(false),
    /** The number under which the supplier knows it. */
    reference: text().notNull().default(''),
    validUntil: date(),
    charges: jsonb()
      .$type<readonly NamedAmount[]>()
      .notNull()
      .default(sql`'[]'`),
    note: text().notNull().default(''),
  },
  (table) => [unique().on(table.requestId, table.supplierId), index('quotations_supplier').on(table.supplierId)],
)

/** What a supplier asks for one line, for one of `unit`. */
export const quotationLines = pgTable(
  'quotation_lines',
  {
    id: id(),
    quotationId: integer()
      .notNull()
      .references(() => quotations.id),
    lineId: integer()
      .notNull()
      .references(() => quotationRequestLines.id),
    unit: text()
      .notNull()
      .references(() => units.code),
    price: numeric().notNull(),
    tiers: jsonb()
      .$type<Tier[]>()
      .notNull()
      .default(sql`'[]'`),
    minimum: quantity().notNull().default('0'),
    multiple: quantity().notNull().default('0'),
    leadDays: integer().notNull(),
    /** The order that it was taken into. */
    orderId: integer().references(() => purchaseOrders.id),
  },
  (table) => [
    unique().on(table.quotationId, table.lineId),
    check(
      'quotation_lines_sound',
      sql`${table.price} >= 0 and ${table.minimum} >= 0 and ${table.multiple} >= 0 and ${table.leadDays} >= 0`,
    ),
  ],
)
