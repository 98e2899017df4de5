import { Refusal } from './refusal'

/**
 * What things cost, by route: the fields of its answer, from outside in; lists on the way are gone through. Routes whose
 * whole answer is money want the right “costs” themselves.
 */
export const COST_FIELDS: Readonly<Record<string, readonly string[]>> = {
  '/api/catalogue/definitions/:kind/:id': [
    'orderCost',
    'otherCost',
    'standardCost',
    'workRate',
    'terms.price',
    'terms.tiers.price',
  ],
  '/api/catalogue/items': ['rows.value'],
  '/api/catalogue/items/:id': ['orderCost', 'standardCost', 'terms.price', 'terms.tiers.price'],
  '/api/catalogue/items/:id/sheet': ['unitCost'],
  '/api/demand/history': ['periods.cost'],
  '/api/demand/orders/:id': ['postings.value', 'postings.work'],
  '/api/planning/compare': ['plans.spend', 'plans.stock'],
  '/api/planning/plans/:id': ['figures.spend', 'figures.stock', 'nearTiers'],
  '/api/purchasing/buying': [
    'needs.offers.next',
    'needs.offers.price',
    'needs.offers.total',
    'suppliers.drafts.total',
    'suppliers.rate',
  ],
  '/api/purchasing/buying/offers': ['next', 'price', 'total'],
  '/api/purchasing/orders/:id': [
    'approvedTotal',
    'charges',
    'invoiced',
    'invoices',
    'kept',
    'lines.asked.price',
    'lines.listPrice',
    'lines.price',
    'lines.value',
    'postings.value',
    'postings.work',
    'rate',
    'returns.expected',
    'returns.settled.amount',
    'toApprove',
    'total',
    'uninvoiced',
    'unsent.after.price',
    'unsent.before.price',
  ],
  '/api/purchasing/orders/:id/receive': ['lines.value'],
  '/api/purchasing/suppliers/:id': [
    'creditsExpected',
    'items.lastPrice',
    'items.priceBefore',
    'items.prices',
    'notInvoiced',
  ],
  '/api/purchasing/unordered': ['lines.value'],
  '/api/stock/corrections': ['revalued'],
  '/api/stock/counts': ['worth', 'off'],
  '/api/stock/counts/:id': ['lines.worth', 'postings.value', 'postings.work'],
  '/api/stock/counts/:id/approve': ['value'],
  '/api/stock/inspections/:id': ['postings.value', 'postings.work'],
  '/api/stock/moves': ['rows.value', 'rows.adjusted', 'revalued'],
  '/api/stock/transfers/:id': ['postings.value', 'postings.work'],
  '/api/structure/compare': ['after.cost', 'before.cost', 'difference', 'lines.costAfter', 'lines.costBefore'],
  '/api/structure/parts': ['bills.other', 'bills.work', 'items.cost', 'items.offers', 'items.standardCost'],
  '/api/structure/:id/explode': ['cost', 'rows.cost', 'rows.unitCost', 'unpriced'],
  '/api/workshop/break-downs/:id': ['postings.value', 'postings.work'],
  '/api/workshop/builds/:id': ['cost', 'postings.value', 'postings.work', 'work'],
  '/api/workshop/builds/:id/close': ['writtenOff'],
  '/api/workshop/builds/:id/record': ['value', 'writtenOff'],
}

/**
 * An answer as it is for whoever may not see costs: null stands where each of them stood. A file of it, or an order of
 * it, would tell them: those are refused.
 */
export function withoutCosts<T>(route: string, query: object, answer: T): T {
  const fields = COST_FIELDS[route]
  if (fields === undefined || answer === null || answer === undefined) {
    return answer
  }
  const isFile = typeof answer === 'string' || answer instanceof Uint8Array
  if (isFile || asksBy(fields, query)) {
    throw new Refusal(
      'missing-right',
      'This shows what things cost, which you may not see. Ask an owner for that right.',
    )
  }
  const copy = structuredClone(answer)
  for (const field of fields) {
    takeOut(copy, field.split('.'))
  }
  return copy
}

/** Whether a list is sorted or filtered by what it must not tell. */
function asksBy(fields: readonly string[], query: object): boolean {
  const names = fields.map((field) => field.split('.').at(-1)!)
  const { sort, filter } = query as { sort?: unknown; filter?: unknown }
  const asked = JSON.stringify([sort ?? '', filter ?? ''])
  return names.some((name) => new RegExp(`\\b${name}\\b`).test(asked))
}

function takeOut(value: unknown, [name, ...inner]: readonly string[]): void {
  if (Array.isArray(value)) {
    value.forEach((entry) => takeOut(entry, [name!, ...inner]))
    return
  }
  if (typeof value !== 'object' || value === null || !(name! in value)) {
    return
  }
  const record = value as Record<string, unknown>
  if (inner.length === 0) {
    record[name!] = null
  } else {
    takeOut(record[name!], inner)
  }
}
