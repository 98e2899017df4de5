import { z } from 'zod'
import { describeGtinError, readGtin } from '~~/core/codes'
import { COST_METHODS } from '~~/core/costing'
import type { Result } from '~~/core/result'
import { checkStockLevels, describeMarkError, MARKS, type StockLevels } from '~~/core/stock/levels'
import { buildUnitGraph, type Unit, type UnitError, type UnitGraph } from '~~/core/units/graph'
import { ratio, toText } from '~~/core/units/exact'
import { type ItemMeasure } from '~~/core/units/quantity'
import { Decimal, Id, Money, Note, OptionalDay, Page, Text } from './primitives'

export const ITEM_SOURCES = ['bought', 'made', 'kit', 'broken down', 'moved from another site'] as const

export const ITEM_STATUSES = ['active', 'no longer bought', 'retired'] as const

export const ITEM_KINDS = ['stocked', 'service'] as const

export const TRACKINGS = ['none', 'lot', 'piece'] as const

export const COSTINGS = COST_METHODS

export const KIT_POLICIES = ['sealed', 'open', 'either'] as const

/** How much a planned order is for: exactly what is missing, a fixed quantity, what is missing for some days, up to the maximum, the economic quantity, or what costs least over the plan. */
export const ORDER_RULES = ['exact', 'fixed', 'cover', 'up to', 'economic', 'least cost'] as const

export const CODE_KINDS = ['barcode', 'code'] as const

export const TRAIT_KINDS = ['text', 'number', 'choice'] as const

/** Fields of an item that a group may state for all in it. */
export const INHERITABLE = [
  'source',
  'stockUnit',
  'buyingUnit',
  'sellingUnit',
  'makingUnit',
  'finestStep',
  'tracking',
  'costing',
  'shelfLifeDays',
  'leadDays',
] as const

export type Inheritable = (typeof INHERITABLE)[number]

export interface UnitRow {
  readonly code: string
  readonly name: string
  readonly plural: string
  readonly symbol: string
  readonly dimension: Unit['dimension']
  readonly numerator: string | null
  readonly denominator: string | null
  readonly decimals: number
  readonly rec20: string | null
  readonly own: boolean
  readonly retired: boolean
}

/** One unit of an item holds so many of another: as exact text, or as the database keeps it. */
export type RelationRow = { readonly unit: string; readonly ofUnit: string } & (
  { readonly per: string } | { readonly numerator: string; readonly denominator: string }
)

export const unitOf = (row: UnitRow): Unit => ({
  ...row,
  ratio: row.numerator === null ? null : ratio(row.numerator).div(ratio(row.denominator ?? '1')),
})

const known = new WeakMap<readonly UnitRow[], ReadonlyMap<string, Unit>>()

/** The units of a list by their codes; made once a list, so that all items of one reading share them. */
function unitsByCode(units: readonly UnitRow[]): ReadonlyMap<string, Unit> {
  const there = known.get(units) ?? new Map(units.map((row) => [row.code, unitOf(row)]))
  known.set(units, there)
  return there
}

const bare = new WeakMap<readonly UnitRow[], Result<UnitGraph, UnitError>>()

/** The units alone, which all items without packs and bridges share. */
function graphOf(units: readonly UnitRow[]): Result<UnitGraph, UnitError> {
  const there = bare.get(units) ?? buildUnitGraph(unitsByCode(units), [])
  bare.set(units, there)
  return there
}

/** How an item is measured, from its rows: the one way in which server and browser join its units. */
export function measureOf(
  units: readonly UnitRow[],
  item: { readonly stockUnit: string; readonly finestStep: string; readonly relations: readonly RelationRow[] },
): Result<ItemMeasure, UnitError> {
  const graph =
    item.relations.length === 0
      ? graphOf(units)
      : buildUnitGraph(
          unitsByCode(units),
          item.relations.map((r) => ({
            unit: r.unit,
            per: 'per' in r ? ratio(r.per) : ratio(r.numerator).div(ratio(r.denominator)),
            of: r.ofUnit,
          })),
        )
  return graph.ok
    ? { ok: true, value: { graph: graph.value, stockUnit: item.stockUnit, finestStep: ratio(item.finestStep) } }
    : graph
}

/** One of a few words; what is none of them is told which there are. */
export const OneOf = <const T extends readonly [string, ...string[]]>(words: T) =>
  z.enum(words, {
    error: (issue) =>
      `${issue.input === undefined ? 'Choose' : `“${String(issue.input)}” is not`} one of: ${words.join(', ')}.`,
  })

export const positiveAmount = (what: string) => Exact.refine((text) => /[1-9]/.test(text), `Give ${what} above zero.`)

