import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { possibleUses, type Flow } from '~~/core/stock'
import { ratio, toText } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf, isLive } from '~~/server/database/sql'
import type { Take } from './trace-step'

/**
 * Of a suspect among goods that are kept by quantity only: how much may still be there, and to whom some of it may have
 * gone.
 */
export interface QuantityOnly {
  readonly left: string
  readonly shippedTo: string
}

/** Acts that may have taken of what some acts brought in; what may be left or was shipped goes to `held`, by item. */
export async function possibleTakes(entries: readonly Take[], held: Map<number, QuantityOnly>): Promise<Take[]> {
  const ids = [...new Set(entries.map((entry) => entry.item))]
  const flows = await loadFlows(ids)
  const takes = entries.flatMap(({ item, posting }) => {
    const { acts, left } = possibleUses(flows.get(item) ?? [], posting)
    const before = held.get(item)
    held.set(item, { left: toText(ratio(before?.left ?? '0').add(left)), shippedTo: before?.shippedTo ?? '' })
    return acts.map((act) => ({ item, posting: act }))
  })
  for (const { item, customers } of await shipped(takes)) {
    const before = held.get(item)!
    held.set(item, { ...before, shippedTo: [before.shippedTo, customers].filter(Boolean).join(', ') })
  }
  return takes
}

/** What each act brought of items and took of them, over all places of stock together; in the order of their days. */
async function loadFlows(ids: readonly number[]): Promise<ReadonlyMap<number, Flow[]>> {
  const found = await rows<{ item: number; act: number; into: string; out: string }>(
    db,
    sql`
      select
        m.item_id as item, o.id as act,
        coalesce(sum(m.quantity) filter (where t.kind in ('bin', 'transit')), 0)::text as into,
        coalesce(sum(m.quantity) filter (where f.kind in ('bin', 'transit')), 0)::text as out
      from moves m
      join postings o on o.id = m.posting_id
      join places f on f.id = m.from_place_id
      join places t on t.id = m.to_place_id
      where ${anyOf(sql`m.item_id`, ids)}
        and ${isLive('o')}
        and (f.kind in ('bin', 'transit')) <> (t.kind in ('bin', 'transit'))
      group by m.item_id, o.id, o.effective_on
      order by o.effective_on, o.id`,
  )
  return new Map(
    [...groupBy(found, (row) => row.item)].map(([item, own]) => [
      item,
      own.map(({ act, into, out }) => ({ act, into: ratio(into), out: ratio(out) })),
    ]),
  )
}

/** To whom acts shipped of items. */
const shipped = (takes: readonly Take[]): Promise<{ item: number; customers: string }[]> =>
  rows(
    db,
    sql`
      select t.item, string_agg(distinct c.name || ' ' || q.number, ', ') as customers
      from jsonb_to_recordset(${JSON.stringify(takes)}::jsonb) as t(item int, posting int)
      join postings o on o.id = t.posting and o.document_kind = 'sales order'
      join sales_orders q on q.id = o.document_id
      join customers c on c.id = q.customer_id
      group by t.item`,
  )
