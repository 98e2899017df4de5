import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import type { hookCalls } from '~~/server/database/schema'

type Call = Pick<typeof hookCalls.$inferSelect, 'id' | 'event' | 'at' | 'postingId' | 'changeId'>

/** A posting as other programs are told of it. Quantities are decimal text in the item's stock unit. */
interface PostingTold {
  readonly id: number
  readonly kind: string
  readonly label: string
  readonly reason: string
  readonly effectiveOn: string
  readonly by: string
  readonly takesBack: number | null
  readonly document: { readonly kind: string; readonly id: number } | null
}
interface MoveTold {
  readonly item: string
  readonly quantity: string
  readonly unit: string
  readonly lot: string | null
  readonly from: string | null
  readonly fromStatus: string | null
  readonly to: string | null
  readonly toStatus: string | null
}
interface OrderTold {
  readonly kind: string
  readonly id: number
  readonly number: string
  readonly status: string
  readonly by: string
}

/** What a call tells: which event, when, and the posting with its moves or the order. */
export async function bodyOf(call: Call): Promise<object> {
  const head = { id: `call_${call.id}`, event: call.event, at: call.at }
  return call.postingId === null
    ? { ...head, order: await orderOf(call.changeId!) }
    : { ...head, posting: await postingOf(call.postingId), moves: await movesOf(call.postingId) }
}

async function postingOf(id: number): Promise<PostingTold> {
  const [posting] = await rows<PostingTold>(
    db,
    sql`
      select
        p.id, p.kind, p.label, p.reason, p.effective_on as "effectiveOn", u.name as by, p.reverses_id as "takesBack",
        case
          when p.document_kind is not null then json_build_object('kind', p.document_kind, 'id', p.document_id)
        end as document
      from postings p
      join users u on u.id = p.user_id
      where p.id = ${id}`,
  )
  return posting!
}

/** Places outside the bins (suppliers, customers, the workshop) are told by their kind. */
const movesOf = (postingId: number): Promise<MoveTold[]> =>
  rows<MoveTold>(
    db,
    sql`
      select
        i.code as item, trim_scale(m.quantity)::text as quantity, i.symbol as unit, l.number as lot,
        case when f.kind = 'bin' then f.code else f.kind end as from, m.from_status as "fromStatus",
        case when t.kind = 'bin' then t.code else t.kind end as to, m.to_status as "toStatus"
      from moves m
      join ${MEASURED_ITEM} i on i.id = m.item_id
      join places f on f.id = m.from_place_id
      join places t on t.id = m.to_place_id
      left join lots l on l.id = m.lot_id
      where m.posting_id = ${postingId}
      order by m.id`,
  )

async function orderOf(changeId: number): Promise<OrderTold | null> {
  const [order] = await rows<OrderTold>(
    db,
    sql`
      select c.entity as kind, c.entity_id::int as id, o.number, o.status, coalesce(u.name, '') as by
      from changes c
      join (
        select 'sales order' as kind, id, number, status from sales_orders
        union all
        select 'purchase order', id, number, status from purchase_orders
      ) o on o.kind = c.entity and o.id::text = c.entity_id
      left join users u on u.id = c.user_id
      where c.id = ${changeId}`,
  )
  return order ?? null
}
