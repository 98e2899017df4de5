import { sql } from 'drizzle-orm'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { today } from '../company/company'

/** Months further back than these are worked out when somebody looks. */
const MOST = 24

/** The newest month of which it is not kept what lay where at its end, and the kept one after it. */
async function nextMonth(reader: Reader, today: string): Promise<{ month: string; later: string | null } | null> {
  const [next] = await rows<{ month: string; later: string | null }>(
    reader,
    sql`
      select month, (select min(e.month) from month_ends e where e.month > m.month) as later
      from (
        select (date_trunc('month', ${today}::date) - n * interval '1 month' - interval '1 day')::date as month
        from generate_series(0, ${MOST - 1}) n
      ) m
      where month < ${today}::date - 1
        and month >= (select min(effective_on) from moves)
        and not exists (select 1 from month_ends e where e.month = m.month)
      order by month desc
      limit 1`,
  )
  return next ?? null
}

/** Whether a month is over, or was entered into late, so that its end is to be kept. */
export const isMonthEndDue = async (): Promise<boolean> => (await nextMonth(db, await today())) !== null

/**
 * Keeps what lay where on the last evening of the newest month of which it is not kept; answers that month, or null
 * where all are.
 *
 * So looking at a day long past does not go through all that has moved since. What is entered later for an earlier day
 * has the months from it on forgotten by `record_posting`, and they are kept anew. Only such late postings wait
 * meanwhile. Yesterday and today still fill up.
 */
export async function keepMonthEnd(tx: Tx, today: string): Promise<string | null> {
  await rows(tx, sql`select pg_advisory_xact_lock_shared(7301)`)
  const next = await nextMonth(tx, today)
  if (next === null) {
    return null
  }
  const { month, later } = next
  const base =
    later === null
      ? sql`select item_id, place_id, lot_id, piece_id, status, on_hand as quantity from balances where on_hand > 0`
      : sql`
        select item_id, place_id, lot_id, piece_id, status, on_hand as quantity
        from month_balances
        where month = ${later}`
  const since =
    later === null ? sql`effective_on > ${month}` : sql`effective_on > ${month} and effective_on <= ${later}`
  await rows(
    tx,
    sql`
      with gone as (delete from month_ends where month < ${today}::date - ${(MOST + 1) * 31}::int)
      delete from month_balances
      where month = ${month} or month < ${today}::date - ${(MOST + 1) * 31}::int`,
  )
  await rows(
    tx,
    sql`
      insert into month_balances (month, item_id, place_id, lot_id, piece_id, status, on_hand)
      select ${month}, item_id, place_id, lot_id, piece_id, status, sum(quantity)
      from (
        ${base}
        union all
        select item_id, to_place_id, lot_id, piece_id, to_status, -quantity
        from moves
        where to_status is not null and ${since}
        union all
        select item_id, from_place_id, lot_id, piece_id, from_status, quantity
        from moves
        where from_status is not null and ${since}
      ) x
      group by 2, 3, 4, 5, 6
      having sum(quantity) > 0`,
  )
  await rows(tx, sql`insert into month_ends (month) values (${month})`)
  return month
}

/** Keeps every month that is wanted, each in a transaction of its own. */
export async function keepMonthEnds(day?: string): Promise<void> {
  const until = day ?? (await today())
  let kept = 0
  while ((await db.transaction((tx) => keepMonthEnd(tx, until))) !== null) {
    kept++
  }
  if (kept > 0) {
    await db.execute(sql`analyze month_balances`)
  }
}