export const unit = z.string('Choose a unit.').min(1, 'Choose a unit.')

/** An exact number, as the one text that stands for it. */
export const Exact = z
  .string('Type a number.')
  .trim()
  .regex(/^(\d+(\.\d+)?|\d+\/[1-9]\d*)$/, 'Write a number such as 24, 1.32 or 1/3.')
  .transform((text) => toText(ratio(text)))

const empty = z.union([z.literal(''), z.null()]).transform(() => null)

/** An empty field is nothing; anything else is read, and told of, as the schema does. */
export const optional = <S extends z.ZodType>(schema: S) =>
  z.union([empty, schema], { error: (issue) => schema.safeParse(issue.input).error?.issues[0]?.message }).default(null)

const OptionalId = optional(Id)

const Days = (what: string) =>
  z.coerce
    .number(`Give ${what}.`)
    .int('Give whole working days.')
    .min(0, 'A lead time is not below zero.')
    .max(730, 'Two years at most.')

const Rank = z.coerce
  .number('Give a rank.')
  .int('Give a whole rank.')
  .min(1, 'Ranks begin at 1.')
  .max(99, 'Ranks end at 99.')

const Short = (max = 80) => z.string().trim().max(max, `Keep it to ${max} characters.`).default('')

const mark = (what: string) => optional(Decimal(what))

const Span = { fromOn: OptionalDay.default(null), untilOn: OptionalDay.default(null) }

const inOrder = (span: { fromOn: string | null; untilOn: string | null }): boolean =>
  span.fromOn === null || span.untilOn === null || span.fromOn <= span.untilOn

const ENDS_FIRST = { message: 'It ends before it begins.', path: ['untilOn'] }

export const Relation = z.object({ unit, per: positiveAmount('a content'), ofUnit: unit })

export const Tier = z
  .object({ fromQuantity: Decimal('the quantity'), ...Span, price: Money })
  .refine(inOrder, ENDS_FIRST)

export type Tier = z.output<typeof Tier>

export const Terms = z.object({
  supplierId: Id,
  rank: Rank.default(1),
  supplierCode: Short(),
  unit,
  price: Money,
  tiers: z.array(Tier).default([]),
  minimum: Decimal('the minimum').default('0'),
  multiple: Decimal('the multiple').default('0'),
  leadDays: Days('working days'),
})

export const ItemCode = z
  .object({ code: Text('a code', 80), kind: OneOf(CODE_KINDS).default('code'), unit: optional(unit), whose: Short() })
  .superRefine((entry, context) => {
    const digits = entry.code.replace(/[\s-]/g, '')
    if (entry.kind !== 'barcode' || !/^\d{8}$|^\d{12,14}$/.test(digits)) {
      return
    }
    const read = readGtin(digits)
    if (!read.ok) {
      context.addIssue({ code: 'custom', path: ['code'], message: describeGtinError(read.error) })
    }
  })

export const ItemPrice = z
  .object({
    priceListId: OptionalId,
    customerId: OptionalId,
    unit,
    fromQuantity: Decimal('the quantity').default('0'),
    ...Span,
    price: Money,
  })
  .refine(inOrder, ENDS_FIRST)
  .refine((p) => p.priceListId === null || p.customerId === null, {
    message: 'A price belongs to a list or to a customer, not to both.',
    path: ['customerId'],
  })

export const ItemStockLevels = z
  .object({
    siteId: OptionalId,
    ...Span,
    yearly: z.boolean().default(false),
    safetyStock: mark('the safety stock'),
    reorderPoint: mark('the reorder point'),
    targetStock: mark('the target'),
    maximumStock: mark('the maximum'),
  })
  .refine((m) => inOrder(m) || m.yearly, ENDS_FIRST)
  .refine((m) => !m.yearly || (m.fromOn !== null && m.untilOn !== null), {
    message: 'A yearly season needs its first and last day.',
    path: ['fromOn'],
  })

export const Substitute = z.object({
  itemId: Id,
  rank: Rank.default(1),
  per: positiveAmount('a ratio').default('1'),
  bothWays: z.boolean().default(false),
})

export const Link = z.object({
  title: Short(),
  url: z.url({ protocol: /^https?$/, error: 'Give an address that begins with http:// or https://.' }).max(500),
})

export type Link = z.output<typeof Link>

export const Trait = z
  .object({
    name: Text('a name', 60),
    kind: OneOf(TRAIT_KINDS).default('text'),
    unit: optional(unit),
    choices: Short(500),
  })
  .refine((t) => t.kind !== 'choice' || t.choices.split(',').filter((c) => c.trim()).length >= 2, {
    message: 'Give at least two choices, with commas between.',
    path: ['choices'],
  })

export type Trait = z.output<typeof Trait>

