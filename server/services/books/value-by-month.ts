import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import type { ValueOnDay } from '~~/shared/books/requests'

const MONTHS = 12

/**
 * What stock was worth on the last evening of each of the last twelve months, and is worth now: the sums of the
 * journal's stock lines. Minor units.
 */
export async function valueByMonth(today: string): Promise<ValueOnDay[]> {
  return rows<ValueOnDay>(
    db,
    sql`
      with days as (
        select (date_trunc('month', ${today}::date) - n * interval '1 month' - interval '1 day')::date as day
        from generate_series(0, ${MONTHS - 1}) n
        union all
        select ${today}::date
      ),
      -- One pass through the journal: each line counts from the first of these evenings on that it lies before.
      sums as (
        select (select min(day) from days where days.day >= j.effective_on) as day, sum(j.amount) as amount
        from journal j
        where j.place_kind in ('bin', 'transit') and j.effective_on <= ${today}
        group by 1
      )
      select d.day, coalesce(sum(s.amount) over (order by d.day), 0)::text as value
      from days d
      left join sums s on s.day = d.day
      order by d.day`,
  )
}
