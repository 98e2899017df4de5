import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { ratio, toText } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf, anywhere, MEASURED_ITEM, minorOf, namedColumns, readPage } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { OrderQuery } from '~~/shared/demand/requests'
import type { Paged } from '~~/shared/primitives'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { ALLOCATED, servedLines } from '../dispatch/serving'
import { loadPacking, packable, isPackedAtShipment } from '../dispatch/pack-at-shipment'
import { IS_WANTED } from '../purchasing/buying/wants'
import { soldOutsideLimits } from './price-limits'
import { loadPostings } from '../../ledger/postings'

export interface SalesOrderRow {
  id: number
  number: string
  customer: string
  orderedOn: string
  dueOn: string
  status: string
  lines: number
  shortLines: number
  summary: string
  /** What was ordered is worth at its prices, in minor units. */
  value: string
}

const ORDER_COLUMNS = namedColumns({
  dueOn: 'day',
  number: 'text',
  customer: 'text',
  orderedOn: 'day',
  summary: 'text',
  status: 'text',
  lines: 'number',
  value: 'number',
})

/** Sales orders, soonest due first, each with how many of its open lines cannot be filled from what is free now. */
export async function listOrders(query: z.output<typeof OrderQuery>): Promise<Paged<SalesOrderRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        o.id, o.number, c.name as customer, o.ordered_on as "orderedOn", o.due_on as "dueOn", o.status,
        (select count(*)::int from sales_lines l where l.order_id = o.id) as lines,
        0 as "shortLines",
        (
          select coalesce(sum(round(${minorOf(sql`l.quantity * l.stock_price`)})), 0)
          from sales_lines l
          where l.order_id = o.id
        ) as value,
        (
          select string_agg(
            l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
            order by l.line
          )
          from sales_lines l
          join items i on i.id = l.item_id
          where l.order_id = o.id
        ) as summary
      from sales_orders o
      join customers c on c.id = o.customer_id
      where ${query.status} = '' or (${query.status} = 'open') = (o.status = 'open')
    ) list`
  const where = sql`
    (
      ${query.search} = ''
        or number ilike ${like}
        or customer ilike ${like}
        or exists (
          select 1
          from sales_lines l
          join items i on i.id = l.item_id
          where l.order_id = list.id and (i.code ilike ${like} or i.name ilike ${like})
        )
    )`
  const { rows: list, total } = await readPage<SalesOrderRow>(db, query, {
    from,
    where,
    columns: ORDER_COLUMNS,
    usual: sql`(status <> 'open'), "dueOn", number`,
  })
  const short = await shortLinesOf(list.map((order) => order.id))
  return { rows: list.map((order) => ({ ...order, shortLines: short.get(order.id) ?? 0 })), total }
}

/** Of some open orders, how many lines cannot be filled from what is free once the orders before them are served. */
async function shortLinesOf(orderIds: readonly number[]): Promise<ReadonlyMap<number, number>> {
  if (orderIds.length === 0) {
    return new Map()
  }
  const items = sql`select item_id from sales_lines where ${anyOf(sql`order_id`, orderIds)}`
  const found = await rows<{ orderId: number; short: number }>(
    db,
    sql`
      select s.order_id as "orderId", count(*)::int as short
      from ${await servedLines(db, items)} s
      where s.open > s.got
      group by 1`,
  )
  return new Map(found.map((row) => [row.orderId, row.short]))
}

export interface SalesLineRow {
  id: number
  line: number
  itemId: number
  code: string
  name: string
  entered: string
  unit: string
  quantity: string
  shipped: string
  allocated: string
  /**
   * What of the item is free where the order is served from, for all who want it; and what of that falls to this line
   * in the order of serving.
   */
  free: string
  got: string
  kind: 'stocked' | 'service'
  price: string
  symbol: string
  decimals: number
  stockUnit: string
  source: string
  /** Open builds for this line. */ builds: { id: number; number: string }[]
  /** Purchases for this line that are to come, and whether it stands on the buying list. */
  purchases: { id: number; number: string; dueOn: string }[]
  isToBuy: boolean
}

export async function loadOrder(id: number, today: string) {
  const [order] = await rows<{
    id: number
    number: string
    customerId: number
    customer: string
    address: string
    orderedOn: string
    dueOn: string
    status: string
    note: string
    version: number
    siteId: number | null
    site: string | null
    priority: number
    outsideRef: string | null
  }>(
    db,
    sql`
      select
        o.site_id as "siteId", (select name from sites where id = o.site_id) as site, o.priority,
        o.outside_ref as "outsideRef", o.id, o.number, o.customer_id as "customerId", c.name as customer,
        c.address, o.ordered_on as "orderedOn", o.due_on as "dueOn", o.status, o.note, o.version
      from sales_orders o
      join customers c on c.id = o.customer_id
      where o.id = ${id}`,
  )
  if (!order) {
    throw new Refusal('not-found', 'There is no such sales order.')
  }
  const lines = await rows<SalesLineRow>(
    db,
    sql`
      select
        l.id, l.line, l.item_id as "itemId", i.code, i.name, l.entered, l.unit, l.quantity, l.shipped,
        ${ALLOCATED} as allocated, coalesce(s.free, 0) as free, coalesce(s.got, 0) as got, i.kind, l.price,
        i.symbol, i.decimals, i.stock_unit as "stockUnit", i.source,
        coalesce(
          (
            select json_agg(json_build_object('id', b.id, 'number', b.number) order by b.id)
            from builds b
            where b.sales_line_id = l.id and b.status in ('draft', 'ready', 'started')
          ),
          '[]'
        ) as builds,
        coalesce(
          (
            select json_agg(json_build_object('id', p.id, 'number', p.number, 'dueOn', k.due_on) order by k.id)
            from purchase_lines k
            join purchase_orders p on p.id = k.order_id and p.status = 'open'
            where k.sales_line_id = l.id and k.received < k.quantity and not k.closed_short
          ),
          '[]'
        ) as purchases,
        exists (select 1 from buying_wants w where w.sales_line_id = l.id and ${IS_WANTED}) as "isToBuy"
      from sales_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      left join ${await servedLines(db, sql`select item_id from sales_lines where order_id = ${id}`)} s on s.id = l.id
      where l.order_id = ${id}
      order by l.line`,
  )
  const set = await rows<{
    lineId: number
    bin: string
    lot: string | null
    piece: string | null
    expiresOn: string | null
    quantity: string
  }>(
    db,
    sql`
      select
        a.sales_line_id as "lineId", p.name as bin, t.number as lot, c.label as piece,
        t.expires_on as "expiresOn", a.quantity
      from allocations a
      join sales_lines l on l.id = a.sales_line_id
      join places p on p.id = a.place_id
      left join lots t on t.id = a.lot_id
      left join pieces c on c.id = a.piece_id
      where l.order_id = ${id}
      order by l.line, p.pick_order, t.expires_on`,
  )
  const postings = await loadPostings('sales order', id)
  const items = await loadMeasuredItems(
    db,
    lines.map((line) => line.itemId),
  )
  const answers = await Promise.all(
    lines.map(async (line) => {
      const [item, open] = [
        items.get(line.itemId)!,
        ratio(line.quantity).sub(ratio(line.shipped)).sub(ratio(line.allocated)),
      ]
      return {
        ...line,
        canPack:
          order.status === 'open' && isPackedAtShipment(item) && open.compare(0) > 0
            ? toText(await packable(db, item, open, today))
            : '0',
      }
    }),
  )
  return {
    ...order,
    lines: answers,
    allocations: set,
    packing: await loadPacking(db, id),
    postings,
    outsideLimits: await soldOutsideLimits(db, id),
  }
}
