import { sql, type SQL } from 'drizzle-orm'
import type * as z from 'zod'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { groupsBelow, isLive, minorOf } from '~~/server/database/sql'
import { historyBorrowings, historyCorrections } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewBorrowing, NewCorrection } from '~~/shared/demand/history'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { noteChange } from '../../documents'

/** Years that stand side by side. */
export const YEARS = 5

export const inGroup = (group: number | null | undefined): SQL =>
  group === null || group === undefined ? sql`true` : sql`i.group_id in ${groupsBelow(sql`id = ${group}`)}`

/**
 * What was sold, a row an item, day, customer and site: shipments that were not taken back, and what was brought in of
 * the past.
 *
 * Units: quantity in the stock unit; value and cost in minor units. A shipment's cost includes what later turned out.
 */
export const sold = (items: SQL): SQL => sql`
  (
    select
      p.item_id, p.sold_on as day, p.customer_id, p.site_id, p.quantity, p.value::numeric as value,
      p.cost::numeric as cost
    from past_sales p
    where ${items}
    union all
    select
      p.item_id, p.effective_on, o.customer_id, coalesce(f.site_id, o.site_id, c.site_id), p.quantity, round(${minorOf(sql`p.quantity * l.stock_price`)}),
      p.value + coalesce((select sum(a.value) from adjustments a where a.move_id = p.id), 0)
    from moves p
    join postings g on g.id = p.posting_id
      and g.kind in ('shipment', 'direct shipment')
      and ${isLive('g')}
    join places f on f.id = p.from_place_id
    left join purchase_lines k on g.kind = 'direct shipment' and k.id = -p.document_line_id
    join sales_lines l on l.id = coalesce(k.sales_line_id, p.document_line_id)
    join sales_orders o on o.id = l.order_id
    join customers c on c.id = o.customer_id
    where ${items}
  )`

/** What was sold of items at each site between two days. */
export const soldBySite = (
  reader: Reader,
  from: string,
  until: string,
): Promise<{ itemId: number; siteId: number; quantity: string }[]> =>
  rows(
    reader,
    sql`
      select s.item_id as "itemId", s.site_id as "siteId", trim_scale(sum(s.quantity))::text as quantity
      from ${sold(sql`true`)} s
      where s.site_id is not null and s.day >= ${from} and s.day < ${until}
      group by 1, 2
      having sum(s.quantity) > 0
      order by 1, 2`,
  )

/** Says what a stretch counts as in forecasts. The books stay as they are. */
export async function correctHistory(
  tx: Tx,
  actor: Actor,
  edit: z.output<typeof NewCorrection>,
): Promise<{ id: number }> {
  await loadMeasuredItem(tx, edit.itemId)
  const [source] = await rows<{ firstOn: string; lastOn: string }>(
    tx,
    sql`
      select first_on as "firstOn", last_on as "lastOn"
      from history_corrections
      where item_id = ${edit.itemId}
        and first_on <= ${edit.lastOn}
        and last_on >= ${edit.firstOn}
        and first_on <> ${edit.firstOn}`,
  )
  if (source) {
    const detail = `${source.firstOn} to ${source.lastOn} is corrected already. Take that back first.`
    throw new Refusal('taken', detail, { firstOn: detail })
  }
  const [made] = await tx
    .insert(historyCorrections)
    .values({ ...edit, userId: actor.userId })
    .onConflictDoUpdate({
      target: [historyCorrections.itemId, historyCorrections.firstOn],
      set: { lastOn: edit.lastOn, quantity: edit.quantity, reason: edit.reason, userId: actor.userId },
    })
    .returning({ id: historyCorrections.id })
  await noteChange(tx, actor, { kind: 'history', id: edit.itemId }, null, edit)
  return { id: made!.id }
}

export async function takeCorrectionBack(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const [gone] = await tx
    .delete(historyCorrections)
    .where(sql`${historyCorrections.id} = ${id}`)
    .returning()
  if (!gone) {
    throw new Refusal('not-found', 'This correction is gone already.')
  }
  await noteChange(tx, actor, { kind: 'history', id: gone.itemId }, gone, null)
  return { id }
}

/** Lets an item count a share of another's sales as its own, up to a day. */
export async function borrowHistory(
  tx: Tx,
  actor: Actor,
  edit: z.output<typeof NewBorrowing>,
): Promise<{ id: number }> {
  const [own, source] = [
    await loadMeasuredItem(tx, edit.itemId),
    await loadMeasuredItem(tx, edit.fromItemId, 'fromItemId'),
  ]
  let wrong
  if (own.id === source.id) {
    wrong = 'An item cannot borrow from itself.'
  } else if (own.stockUnit !== source.stockUnit) {
    wrong = `${own.code} is held in ${own.symbol}, ${source.code} in ${source.symbol}. Choose an item that is held in the same unit.`
  } else {
    wrong = null
  }
  if (wrong !== null) {
    throw new Refusal('invalid-input', wrong, { fromItemId: wrong })
  }
  const share = (Number(edit.percent) / 100).toString()
  await tx
    .insert(historyBorrowings)
    .values({ itemId: own.id, fromItemId: source.id, share, untilOn: edit.untilOn })
    .onConflictDoUpdate({
      target: historyBorrowings.itemId,
      set: { fromItemId: source.id, share, untilOn: edit.untilOn },
    })
  await noteChange(tx, actor, { kind: 'history', id: own.id }, null, {
    borrowsFrom: source.code,
    percent: edit.percent,
    until: edit.untilOn,
  })
  return { id: own.id }
}

export async function endBorrowing(tx: Tx, actor: Actor, itemId: number): Promise<{ id: number }> {
  const [gone] = await tx
    .delete(historyBorrowings)
    .where(sql`${historyBorrowings.itemId} = ${itemId}`)
    .returning()
  if (!gone) {
    throw new Refusal('not-found', 'This item borrows nothing.')
  }
  await noteChange(tx, actor, { kind: 'history', id: itemId }, gone, null)
  return { id: itemId }
}
