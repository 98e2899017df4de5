import { sql } from 'drizzle-orm'
import { ONE, ratio, toDecimal, toText, ZERO } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { SuppliedItem, SupplierPage } from '~~/shared/purchasing/supplier-page'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { uninvoicedOfSupplier } from './invoice-queries'
import { punctualityOf } from './punctuality'

/** Decimals of a price that was turned into another unit. */
const PRICE_DECIMALS = 6

/** What is known of a supplier from what was ordered and came, up to a day. Errors: `not-found`. */
export async function supplierPage(id: number, today: string): Promise<SupplierPage> {
  const [supplier] = await rows<
    Omit<
      SupplierPage,
      'lines' | 'inFull' | 'onTime' | 'inspected' | 'rejected' | 'notInvoiced' | 'creditsExpected' | 'items'
    >
  >(
    db,
    sql`
      select
        s.id, s.code, s.name, s.contact, s.email, s.phone, s.address, c.code as currency,
        s.payment_terms as "paymentTerms", s.note, s.retired
      from suppliers s
      left join currencies c on c.id = s.currency_id
      where s.id = ${id}`,
  )
  if (!supplier) {
    throw new Refusal('not-found', 'There is no such supplier.')
  }
  const uninvoiced = await uninvoicedOfSupplier(id)
  return {
    ...supplier,
    ...(await punctualityOf([id], today))(id),
    ...(await inspectedOf(id, today)),
    notInvoiced: uninvoiced.reduce((sum, line) => sum + BigInt(line.amount), 0n).toString(),
    creditsExpected: await creditsExpected(id),
    items: await suppliedItems(id, today),
  }
}

/** Inspections of their goods that were decided within a year, and those that sorted or rejected what came. */
async function inspectedOf(id: number, today: string): Promise<Pick<SupplierPage, 'inspected' | 'rejected'>> {
  const [found] = await rows<Pick<SupplierPage, 'inspected' | 'rejected'>>(
    db,
    sql`
      select
        count(*)::int as inspected, (count(*) filter (where decision in ('sorted', 'rejected')))::int as rejected
      from inspections
      where supplier_id = ${id} and status = 'decided' and decided_on between ${today}::date - 365 and ${today}::date`,
  )
  return found!
}

/** What a supplier has yet to give for goods that went back. Minor units of the company's currency. */
async function creditsExpected(id: number): Promise<string> {
  const [found] = await rows<{ amount: string }>(
    db,
    sql`
      select coalesce(sum(r.expected), 0)::text as amount
      from supplier_returns r
      join purchase_orders o on o.id = r.order_id
      where o.supplier_id = ${id}
        and not r.is_reversed
        and not exists (select 1 from supplier_invoices v where v.return_id = r.id and v.cancelled_id is null)`,
  )
  return found!.amount
}

interface OrderedLine {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly unit: string
  readonly price: string
  readonly on: string
  readonly received: string
}

/** What was ordered of them, item by item, with its prices in the unit that it was ordered in last. */
async function suppliedItems(id: number, today: string): Promise<SuppliedItem[]> {
  const lines = await rows<OrderedLine>(
    db,
    sql`
      select
        l.item_id as "itemId", i.code, i.name, i.symbol, l.unit, l.price, o.ordered_on as on,
        case when o.ordered_on > ${today}::date - 365 then l.received else 0 end::text as received
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id and o.status <> 'cancelled'
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where o.supplier_id = ${id}
      order by i.code, o.ordered_on, l.id`,
  )
  const measured = await loadMeasuredItems(db, [...new Set(lines.map((line) => line.itemId))])
  const ids = [...measured.keys()]
  return ids.flatMap((itemId) => {
    const own = lines.filter((line) => line.itemId === itemId)
    const last = own.at(-1)
    return last ? [suppliedItem(measured.get(itemId)!, own, last, today)] : []
  })
}

function suppliedItem(item: MeasuredItem, own: readonly OrderedLine[], last: OrderedLine, today: string): SuppliedItem {
  const yearAgo = `${Number(today.slice(0, 4)) - 1}${today.slice(4)}`
  const prices = own.map(({ on, price, unit }) => ({ on, price: priceIn(item, price, unit, last.unit) }))
  return {
    id: item.id,
    code: item.code,
    name: last.name,
    symbol: item.symbol,
    unit: last.unit,
    lastOn: last.on,
    lastPrice: prices.at(-1)!.price,
    priceBefore: prices.findLast(({ on }) => on <= yearAgo)?.price ?? null,
    received: toText(own.reduce((sum, line) => sum.add(ratio(line.received)), ZERO)),
    prices,
  }
}

/** A price for one of a unit as one for another; as it is where they cannot be compared. */
function priceIn(item: MeasuredItem, price: string, unit: string, other: string): string {
  const one = convert(item.measure.graph, ONE, other, unit)
  return unit === other || !one.ok ? price : trimmed(toDecimal(ratio(price).mul(one.value), PRICE_DECIMALS))
}

/** Without noughts behind the decimal sign. */
const trimmed = (decimal: string): string => decimal.replace(/(\.\d*?)0+$/, '$1').replace(/\.$/, '')
