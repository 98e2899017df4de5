import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import type { LedgerDifference } from './difference'

/**
 * What is kept of the ends of months beside the moves up to each; and months between those kept of which nothing is.
 */
export async function checkMonths(reader: Reader): Promise<LedgerDifference[]> {
  const months = await rows<{ month: string }>(reader, sql`select month from month_ends order by month`)
  const differences: LedgerDifference[] = []
  for (const { month } of months) {
    differences.push(...(await checkMonth(reader, month)))
  }
  const gone = await rows<{ month: string }>(
    reader,
    sql`
      select (m + interval '1 month' - interval '1 day')::date as month
      from (select min(month) as first, max(month) as last from month_ends) e
      cross join lateral generate_series(date_trunc('month', e.first), e.last, '1 month') m
      where not exists (
        select 1 from month_ends k where k.month = (m + interval '1 month' - interval '1 day')::date
      )
      order by 1`,
  )
  return [
    ...differences,
    ...gone.map(({ month }): LedgerDifference => ({
      kind: 'month end',
      what: month,
      kept: 'nothing',
      worked: 'what lay where on that evening',
      unit: null,
    })),
  ]
}

async function checkMonth(reader: Reader, month: string): Promise<LedgerDifference[]> {
  const found = await rows<{ what: string; kept: string; worked: string; unit: string }>(
    reader,
    sql`
      with moved as (
        select item_id, place_id, lot_id, piece_id, status, sum(quantity) as quantity
        from (
          select item_id, to_place_id as place_id, lot_id, piece_id, to_status as status, quantity
          from moves
          where to_status is not null and effective_on <= ${month}
          union all
          select item_id, from_place_id, lot_id, piece_id, from_status, -quantity
          from moves
          where from_status is not null and effective_on <= ${month}
        ) ends
        group by 1, 2, 3, 4, 5
        having sum(quantity) <> 0
      )
      select
        concat_ws(' · ', ${month}::text, i.code, p.name, l.number, c.label) as what,
        trim_scale(coalesce(b.on_hand, 0))::text as kept,
        trim_scale(coalesce(m.quantity, 0))::text as worked, u.symbol as unit
      from (select * from month_balances where month = ${month}) b
      full join moved m on m.item_id = b.item_id
        and m.place_id = b.place_id
        and coalesce(m.lot_id, 0) = coalesce(b.lot_id, 0)
        and coalesce(m.piece_id, 0) = coalesce(b.piece_id, 0)
        and m.status = b.status
      join items i on i.id = coalesce(b.item_id, m.item_id)
      join units u on u.code = i.stock_unit
      join places p on p.id = coalesce(b.place_id, m.place_id)
      left join lots l on l.id = coalesce(b.lot_id, m.lot_id)
      left join pieces c on c.id = coalesce(b.piece_id, m.piece_id)
      where coalesce(b.on_hand, 0) <> coalesce(m.quantity, 0)
      order by 1`,
  )
  return found.map((row) => ({ kind: 'month end', ...row }))
}
