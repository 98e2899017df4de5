import { sql, type SQL } from 'drizzle-orm'
import { stillThere } from '~~/core/costing'
import { groupBy } from '~~/core/group-by'
import { shareOf } from '~~/core/sharing'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import type { NotInvoicedRow } from '~~/shared/books/answers'
import { SITE_OF_RECEIPT } from '../purchasing/receipts'

interface Receipt extends Omit<NotInvoicedRow, 'id' | 'inStock' | 'inStockAmount' | 'used' | 'usedAmount'> {
  readonly moveId: number
  readonly lotId: number | null
}

interface CameIn {
  readonly id: number
  readonly itemId: number
  readonly site: number
  readonly lotId: number | null
  readonly quantity: string
}

const upTo = (day: SQL, asOf: string | null): SQL => (asOf === null ? sql`true` : sql`${day} <= ${asOf}`)

/**
 * What was received and not invoiced on the evening of a day, receipt line by receipt line: what of it still lies at
 * the site that received it, by its lot where it has one and first in, first out, and what has gone from there.
 *
 * Units: minor units of the company's currency, at what the order says; together they come to the account of that name.
 *        Quantities in the stock unit.
 */
export async function notInvoiced(asOf: string | null = null): Promise<NotInvoicedRow[]> {
  const receipts = await openReceipts(asOf)
  const items = [...new Set(receipts.map((receipt) => receipt.itemId))]
  const poolOf = (row: { itemId: number; site: number; lotId: number | null }): string =>
    `${row.itemId} ${row.site} ${row.lotId ?? ''}`
  const cameIn = groupBy(items.length === 0 ? [] : await loadCameIn(items, asOf), poolOf)
  const there = new Map(
    (items.length === 0 ? [] : await loadThere(items, asOf)).map((row) => [poolOf(row), ratio(row.quantity)]),
  )
  return receipts.map(({ moveId, lotId, ...receipt }): NotInvoicedRow => {
    const pool = poolOf({ itemId: receipt.itemId, site: receipt.siteId, lotId })
    const all = cameIn.get(pool) ?? []
    const kept = stillThere(
      all.map((entry) => ratio(entry.quantity)),
      there.get(pool) ?? ZERO,
    )
    const left = kept[all.findIndex((entry) => entry.id === moveId)] ?? ZERO
    const quantity = ratio(receipt.quantity)
    const inStock = left.compare(quantity) < 0 ? left : quantity
    const amount = BigInt(receipt.amount)
    const inStockAmount = shareOf(amount, inStock, quantity)
    return {
      id: moveId,
      ...receipt,
      inStock: toText(inStock),
      inStockAmount: inStockAmount.toString(),
      used: toText(quantity.sub(inStock)),
      usedAmount: (amount - inStockAmount).toString(),
    }
  })
}

/** The receipts that stand, with what of each is not invoiced: as much as the journal's account holds of it. */
const openReceipts = (asOf: string | null): Promise<Receipt[]> =>
  rows<Receipt>(
    db,
    sql`
      with invoiced as (
        select l.move_id, sum(l.quantity) as quantity, sum(l.amount) as amount
        from invoice_lines l
        join supplier_invoices v on v.id = l.invoice_id
        join postings o on o.id = v.posting_id
        left join postings c on c.id = v.cancelled_id
        where ${upTo(sql`o.effective_on`, asOf)}
          and (c.id is null ${asOf === null ? sql`` : sql`or c.effective_on > ${asOf}`})
        group by 1
      ),
      held as (
        select move_id, -sum(amount) as amount
        from journal
        where place_kind = 'supplier' and move_id is not null and ${upTo(sql`effective_on`, asOf)}
        group by 1
      )
      select
        m.id::int as "moveId", o.effective_on as day, b.id as "orderId", b.number as order, s.name as supplier,
        i.id as "itemId", i.code, i.name, i.symbol, i.decimals, t.id as "siteId", t.name as "siteName",
        m.lot_id as "lotId", coalesce(n.number, '') as lot,
        trim_scale(m.quantity - coalesce(v.quantity, 0))::text as quantity,
        (coalesce(h.amount, 0) - coalesce(v.amount, 0))::text as amount
      from moves m
      join postings o on o.id = m.posting_id
      join places f on f.id = m.from_place_id and f.kind = 'supplier'
      join places p on p.id = m.to_place_id
      join sites t on t.id = ${SITE_OF_RECEIPT}
      join ${MEASURED_ITEM} i on i.id = m.item_id
      left join purchase_orders b on o.document_kind = 'purchase order' and b.id = o.document_id
      left join suppliers s on s.id = b.supplier_id
      left join lots n on n.id = m.lot_id
      left join invoiced v on v.move_id = m.id
      left join held h on h.move_id = m.id
      left join postings r on r.reverses_id = o.id
      where m.basis <> 'back'
        and ${upTo(sql`m.effective_on`, asOf)}
        and (r.id is null ${asOf === null ? sql`` : sql`or r.effective_on > ${asOf}`})
        and m.quantity > coalesce(v.quantity, 0)
      order by o.effective_on, m.id`,
  )

/** What came to a site from elsewhere, oldest first. */
const loadCameIn = (items: readonly number[], asOf: string | null): Promise<CameIn[]> =>
  rows<CameIn>(
    db,
    sql`
      select m.id::int as id, m.item_id as "itemId", p.site_id as site, m.lot_id as "lotId", m.quantity
      from moves m
      join places p on p.id = m.to_place_id and p.kind = 'bin'
      join places f on f.id = m.from_place_id
      where ${anyOf(sql`m.item_id`, items)}
        and f.site_id is distinct from p.site_id
        and ${upTo(sql`m.effective_on`, asOf)}
        and not exists (select 1 from postings r where r.reverses_id = m.posting_id and ${upTo(sql`r.effective_on`, asOf)})
      order by m.effective_on, m.id`,
  )

/** What lay at each site, by lot. */
const loadThere = (
  items: readonly number[],
  asOf: string | null,
): Promise<{ itemId: number; site: number; lotId: number | null; quantity: string }[]> =>
  rows(
    db,
    sql`
      select e.item_id as "itemId", p.site_id as site, e.lot_id as "lotId", sum(e.quantity)::text as quantity
      from (
        select item_id, lot_id, to_place_id as place_id, quantity
        from moves
        where ${anyOf(sql`item_id`, items)} and ${upTo(sql`effective_on`, asOf)}
        union all
        select item_id, lot_id, from_place_id, -quantity
        from moves
        where ${anyOf(sql`item_id`, items)} and ${upTo(sql`effective_on`, asOf)}
      ) e
      join places p on p.id = e.place_id and p.kind = 'bin'
      group by 1, 2, 3`,
  )
