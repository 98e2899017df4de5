import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'

/** No more months than these are gone back at once. */
const MOST = 24

/**
 * Keeps what lay where on the last evening of each month that is closed, so that looking at a day long past does not go through all
 * that has moved since. Days that are open again are forgotten.
 *
 * Unchecked: the caller keeps postings out.
 */
export async function keepMonthEnds(tx: Tx, through: string | null): Promise<void> {
  await rows(tx, sql`delete from month_balances where ${through}::date is null or month > ${through}::date`)
  await rows(tx, sql`delete from month_ends where ${through}::date is null or month > ${through}::date`)
  if (through === null) return
  const months = await rows<{ month: string }>(tx, sql`
    select month from (select (date_trunc('month', d) + interval '1 month - 1 day')::date as month from generate_series(date_trunc('month', ${through}::date) - ${MOST - 1} * interval '1 month', ${through}::date, interval '1 month') d) m
    where month <= ${through}::date and month >= (select min(effective_on) from moves) and not exists (select 1 from month_ends e where e.month = m.month) order by month desc`)
  for (const { month } of months) {
    const [later] = await rows<{ month: string | null }>(tx, sql`select min(month) as month from month_ends where month > ${month}`)
    const base = later!.month === null ? sql`select item_id, place_id, lot_id, piece_id, status, on_hand as quantity from balances where on_hand > 0` : sql`select item_id, place_id, lot_id, piece_id, status, on_hand as quantity from month_balances where month = ${later!.month}`
    const since = later!.month === null ? sql`effective_on > ${month}` : sql`effective_on > ${month} and effective_on <= ${later!.month}`
    await rows(tx, sql`insert into month_balances (month, item_id, place_id, lot_id, piece_id, status, on_hand)
      select ${month}, item_id, place_id, lot_id, piece_id, status, sum(quantity) from (${base}
        union all select item_id, to_place_id, lot_id, piece_id, to_status, -quantity from moves where to_status is not null and ${since}
        union all select item_id, from_place_id, lot_id, piece_id, from_status, quantity from moves where from_status is not null and ${since}) x group by 2, 3, 4, 5, 6 having sum(quantity) > 0`)
    await rows(tx, sql`insert into month_ends (month) values (${month})`)
  }
}
