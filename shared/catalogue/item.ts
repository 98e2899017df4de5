import * as z from 'zod'
import { checkStockLevels, describeMarkError, MARKS, type StockLevels } from '~~/core/stock/levels'
import { ratio } from '~~/core/units/exact'
import { Decimal, Id, Money, Note, Text } from '../primitives'
import {
  ITEM_SOURCES,
  TRACKINGS,
  COSTINGS,
  ITEM_KINDS,
  ITEM_STATUSES,
  ORDER_RULES,
  KIT_POLICIES,
  INHERITABLE,
} from './words'
import { unit, positiveAmount, Short, Days, OneOf, optional, OptionalId, mark } from './fields'
import {
  FinestStep,
  ShelfLife,
  Link,
  Relation,
  ItemCode,
  Terms,
  ItemPrice,
  ItemStockLevels,
  Substitute,
} from './item-parts'

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
  /** In per cent of what was ordered, where it is another than the supplier’s. */
  overDelivery: mark('per cent'),
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
  ItemFields.superRefine(checkItem),
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

type Fault = (message: string, ...path: (string | number)[]) => void

/** What the fields of an item must be to each other; each fault beside its field. */
function checkItem(item: ItemEdit, context: z.RefinementCtx): void {
  const fault: Fault = (message, ...path) => {
    context.addIssue({ code: 'custom', path, message })
  }
  checkMarks(item, fault)
  checkPrices(item, fault)
  for (const [rule, field, needed] of RULE_NEEDS) {
    if (item.orderRule === rule && (item[field] ?? '') === '') {
      fault(needed, field)
    }
  }
  if (item.source === 'moved from another site' && item.fromSiteId === null) {
    fault('Choose the site that it comes from.', 'fromSiteId')
  }
  checkRepeats(item, fault)
}

/** Stock levels rise from safety stock to maximum, of the item and with what a site has of its own. */
function checkMarks(item: ItemEdit, fault: Fault): void {
  const own = Object.fromEntries(MARKS.map((name) => [name, item[name]])) as unknown as StockLevels
  const head = checkStockLevels(own)
  if (!head.ok) {
    fault(describeMarkError(head.error), head.error.higher)
    return
  }
  item.marks.forEach((rule, index) => {
    const all = checkStockLevels(
      Object.fromEntries(MARKS.map((name) => [name, rule[name] ?? own[name]])) as unknown as StockLevels,
    )
    if (!all.ok) {
      fault(describeMarkError(all.error), 'marks', index, all.error.higher)
    }
  })
}

function checkPrices({ price, lowestPrice: low, highestPrice: high }: ItemEdit, fault: Fault): void {
  const isBelow = (a: string | null, b: string | null): boolean =>
    a !== null && b !== null && ratio(a).compare(ratio(b)) < 0
  if (isBelow(high, low)) {
    fault(`The highest price of ${high} lies below the lowest of ${low}.`, 'highestPrice')
  } else if (isBelow(price, low)) {
    fault(`The price lies below the lowest allowed, ${low}.`, 'price')
  } else if (isBelow(high, price)) {
    fault(`The price lies above the highest allowed, ${high}.`, 'price')
  }
}

function checkRepeats(item: ItemEdit, fault: Fault): void {
  eachRepeat(
    item.terms.map((t) => t.supplierId),
    (index) =>
      fault('This supplier is there already. Add a price tier to its line instead.', 'terms', index, 'supplierId'),
  )
  eachRepeat(
    item.codes.map((c) => `${c.kind} ${c.code.toLowerCase()}`),
    (index) => fault('This code is there already.', 'codes', index, 'code'),
  )
  eachRepeat(
    item.relations.map((r) => `${r.unit} ${r.ofUnit}`),
    (index) => fault('This relation is there already.', 'relations', index, 'per'),
  )
  eachRepeat(
    item.substitutes.map((s) => s.itemId),
    (index) => fault('This substitute is there already.', 'substitutes', index, 'itemId'),
  )
  eachRepeat(
    item.prices.map((p) => [p.priceListId, p.customerId, p.unit, p.fromQuantity, p.fromOn].join(' ')),
    (index) =>
      fault('This price is there already: same for whom, unit, quantity and first day.', 'prices', index, 'price'),
  )
  eachRepeat(
    item.marks.map((m) => [m.siteId, m.fromOn].join(' ')),
    (index) => fault('Marks for this site and first day are there already.', 'marks', index, 'siteId'),
  )
}

function eachRepeat(keys: readonly unknown[], onRepeat: (index: number) => void): void {
  keys.forEach((key, index) => {
    if (keys.indexOf(key) < index) {
      onRepeat(index)
    }
  })
}
