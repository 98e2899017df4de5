import { sql } from 'drizzle-orm'
import {
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
import type { Address, GroupDefaults, Link, Tier, Trait } from '~~/shared/catalogue/item-parts'
import { id, quantity, version } from './columns'
import { calendars } from './company'
import { pictures } from './files'

export const units = pgTable(
  'units',
  {
    id: integer().notNull().unique().generatedAlwaysAsIdentity(),
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
    version: version(),
  },
  (table) => [
    check(
      'units_ratio',
      sql`
        (${table.dimension} = 'pack') = (${table.numerator} is null)
          and coalesce(${table.numerator} > 0 and ${table.denominator} > 0, true)`,
    ),
  ],
)

/** Currencies other than the company's own, with what one of them is worth in it, from a day on. */
export const currencies = pgTable('currencies', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  retired: boolean().notNull().default(false),
  version: version(),
})

export const exchangeRates = pgTable(
  'exchange_rates',
  {
    currencyId: integer()
      .notNull()
      .references(() => currencies.id, { onDelete: 'cascade' }),
    fromOn: date().notNull(),
    rate: numeric().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.currencyId, table.fromOn] }),
    check('exchange_rates_positive', sql`${table.rate} > 0`),
  ],
)

/** A tree; what a group does not state itself comes from the group above. */
export const itemGroups = pgTable('item_groups', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  parentId: integer().references((): AnyPgColumn => itemGroups.id),
  numberPattern: text().notNull().default(''),
  defaults: jsonb().$type<GroupDefaults>().notNull().default({}),
  traits: jsonb().$type<Trait[]>().notNull().default([]),
  note: text().notNull().default(''),
  version: version(),
})

export const sites = pgTable('sites', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  calendarId: integer().references(() => calendars.id),
  address: text().notNull().default(''),
  outside: boolean().notNull().default(false),
  note: text().notNull().default(''),
  retired: boolean().notNull().default(false),
  version: version(),
})

/** Bins, and the outside as places too, so that every move has two ends. */
export const places = pgTable(
  'places',
  {
    id: id(),
    siteId: integer().references(() => sites.id),
    code: text().notNull().unique(),
    name: text().notNull(),
    kind: text().notNull(),
    pickOrder: integer().notNull().default(0),
    closedToPicking: boolean().notNull().default(false),
    closedToReceiving: boolean().notNull().default(false),
    quarantine: boolean().notNull().default(false),
    note: text().notNull().default(''),
    retired: boolean().notNull().default(false),
    version: version(),
  },
  (table) => [check('places_bin_has_site', sql`(${table.kind} = 'bin') = (${table.siteId} is not null)`)],
)

export const suppliers = pgTable('suppliers', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  email: text().notNull().default(''),
  phone: text().notNull().default(''),
  contact: text().notNull().default(''),
  address: text().notNull().default(''),
  calendarId: integer().references(() => calendars.id),
  /** Null where they are paid in the company's own currency. */
  currencyId: integer().references(() => currencies.id),
  paymentTerms: text().notNull().default(''),
  /** What an order has to be worth, and from where on freight is free: in the currency that they are paid in. */
  minimumOrder: numeric(),
  freeFreight: numeric(),
  /** In per cent of what was ordered: so much more is taken in without a reason. */
  overDelivery: numeric(),
  note: text().notNull().default(''),
  retired: boolean().notNull().default(false),
  version: version(),
})

export const priceLists = pgTable('price_lists', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  note: text().notNull().default(''),
  retired: boolean().notNull().default(false),
  version: version(),
})

export const customers = pgTable('customers', {
  id: id(),
  code: text().notNull().unique(),
  name: text().notNull(),
  email: text().notNull().default(''),
  phone: text().notNull().default(''),
  address: text().notNull().default(''),
  addresses: jsonb().$type<Address[]>().notNull().default([]),
  siteId: integer().references(() => sites.id),
  priceListId: integer().references(() => priceLists.id),
  note: text().notNull().default(''),
  retired: boolean().notNull().default(false),
  version: version(),
})