export const Address = z.object({ name: Text('a name', 80), address: Text('an address', 500) })

export type Address = z.output<typeof Address>

const FinestStep = z
  .string('Give the finest step.')
  .trim()
  .regex(/^\d+(\.\d+)?$/, 'Write the smallest quantity to record, for example 0.001.')
  .refine((t) => /[1-9]/.test(t), 'The finest step must be above zero.')

const ShelfLife = optional(
  z.coerce.number('Give days.').int('Give whole days.').positive('Give days above zero.').max(36_500),
)

/** What a group may state; a field that is absent comes from the group above. */
export const GroupDefaults = z
  .object({
    source: OneOf(ITEM_SOURCES),
    stockUnit: unit,
    buyingUnit: unit,
    sellingUnit: unit,
    makingUnit: unit,
    finestStep: FinestStep,
    tracking: OneOf(TRACKINGS),
    costing: OneOf(COSTINGS),
    shelfLifeDays: z.coerce.number('Give days.').int('Give whole days.').positive('Give days above zero.'),
    leadDays: Days('working days'),
    countDays: z.coerce
      .number('Give days.')
      .int('Give whole days.')
      .positive('Give days above zero.')
      .max(3650, 'Ten years at most.'),
  })
  .partial()

export type GroupDefaults = z.output<typeof GroupDefaults>

const ItemFields = z.object({
  code: Text('a code', 40),
  name: Text('a name'),
  name2: Short(200),
  groupId: Id,
  kind: OneOf(ITEM_KINDS).default('stocked'),
  status: OneOf(ITEM_STATUSES).default('active'),
  source: OneOf(ITEM_SOURCES).default('bought'),
  fromSiteId: OptionalId,
  stockUnit: unit,
  buyingUnit: unit,
  sellingUnit: unit,
  makingUnit: unit,
  finestStep: FinestStep,
  tracking: OneOf(TRACKINGS).default('none'),
  costing: OneOf(COSTINGS).default('moving average'),
  shelfLifeDays: ShelfLife,
  leadDays: Days('working days').default(0),
  usualOrder: mark('the usual order'),
  orderRule: OneOf(ORDER_RULES).default('exact'),
  coverDays: optional(
    z.coerce
      .number('Give days.')
      .int('Give whole days.')
      .positive('Give days above zero.')
      .max(730, 'Two years at most.'),
  ),
  orderCost: optional(Money),
  holdingPercent: optional(Decimal('per cent').refine((text) => Number(text) > 0, 'Give per cent above zero.')),
  maximumOrder: optional(positiveAmount('a maximum')),
  pullInDays: optional(
    z.coerce
      .number('Give days.')
      .int('Give whole days.')
      .min(0, 'Give no days below zero.')
      .max(730, 'Two years at most.'),
  ),
  safetyStock: Decimal('the safety stock').default('0'),
  reorderPoint: mark('the reorder point'),
  targetStock: mark('the target'),
  maximumStock: mark('the maximum'),
  price: optional(Money),
  lowestPrice: optional(Money),
  highestPrice: optional(Money),
  standardCost: optional(Money),
  kitPolicy: OneOf(KIT_POLICIES).default('sealed'),
  purchaseText: Note,
  salesText: Note,
  note: Note,
  pictureId: OptionalId,
  links: z.array(Link).max(30).default([]),
  inherited: z.array(z.enum(INHERITABLE)).default([]),
  relations: z.array(Relation).default([]),
  codes: z.array(ItemCode).default([]),
  terms: z.array(Terms).default([]),
  prices: z.array(ItemPrice).default([]),
  marks: z.array(ItemStockLevels).default([]),
  substitutes: z.array(Substitute).default([]),
})

/** An item as a whole: what its page edits, what a file brings, what a change is noted as. */
export const ItemEdit = z.preprocess(
  (raw) =>
    typeof raw === 'object' && raw !== null && !('makingUnit' in raw) && 'stockUnit' in raw
      ? { ...raw, makingUnit: raw.stockUnit }
      : raw,
  ItemFields.superRefine(sound),
)

export type ItemEdit = z.output<typeof ItemFields>

export const ITEM_FIELDS = Object.keys(ItemFields.shape) as readonly (keyof ItemEdit)[]

const RULE_NEEDS = [
  ['fixed', 'usualOrder', 'A fixed quantity is ordered: say which, as the usual order.'],
  ['cover', 'coverDays', 'Say how many days an order covers.'],
  ['up to', 'reorderPoint', 'Say below which stock an order is planned.'],
  ['up to', 'maximumStock', 'Say up to which stock an order fills.'],
  ['economic', 'orderCost', 'Say what an order costs.'],
  ['least cost', 'orderCost', 'Say what an order costs.'],
] as const

