import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { convert } from '~~/core/units/graph'
import { printAmount } from '~~/core/units/quantity'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { TermsConcern } from '~~/shared/purchasing/answers'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { arrivalsBy, type Arrivals } from '../planning/arrivals'
import { loadCalendars } from '../planning/calendars'
import { USUAL_WEEK } from '../planning/planned-sites'

/** Under this name the history of a new order keeps what stands against the supplier's terms. */
export const KEPT = 'kept all the same'

/** A line of a purchase order: its quantity in the stock unit. */
export interface OrderedLine {
  readonly itemId: number
  readonly quantity: Ratio
  readonly dueOn: string
}

interface Terms {
  readonly itemId: number
  readonly unit: string
  readonly symbol: string
  readonly minimum: string
  readonly multiple: string
  readonly leadDays: number
}

interface Supplier {
  readonly name: string
  readonly calendar: string
  readonly today: string
}

/**
 * What is odd about the lines of an order, by what the supplier's terms say; each with what would be right, where that
 * can be said.
 */
export async function checkTerms(
  reader: Reader,
  supplierId: number,
  orderedOn: string,
  lines: readonly OrderedLine[],
): Promise<TermsConcern[]> {
  const ids = lines.map((line) => line.itemId)
  const items = await loadMeasuredItems(reader, ids)
  const [supplier] = await rows<{ name: string; calendar: number | null }>(
    reader,
    sql`
      select s.name, coalesce(s.calendar_id, (select calendar_id from company)) as calendar
      from suppliers s
      where s.id = ${supplierId}`,
  )
  if (!supplier) {
    return []
  }
  const terms = await rows<Terms>(
    reader,
    sql`
      select
        t.item_id as "itemId", t.unit, u.symbol, t.minimum::text, t.multiple::text, t.lead_days as "leadDays"
      from supplier_terms t
      join units u on u.code = t.unit
      where t.supplier_id = ${supplierId} and ${anyOf(sql`t.item_id`, ids)}`,
  )
  const arrives = arrivalsBy(await loadCalendars(reader))
  const known: Supplier = {
    name: supplier.name,
    calendar: supplier.calendar === null ? USUAL_WEEK : String(supplier.calendar),
    today: orderedOn,
  }
  return lines.flatMap((line, index) => {
    const item = items.get(line.itemId)
    const own = terms.find((entry) => entry.itemId === line.itemId)
    if (!item || item.kind === 'service') {
      return []
    }
    const found = own
      ? [...checkQuantity(item, line, own, known), ...checkDay(item, line, own, { ...known, arrives })]
      : [checkSource(item, known)]
    return found.map((concern) => ({ line: index, ...concern }))
  })
}

type Concern = Omit<TermsConcern, 'line'>

function checkSource(item: MeasuredItem, supplier: Supplier): Concern {
  const detail =
    item.source === 'bought'
      ? `${supplier.name} has no terms for ${item.code}.`
      : `${item.code} is ${item.source === 'kit' ? 'a kit that is packed here' : `${item.source} here`}, and ${supplier.name} has no terms for it.`
  return { field: 'itemId', detail, right: null }
}

function checkQuantity(item: MeasuredItem, { quantity }: OrderedLine, terms: Terms, supplier: Supplier): Concern[] {
  const read = convert(item.measure.graph, quantity, item.stockUnit, terms.unit)
  if (!read.ok) {
    return []
  }
  const [minimum, multiple] = [ratio(terms.minimum), ratio(terms.multiple)]
  const isBelow = read.value.compare(minimum) < 0
  const right = upTo(isBelow ? minimum : read.value, multiple)
  if (!isBelow && right.equals(read.value)) {
    return []
  }
  const amount = (of: Ratio): string => `${printAmount(of, 6, item.writing)} ${terms.symbol}`
  return [
    {
      field: 'quantity',
      detail: isBelow
        ? `${supplier.name} sells ${item.code} from ${amount(minimum)} on.`
        : `${supplier.name} sells ${item.code} in steps of ${amount(multiple)}.`,
      right: { quantity: toText(right), unit: terms.unit, text: amount(right) },
    },
  ]
}

/** The next whole number of multiples; the quantity itself where there is none. */
function upTo(quantity: Ratio, multiple: Ratio): Ratio {
  return multiple.compare(ZERO) > 0 ? toSteps(quantity, multiple, 'required').quantity : quantity
}

function checkDay(
  item: MeasuredItem,
  { dueOn }: OrderedLine,
  { leadDays }: Terms,
  supplier: Supplier & { readonly arrives: Arrivals },
): Concern[] {
  const soonest = supplier.arrives(supplier.calendar, supplier.today, leadDays)
  if (dueOn >= soonest) {
    return []
  }
  const days = leadDays === 1 ? '1 working day' : `${leadDays} working days`
  const detail = `${supplier.name} takes ${days} for ${item.code}: ${printDay(soonest, supplier.today, item.writing.dateFormat)} at the soonest.`
  return [
    {
      field: 'dueOn',
      detail,
      right: { dueOn: soonest, text: printDay(soonest, supplier.today, item.writing.dateFormat) },
    },
  ]
}

/** What its author kept although the supplier's terms say otherwise, as it was told when the order was entered. */
export async function keptAgainstTerms(reader: Reader, id: number): Promise<readonly string[]> {
  const [noted] = await rows<{ kept: string[] | null }>(
    reader,
    sql`
      select after -> ${KEPT} as kept
      from changes
      where entity = 'purchase order' and entity_id = ${String(id)} and before is null
      order by id
      limit 1`,
  )
  return noted?.kept ?? []
}