export const items = pgTable(
  'items',
  {
    id: id(),
    code: text().notNull().unique(),
    name: text().notNull(),
    groupId: integer()
      .notNull()
      .references(() => itemGroups.id),
    kind: text().notNull().default('stocked'),
    status: text().notNull().default('active'),
    source: text().notNull().default('bought'),
    fromSiteId: integer().references(() => sites.id),
    name2: text().notNull().default(''),
    stockUnit: text()
      .notNull()
      .references(() => units.code),
    buyingUnit: text()
      .notNull()
      .references(() => units.code),
    sellingUnit: text()
      .notNull()
      .references(() => units.code),
    makingUnit: text()
      .notNull()
      .references(() => units.code),
    finestStep: quantity().notNull(),
    leadDays: integer().notNull().default(0),
    tracking: text().notNull().default('none'),
    costing: text().notNull().default('moving average'),
    safetyStock: quantity().notNull().default('0'),
    reorderPoint: quantity(),
    targetStock: quantity(),
    maximumStock: quantity(),
    usualOrder: quantity(),
    /**
     * How much is ordered at once, with the numbers that some rules need; costs in the company's currency, holding in
     * per cent of the value a year.
     */
    orderRule: text().notNull().default('exact'),
    coverDays: integer(),
    orderCost: numeric(),
    holdingPercent: numeric(),
    maximumOrder: quantity(),
    /** In per cent of what was ordered, where it is another than the supplier's. */
    overDelivery: numeric(),
    /** Days within which an open order is pulled in rather than a new one planned; null is the lead time. */
    pullInDays: integer(),
    shelfLifeDays: integer(),
    price: numeric(),
    lowestPrice: numeric(),
    highestPrice: numeric(),
    /** What one stock unit is taken to cost, where it is planned rather than worked out. */
    standardCost: numeric(),
    kitPolicy: text().notNull().default('sealed'),
    purchaseText: text().notNull().default(''),
    salesText: text().notNull().default(''),
    links: jsonb().$type<Link[]>().notNull().default([]),
    pictureId: integer().references(() => pictures.id),
    /** Fields that follow the group; their columns hold what the group says now. */
    inherited: text()
      .array()
      .notNull()
      .default(sql`'{}'`),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [
    index('items_name').on(sql`lower(${table.name})`),
    index('items_group').on(table.groupId),
    check('items_finest_step_positive', sql`${table.finestStep} > 0`),
    check('items_safety_stock', sql`${table.safetyStock} >= 0`),
    check('items_lead_days', sql`${table.leadDays} >= 0`),
    check(
      'items_marks',
      sql`
        ${table.safetyStock} <= coalesce(
          ${table.reorderPoint}, ${table.targetStock}, ${table.maximumStock}, ${table.safetyStock}
        )
          and coalesce(${table.reorderPoint} <= coalesce(${table.targetStock}, ${table.maximumStock}), true)
          and coalesce(${table.targetStock} <= ${table.maximumStock}, true)`,
    ),
    check('items_prices', sql`coalesce(${table.lowestPrice} <= ${table.highestPrice}, true)`),
  ],
)

/** Packs and bridges: one `unit` of the item holds numerator/denominator of `ofUnit`. */
export const itemRelations = pgTable(
  'item_relations',
  {
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    unit: text()
      .notNull()
      .references(() => units.code),
    ofUnit: text()
      .notNull()
      .references(() => units.code),
    numerator: numeric().notNull(),
    denominator: numeric().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.itemId, table.unit, table.ofUnit] }),
    check('item_relations_positive', sql`${table.numerator} > 0 and ${table.denominator} > 0`),
  ],
)

export const supplierTerms = pgTable(
  'supplier_terms',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    rank: integer().notNull().default(1),
    supplierCode: text().notNull().default(''),
    unit: text()
      .notNull()
      .references(() => units.code),
    /** For one `unit`, in the supplier's currency; `tiers` say what it is from a quantity or a day on. */
    price: numeric().notNull(),
    tiers: jsonb().$type<Tier[]>().notNull().default([]),
    minimum: quantity().notNull().default('0'),
    multiple: quantity().notNull().default('0'),
    leadDays: integer().notNull(),
  },
  (table) => [
    unique().on(table.itemId, table.supplierId),
    index('supplier_terms_supplier').on(table.supplierId),
    check(
      'supplier_terms_sound',
      sql`${table.price} >= 0 and ${table.minimum} >= 0 and ${table.multiple} >= 0 and ${table.leadDays} >= 0`,
    ),
  ],
)

/** Other codes by which an item, in one of its units, is known; barcodes are unique. */
export const itemCodes = pgTable(
  'item_codes',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    code: text().notNull(),
    kind: text().notNull().default('code'),
    unit: text().references(() => units.code),
    whose: text().notNull().default(''),
  },
  (table) => [
    unique().on(table.itemId, table.code, table.kind),
    index('item_codes_code').on(sql`lower(${table.code})`),
  ],
)

/** What one `unit` is sold for: to everyone, on a price list, or to one customer; from a quantity and between days. */
export const itemPrices = pgTable(
  'item_prices',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    priceListId: integer().references(() => priceLists.id),
    customerId: integer().references(() => customers.id),
    unit: text()
      .notNull()
      .references(() => units.code),
    fromQuantity: quantity().notNull().default('0'),
    fromOn: date(),
    untilOn: date(),
    price: numeric().notNull(),
  },
  (table) => [
    unique('item_prices_key')
      .on(table.itemId, table.priceListId, table.customerId, table.unit, table.fromQuantity, table.fromOn)
      .nullsNotDistinct(),
    check(
      'item_prices_sound',
      sql`
        ${table.price} >= 0
          and ${table.fromQuantity} >= 0
          and coalesce(${table.fromOn} <= ${table.untilOn}, true)
          and (${table.priceListId} is null or ${table.customerId} is null)`,
    ),
  ],
)

/** Stock marks that differ from the item's own at a site, in a season, or both. */
export const itemStockLevels = pgTable(
  'item_marks',
  {
    id: id(),
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    siteId: integer().references(() => sites.id),
    fromOn: date(),
    untilOn: date(),
    yearly: boolean().notNull().default(false),
    safetyStock: quantity(),
    reorderPoint: quantity(),
    targetStock: quantity(),
    maximumStock: quantity(),
  },
  (table) => [unique('item_marks_key').on(table.itemId, table.siteId, table.fromOn).nullsNotDistinct()],
)

/** What may stand in for an item: one of it for numerator/denominator of the item, in stock units. */
export const itemSubstitutes = pgTable(
  'item_substitutes',
  {
    itemId: integer()
      .notNull()
      .references(() => items.id, { onDelete: 'cascade' }),
    substituteId: integer()
      .notNull()
      .references(() => items.id),
    rank: integer().notNull().default(1),
    numerator: numeric().notNull().default('1'),
    denominator: numeric().notNull().default('1'),
    bothWays: boolean().notNull().default(false),
  },
  (table) => [
    primaryKey({ columns: [table.itemId, table.substituteId] }),
    check(
      'item_substitutes_sound',
      sql`${table.itemId} <> ${table.substituteId} and ${table.numerator} > 0 and ${table.denominator} > 0`,
    ),
  ],
)
