import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { notPast } from '../structure/edges'

const SHOWN = 200

/** Which of some items still lie in stock, stand on open documents or in bills that are not past, and where. */
export async function stillUsed(
  reader: Reader,
  ids: readonly number[],
  today: string,
): Promise<{ code: string; uses: string }[]> {
  if (ids.length === 0) {
    return []
  }
  return rows(
    reader,
    sql`
      select code, uses
      from (
        select
          i.code,
          concat_ws(
            ', ',
            (
              select trim_scale(sum(b.on_hand))::text || ' ' || (select symbol from units where code = i.stock_unit) || ' in stock'
              from balances b
              where b.item_id = i.id
              having sum(b.on_hand) <> 0
            ),
            (
              select string_agg(distinct o.number, ', ')
              from sales_lines l
              join sales_orders o on o.id = l.order_id
              where l.item_id = i.id and o.status = 'open'
            ),
            (
              select string_agg(distinct o.number, ', ')
              from purchase_lines l
              join purchase_orders o on o.id = l.order_id
              where l.item_id = i.id and o.status = 'open'
            ),
            (
              select string_agg(distinct b.number, ', ')
              from builds b
              left join build_lines l on l.build_id = b.id
              where i.id in (b.item_id, l.item_id) and b.status in ('draft', 'ready', 'started')
            ),
            (
              select 'bill of ' || string_agg(distinct p.code, ', ')
              from bom_lines l
              join boms b on b.id = l.bom_id
              join items p on p.id = b.item_id
              where l.item_id = i.id and ${notPast(today)}
            )
          ) as uses
        from items i
        where ${anyOf(sql`i.id`, ids)}
      ) found
      where uses <> ''
      order by code
      limit ${SHOWN}`,
  )
}
