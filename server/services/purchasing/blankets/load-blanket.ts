import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Blanket, BlanketLine } from '~~/shared/purchasing/blankets'
import { calledOf } from './called'

/** A blanket order with what is called off, received and left of each line, and its orders. Errors: `not-found`. */
export async function loadBlanket(reader: Reader, id: number): Promise<Blanket> {
  const [head] = await rows<Omit<Blanket, 'lines' | 'orders'>>(
    reader,
    sql`
      select
        b.id, b.number, b.supplier_id as "supplierId", s.name as supplier, c.code as currency, b.reference,
        b.from_on as "fromOn", b.until_on as "untilOn", b.status, b.note, b.version
      from blanket_orders b
      join suppliers s on s.id = b.supplier_id
      left join currencies c on c.id = s.currency_id
      where b.id = ${id}`,
  )
  if (!head) {
    throw new Refusal('not-found', 'There is no such blanket order.')
  }
  return { ...head, lines: await loadLines(reader, id), orders: await loadOrders(reader, id) }
}

const loadLines = (reader: Reader, id: number): Promise<BlanketLine[]> =>
  rows<BlanketLine>(
    reader,
    sql`
      select
        l.id, l.line, l.item_id as "itemId", i.code, i.name, i.symbol, l.entered, l.unit,
        trim_scale(l.price)::text as price, trim_scale(l.quantity)::text as quantity,
        trim_scale(${calledOf(sql`l.id`)})::text as called,
        trim_scale(
          coalesce((select sum(k.received) from purchase_lines k where k.blanket_line_id = l.id), 0)
        )::text as received,
        trim_scale(greatest(l.quantity - ${calledOf(sql`l.id`)}, 0))::text as rest
      from blanket_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where l.blanket_id = ${id}
      order by l.line`,
  )

const loadOrders = (reader: Reader, id: number): Promise<Blanket['orders'][number][]> =>
  rows<Blanket['orders'][number]>(
    reader,
    sql`
      select
        p.id, p.number, p.ordered_on as "orderedOn", min(k.due_on) as "dueOn", p.status = 'cancelled' as "isCancelled",
        string_agg(
          k.entered || ' ' || (select symbol from units where code = k.unit) || ' ' || i.code, ', '
          order by k.line
        ) as summary
      from purchase_orders p
      join purchase_lines k on k.order_id = p.id
      join blanket_lines l on l.id = k.blanket_line_id and l.blanket_id = ${id}
      join items i on i.id = k.item_id
      group by p.id
      order by p.ordered_on desc, p.id desc`,
  )
