import { sql } from 'drizzle-orm'
import { landedLines, leastTotal, offerFor, type Choice, type Quoted } from '~~/core/buying'
import { toMinor } from '~~/core/money'
import { rateOn } from '~~/core/pricing'
import { convert } from '~~/core/units/graph'
import { nearestEven, ratio, toText, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type {
  LeastTotal,
  QuotationRequest,
  QuotationRow,
  QuotedRow,
  RequestLine,
} from '~~/shared/purchasing/quotations'
import { loadMeasuredItems, type MeasuredItem } from '../../catalogue/measured-items'
import { arrivalsBy, type Arrivals } from '../../planning/arrivals'
import { loadCalendars } from '../../planning/calendars'
import { USUAL_WEEK } from '../../planning/planned-sites'
import { totalOfCharges } from '../purchase-total'

type Head = Omit<QuotationRequest, 'lines' | 'quotations' | 'least' | 'leastInTime'>
type StoredLine = Pick<QuotedRow, 'lineId' | 'unit' | 'price' | 'tiers' | 'minimum' | 'multiple' | 'leadDays' | 'order'>
type Stored = Omit<QuotationRow, 'lines' | 'total' | 'isWhole'> & {
  readonly calendar: number | null
  readonly rates: readonly { readonly fromOn: string; readonly rate: string }[]
  readonly lines: readonly StoredLine[]
}

/** A request with what its suppliers quote, line by line, and who is the cheapest in total. Errors: `not-found`. */
export async function loadRequest(reader: Reader, id: number, today: string): Promise<QuotationRequest> {
  const [head] = await rows<Head>(
    reader,
    sql`
      select
        r.id, r.number, r.asked_on as "askedOn", r.answer_by as "answerBy", r.site_id as "siteId", s.name as site,
        r.status, r.note, r.version
      from quotation_requests r
      left join sites s on s.id = r.site_id
      where r.id = ${id}`,
  )
  if (!head) {
    throw new Refusal('not-found', 'There is no such request for quotations.')
  }
  const lines = await loadLines(reader, id)
  const items = await loadMeasuredItems(
    reader,
    lines.map((line) => line.itemId),
  )
  const arrives = arrivalsBy(await loadCalendars(reader))
  const quotations = (await loadQuotations(reader, id)).map((quotation) =>
    comparable(quotation, lines, { items, arrives, today }),
  )
  return { ...head, lines, quotations, ...cheapest(lines, quotations) }
}

const loadLines = (reader: Reader, id: number): Promise<RequestLine[]> =>
  rows<RequestLine>(
    reader,
    sql`
      select
        l.id, l.line, l.item_id as "itemId", i.code, i.name, i.symbol, l.entered, l.unit,
        trim_scale(l.quantity)::text as quantity, l.needed_on as "neededOn", so.number as "forOrder",
        (
          select trim_scale(round(p.price * o.rate * p.entered::numeric / p.quantity, 6))::text
          from purchase_lines p
          join purchase_orders o on o.id = p.order_id
          where p.item_id = l.item_id and p.received > 0 and p.entered ~ '^[0-9.]+$'
          order by o.ordered_on desc, p.id desc
          limit 1
        ) as "lastPrice"
      from quotation_request_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      left join buying_wants w on w.id = l.want_id
      left join sales_lines sl on sl.id = w.sales_line_id
      left join sales_orders so on so.id = sl.order_id
      where l.request_id = ${id}
      order by l.line`,
  )

const loadQuotations = (reader: Reader, id: number): Promise<Stored[]> =>
  rows<Stored>(
    reader,
    sql`
      select
        q.supplier_id as "supplierId", s.name as supplier, s.email, c.code as currency, q.sent_on as "sentOn",
        q.reminded_on as "remindedOn", q.answered_on as "answeredOn", q.is_declined as "isDeclined", q.reference,
        q.valid_until as "validUntil", q.charges, q.note,
        coalesce(s.calendar_id, (select calendar_id from company)) as calendar,
        coalesce(
          (
            select json_agg(json_build_object('fromOn', r.from_on, 'rate', r.rate::text))
            from exchange_rates r
            where r.currency_id = c.id
          ),
          '[]'
        ) as rates,
        coalesce(
          (
            select
              json_agg(
                json_build_object(
                  'lineId', l.line_id, 'unit', l.unit, 'price', trim_scale(l.price)::text, 'tiers', l.tiers,
                  'minimum', trim_scale(l.minimum)::text, 'multiple', trim_scale(l.multiple)::text, 'leadDays',
                  l.lead_days, 'order',
                  (select json_build_object('id', o.id, 'number', o.number) from purchase_orders o where o.id = l.order_id)
                )
                order by l.line_id
              )
            from quotation_lines l
            where l.quotation_id = q.id
          ),
          '[]'
        ) as lines
      from quotations q
      join suppliers s on s.id = q.supplier_id
      left join currencies c on c.id = s.currency_id
      where q.request_id = ${id}
      order by q.id`,
  )

interface Known {
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly arrives: Arrivals
  readonly today: string
}

/** What one supplier quotes, in the company's own currency, with its charges shared over its lines by value. */
function comparable({ rates, calendar, ...stored }: Stored, lines: readonly RequestLine[], known: Known): QuotationRow {
  const rate = stored.currency === null ? ratio(1) : rateOn(rates, known.today)
  const week = calendar === null ? USUAL_WEEK : String(calendar)
  const quoted = stored.lines.map((line) => {
    const asked = lines.find((entry) => entry.id === line.lineId)!
    return {
      ...line,
      ...boughtBy(line, asked, rate, known),
      arrivesOn: known.arrives(week, known.today, line.leadDays),
    }
  })
  const charges = rate && nearestEven(ratio(totalOfCharges(stored.charges)).mul(rate))
  const amounts = quoted.flatMap(({ lineId, amount, arrivesOn }) =>
    amount === null ? [] : [{ lineId, amount: BigInt(amount), arrivesOn }],
  )
  const landed =
    charges === null
      ? new Map<number, bigint>()
      : landedLines({ supplierId: stored.supplierId, charges, lines: amounts })
  return {
    ...stored,
    lines: quoted.map((line) => ({ ...line, landed: landed.get(line.lineId)?.toString() ?? null })),
    total:
      charges === null || amounts.length === 0
        ? null
        : amounts.reduce((sum, line) => sum + line.amount, charges).toString(),
    isWhole: amounts.length === lines.length,
  }
}

/** What has to be bought of a line by the rules of its quotation, and what that costs in the company's currency. */
function boughtBy(
  line: StoredLine,
  asked: RequestLine,
  rate: Ratio | null,
  { items, today }: Known,
): Pick<QuotedRow, 'quantity' | 'priceThen' | 'amount'> {
  const item = items.get(asked.itemId)!
  const wanted = convert(item.measure.graph, ratio(asked.quantity), item.stockUnit, line.unit)
  if (!wanted.ok) {
    return { quantity: asked.entered, priceThen: line.price, amount: null }
  }
  const offer = offerFor(
    {
      price: line.price,
      tiers: line.tiers.map((tier) => ({ ...tier, fromOn: null, untilOn: null })),
      minimum: ratio(line.minimum),
      multiple: ratio(line.multiple),
    },
    wanted.value,
    today,
  )
  return {
    quantity: toText(offer.quantity),
    priceThen: toText(offer.price),
    amount: rate && nearestEven(toMinor(offer.amount.mul(rate))).toString(),
  }
}

function cheapest(
  lines: readonly RequestLine[],
  quotations: readonly QuotationRow[],
): Pick<QuotationRequest, 'least' | 'leastInTime'> {
  const quoted = quotations
    .filter((quotation) => quotation.total !== null)
    .map((quotation): Quoted => {
      const own = quotation.lines.flatMap(({ lineId, amount, arrivesOn }) =>
        amount === null ? [] : [{ lineId, amount: BigInt(amount), arrivesOn }],
      )
      const goods = own.reduce((sum, line) => sum + line.amount, 0n)
      return { supplierId: quotation.supplierId, charges: BigInt(quotation.total!) - goods, lines: own }
    })
  const lineIds = lines.map((line) => line.id)
  const least = asAnswer(leastTotal(lineIds, quoted))
  const inTime = asAnswer(leastTotal(lineIds, quoted, new Map(lines.map((line) => [line.id, line.neededOn]))))
  return { least, leastInTime: JSON.stringify(inTime) === JSON.stringify(least) ? null : inTime }
}

const asAnswer = (choice: Choice | null): LeastTotal | null =>
  choice && {
    total: choice.total.toString(),
    suppliers: [...choice.suppliers].map(([lineId, supplierId]) => ({ lineId, supplierId })),
  }
