import { sql } from 'drizzle-orm'
import { check, date, integer, numeric, pgTable, text, unique } from 'drizzle-orm/pg-core'
import { items, suppliers, units } from './catalogue'
import { id, quantity, version } from './columns'

/** Quantities and prices that are agreed with a supplier over a period; orders call off from it. */
export const blanketOrders = pgTable(
  'blanket_orders',
  {
    id: id(),
    number: text().notNull().unique(),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    /** The number under which the supplier knows it. */
    reference: text().notNull().default(''),
    fromOn: date().notNull(),
    untilOn: date().notNull(),
    status: text().$type<'open' | 'ended'>().notNull().default('open'),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [check('blanket_orders_period', sql`${table.fromOn} <= ${table.untilOn}`)],
)

export const blanketLines = pgTable(
  'blanket_lines',
  {
    id: id(),
    blanketId: integer()
      .notNull()
      .references(() => blanketOrders.id),
    line: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    entered: text().notNull(),
    unit: text()
      .notNull()
      .references(() => units.code),
    /** For one of `unit`, in the supplier's currency. */
    price: numeric().notNull(),
    /** In the stock unit. */
    quantity: quantity().notNull(),
  },
  (table) => [
    unique().on(table.blanketId, table.line),
    check('blanket_lines_sound', sql`${table.quantity} > 0 and ${table.price} >= 0`),
  ],
)
