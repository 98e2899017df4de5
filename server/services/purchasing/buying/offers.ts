import { sql } from 'drizzle-orm'
import { offerFor, type SellingTerms } from '~~/core/buying'
import { toMinor } from '~~/core/money'
import { rateOn, type PriceTier } from '~~/core/pricing'
import { convert } from '~~/core/units/graph'
import type { GivenQuantity } from '~~/core/units/quantity'
import { nearestEven, ratio, toText, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { OfferRow } from '~~/shared/purchasing/buying'
import { loadMeasuredItem, readQuantity, type MeasuredItem } from '../../catalogue/measured-items'
import { arrivalsBy, type Arrivals } from '../../planning/arrivals'
import { loadCalendars } from '../../planning/calendars'
import { USUAL_WEEK } from '../../planning/planned-sites'
import { punctualityOf, type Punctuality } from '../punctuality'

interface TermsRow {
  readonly itemId: number
  readonly supplierId: number
  readonly supplier: string
  readonly currency: string | null
  readonly rates: readonly { readonly fromOn: string; readonly rate: string }[]
  readonly calendar: number | null
  readonly unit: string
  readonly symbol: string
  readonly price: string
  readonly minimum: string
  readonly multiple: string
  readonly leadDays: number
  readonly tiers: readonly PriceTier[]
}

/** What is wanted of an item. */
interface Wanted {
  readonly item: MeasuredItem
  readonly quantity: Ratio
}
export type OffersOf = (wanted: Wanted) => OfferRow[]

/** What the suppliers of some items ask on a day, and when it would be there if it were ordered then. */
export async function offersOn(reader: Reader, itemIds: readonly number[], today: string): Promise<OffersOf> {
  const terms = await loadTerms(reader, itemIds)
  const arrives = arrivalsBy(await loadCalendars(reader))
  const cameBy = await punctualityOf([...new Set(terms.map(({ supplierId }) => supplierId))], today)
  return (wanted) =>
    terms
      .filter(({ itemId }) => itemId === wanted.item.id)
      .flatMap((own) => offerOf(own, wanted, { today, arrives, came: cameBy(own.supplierId) }) ?? [])
}

/** The same for one item, of which so much is wanted in one of its units. Errors: `invalid-input`. */
export async function offersFor(
  reader: Reader,
  asked: { readonly itemId: number; readonly quantity: GivenQuantity; readonly unit: string },
  today: string,
): Promise<OfferRow[]> {
  const item = await loadMeasuredItem(reader, asked.itemId)
  const { quantity } = readQuantity(item, asked.quantity, asked.unit, 'quantity', 'required')
  return (await offersOn(reader, [item.id], today))({ item, quantity })
}

const loadTerms = (reader: Reader, itemIds: readonly number[]): Promise<TermsRow[]> =>
  rows<TermsRow>(
    reader,
    sql`
      select
        t.item_id as "itemId", t.supplier_id as "supplierId", s.name as supplier, c.code as currency,
        coalesce(
          (
            select json_agg(json_build_object('fromOn', r.from_on, 'rate', r.rate::text))
            from exchange_rates r
            where r.currency_id = c.id
          ),
          '[]'
        ) as rates,
        coalesce(s.calendar_id, (select calendar_id from company)) as calendar, t.unit, u.symbol, t.price::text,
        t.minimum::text, t.multiple::text, t.lead_days as "leadDays",
        t.tiers
      from supplier_terms t
      join suppliers s on s.id = t.supplier_id and not s.retired
      join units u on u.code = t.unit
      left join currencies c on c.id = s.currency_id
      where ${anyOf(sql`t.item_id`, itemIds)}
      order by t.rank, t.id`,
  )

interface On {
  readonly today: string
  readonly arrives: Arrivals
  readonly came: Punctuality
}

/** Null where the item cannot be measured in the unit in which it is sold. */
function offerOf(terms: TermsRow, { item, quantity }: Wanted, { today, arrives, came }: On): OfferRow | null {
  const wanted = convert(item.measure.graph, quantity, item.stockUnit, terms.unit)
  if (!wanted.ok) {
    return null
  }
  const sold: SellingTerms = { ...terms, minimum: ratio(terms.minimum), multiple: ratio(terms.multiple) }
  const offer = offerFor(sold, wanted.value, today)
  const rate = terms.currency === null ? ratio(1) : rateOn(terms.rates, today)
  const inOwn = (amount: Ratio): string | null => (rate ? nearestEven(toMinor(amount.mul(rate))).toString() : null)
  const calendar = terms.calendar === null ? USUAL_WEEK : String(terms.calendar)
  const { supplierId, supplier, unit, symbol, minimum, multiple, currency, leadDays } = terms
  return {
    supplierId,
    supplier,
    unit,
    symbol,
    wanted: toText(wanted.value),
    quantity: toText(offer.quantity),
    minimum,
    multiple,
    price: toText(offer.price),
    currency,
    total: inOwn(offer.amount),
    leadDays,
    arrivesOn: arrives(calendar, today, leadDays),
    lines: came.lines,
    onTime: came.onTime,
    next: offer.next && {
      more: toText(offer.next.quantity.sub(offer.quantity)),
      price: toText(offer.next.price),
      saves: inOwn(offer.amount.sub(offer.next.amount)),
    },
  }
}
