import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { anyOf, notReversed } from '~~/server/database/sql'
import { isOfLine, RECEIPTS } from './receipts'

/** Lines of goods that were due within a year: those that came whole, and those that did by the day asked for. */
export interface Punctuality {
  readonly lines: number
  readonly inFull: number
  readonly onTime: number
}
const NOTHING_DUE: Punctuality = { lines: 0, inFull: 0, onTime: 0 }

/**
 * How lines of goods came that were due within a year: whole, and whole by the day that was asked for. What was
 * cancelled before anything came, and what the supplier moved to a later day, counts by what was asked.
 */
export async function punctualityOf(
  supplierIds: readonly number[],
  today: string,
): Promise<(supplierId: number) => Punctuality> {
  const found = await rows<Punctuality & { supplierId: number }>(
    db,
    sql`
      select
        supplier_id as "supplierId", count(*)::int as lines, count(*) filter (where is_whole)::int as "inFull",
        count(*) filter (where is_whole and came_on <= asked_on)::int as "onTime"
      from (
        select
          o.supplier_id, l.received >= l.quantity as is_whole,
          coalesce((l.asked ->> 'dueOn')::date, l.due_on) as asked_on,
          (
            select max(m.effective_on)
            from moves m
            join postings p on p.id = m.posting_id and p.kind in ${RECEIPTS}
            where (
                ${isOfLine(sql`l.id`)}
                  or m.document_line_id in (select s.id from purchase_lines s where s.replaces_line_id = l.id)
              )
              and m.basis = 'stated' and ${notReversed('p.id')}
          ) as came_on
        from purchase_lines l
        join purchase_orders o on o.id = l.order_id and o.status <> 'cancelled'
        join items i on i.id = l.item_id and i.kind = 'stocked'
        where ${anyOf(sql`o.supplier_id`, supplierIds)} and l.replaces_line_id is null
      ) lines
      where asked_on between ${today}::date - 365 and ${today}::date
      group by supplier_id`,
  )
  const known = new Map(found.map(({ supplierId, ...own }) => [supplierId, own]))
  return (supplierId) => known.get(supplierId) ?? NOTHING_DUE
}
