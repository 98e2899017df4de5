import { sql } from 'drizzle-orm'
import { boolean, check, index, integer, numeric, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import { id, quantity, version } from './columns'
import { calendars } from './company'

export const units = pgTable('units', {
  code: text().primaryKey(),
  name: text().notNull(),
  plural: text().notNull(),
  symbol: text().notNull(),
  dimension: text().notNull(),
  numerator: numeric(),
  denominator: numeric(),
  decimals: integer().notNull().default(2),
  rec20: text(),
  own: boolean().notNull().default(false),
  retired: boolean().notNull().default(false),
})

export const itemGroups = pgTable('item_groups', { id: id(), code: text().notNull().unique(), name: text().notNull() })

export const sites = pgTable('sites', { id: id(), code: text().notNull().unique(), name: text().notNull(), calendarId: integer().references(() => calendars.id) })

/** Bins, and the outside as places too, so that every move has two ends. */
export const places = pgTable('places', {
  id: id(),
  siteId: integer().references(() => sites.id),
  code: text().notNull().unique(),
  name: text().notNull(),
  kind: text().notNull(),
  pickOrder: integer().notNull().default(0),
  closedToPicking: boolean().notNull().default(false),
  closedToReceiving: boolean().notNull().default(false),
}, table => [check('places_bin_has_site', sql`(${table.kind} = 'bin') = (${table.siteId} is not null)`)])

export const suppliers = pgTable('suppliers', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  email: text().notNull().default(''),
  address: text().notNull().default(''),
  calendarId: integer().references(() => calendars.id),
})

export const customers = pgTable('customers', { id: id(), code: text().notNull().unique(), name: text().notNull(), address: text().notNull().default('') })

export const items = pgTable('items', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  groupId: integer().notNull().references(() => itemGroups.id),
  kind: text().notNull().default('stocked'),
  status: text().notNull().default('active'),
  source: text().notNull().default('bought'),
  stockUnit: text().notNull().references(() => units.code),
  buyingUnit: text().notNull().references(() => units.code),
  sellingUnit: text().notNull().references(() => units.code),
  finestStep: quantity().notNull(),
  leadDays: integer().notNull().default(0),
  tracking: text().notNull().default('none'),
  safetyStock: quantity().notNull().default('0'),
  shelfLifeDays: integer(),
  price: numeric(),
  note: text().notNull().default(''),
  version: version(),
}, table => [
  index('items_name').on(sql`lower(${table.name})`),
  check('items_finest_step_positive', sql`${table.finestStep} > 0`),
  check('items_safety_stock', sql`${table.safetyStock} >= 0`),
  check('items_lead_days', sql`${table.leadDays} >= 0`),
])

/** Packs and bridges: one `unit` of the item holds numerator/denominator of `ofUnit`. */
export const itemRelations = pgTable('item_relations', {
  itemId: integer().notNull().references(() => items.id),
  unit: text().notNull().references(() => units.code),
  ofUnit: text().notNull().references(() => units.code),
  numerator: numeric().notNull(),
  denominator: numeric().notNull(),
}, table => [
  primaryKey({ columns: [table.itemId, table.unit, table.ofUnit] }),
  check('item_relations_positive', sql`${table.numerator} > 0 and ${table.denominator} > 0`),
])

export const supplierTerms = pgTable('supplier_terms', {
  id: id(),
  itemId: integer().notNull().references(() => items.id),
  supplierId: integer().notNull().references(() => suppliers.id),
  rank: integer().notNull().default(1),
  supplierCode: text().notNull().default(''),
  unit: text().notNull().references(() => units.code),
  price: numeric().notNull(),
  minimum: quantity().notNull().default('0'),
  multiple: quantity().notNull().default('0'),
  leadDays: integer().notNull(),
}, table => [
  unique().on(table.itemId, table.supplierId),
  check('supplier_terms_sound', sql`${table.price} >= 0 and ${table.minimum} >= 0 and ${table.multiple} >= 0 and ${table.leadDays} >= 0`),
])