/** What the fields of an item must be to each other; each fault beside its field. */
function sound(item: ItemEdit, context: z.RefinementCtx): void {
  const fault = (message: string, ...path: (string | number)[]): void => {
    context.addIssue({ code: 'custom', path, message })
  }
  const own = Object.fromEntries(MARKS.map((m) => [m, item[m]])) as unknown as StockLevels
  const head = checkStockLevels(own)
  if (!head.ok) {
    fault(describeMarkError(head.error), head.error.higher)
  } else {
    item.marks.forEach((rule, index) => {
      const all = checkStockLevels(
        Object.fromEntries(MARKS.map((m) => [m, rule[m] ?? own[m]])) as unknown as StockLevels,
      )
      if (!all.ok) {
        fault(describeMarkError(all.error), 'marks', index, all.error.higher)
      }
    })
  }
  const [low, high] = [item.lowestPrice, item.highestPrice]
  if (low !== null && high !== null && ratio(low).compare(ratio(high)) > 0) {
    fault(`The highest price of ${high} lies below the lowest of ${low}.`, 'highestPrice')
  } else if (item.price !== null && low !== null && ratio(item.price).compare(ratio(low)) < 0) {
    fault(`The price lies below the lowest allowed, ${low}.`, 'price')
  } else if (item.price !== null && high !== null && ratio(item.price).compare(ratio(high)) > 0) {
    fault(`The price lies above the highest allowed, ${high}.`, 'price')
  }
  for (const [rule, field, needed] of RULE_NEEDS) {
    if (item.orderRule === rule && (item[field] ?? '') === '') {
      fault(needed, field)
    }
  }
  if (item.source === 'moved from another site' && item.fromSiteId === null) {
    fault('Choose the site that it comes from.', 'fromSiteId')
  }
  twice(
    item.terms.map((t) => t.supplierId),
    (index) =>
      fault('This supplier is there already. Add a price tier to its line instead.', 'terms', index, 'supplierId'),
  )
  twice(
    item.codes.map((c) => `${c.kind} ${c.code.toLowerCase()}`),
    (index) => fault('This code is there already.', 'codes', index, 'code'),
  )
  twice(
    item.relations.map((r) => `${r.unit} ${r.ofUnit}`),
    (index) => fault('This relation is there already.', 'relations', index, 'per'),
  )
  twice(
    item.substitutes.map((s) => s.itemId),
    (index) => fault('This substitute is there already.', 'substitutes', index, 'itemId'),
  )
  twice(
    item.prices.map((p) => [p.priceListId, p.customerId, p.unit, p.fromQuantity, p.fromOn].join(' ')),
    (index) =>
      fault('This price is there already: same for whom, unit, quantity and first day.', 'prices', index, 'price'),
  )
  twice(
    item.marks.map((m) => [m.siteId, m.fromOn].join(' ')),
    (index) => fault('Marks for this site and first day are there already.', 'marks', index, 'siteId'),
  )
}

function twice(keys: readonly unknown[], tell: (index: number) => void): void {
  keys.forEach((key, index) => {
    if (keys.indexOf(key) < index) {
      tell(index)
    }
  })
}

export const ItemQuery = Page.extend({
  status: z.enum(['', ...ITEM_STATUSES]).default(''),
  group: z.coerce.number().int().optional(),
  source: z.enum(['', ...ITEM_SOURCES]).default(''),
  kind: z.enum(['', ...ITEM_KINDS]).default(''),
  supplier: z.coerce.number().int().optional(),
})

/** Many items at once: the same value in one field of each. Empty sets the field to nothing, `inherit` to what the group says. */
export const SETTABLE = [
  'groupId',
  'status',
  'kind',
  'source',
  'tracking',
  'shelfLifeDays',
  'leadDays',
  'safetyStock',
  'reorderPoint',
  'targetStock',
  'maximumStock',
  'usualOrder',
  'orderRule',
  'coverDays',
  'orderCost',
  'holdingPercent',
  'maximumOrder',
  'pullInDays',
  'price',
  'lowestPrice',
  'highestPrice',
  'standardCost',
  'kitPolicy',
  'buyingUnit',
  'sellingUnit',
  'makingUnit',
  'name2',
  'purchaseText',
  'salesText',
  'note',
] as const

export const SetMany = z.object({
  ids: z.array(Id).min(1, 'Choose at least one item.').max(50_000),
  field: z.enum(SETTABLE, 'Choose a field.'),
  value: z.string().trim().max(2000),
  inherit: z.boolean().default(false),
  dry: z.boolean().default(false),
})

export const FreeCode = z.object({ group: Id })

export type SetMany = z.output<typeof SetMany>
