import { sql } from 'drizzle-orm'
import type { Amounts, Revaluation } from '~~/core/costing'
import { toDay, toIso } from '~~/core/calendar/days'
import { rows, type Tx } from '~~/server/database/client'
import { poolOf } from './lock-stock'

/** What a re-valuation did to each account, in minor units; debit positive. */
export type Revalued = readonly { readonly account: string; readonly amount: string }[]

const ZERO_AMOUNTS: Amounts = { value: 0n, variance: 0n, restated: 0n }

/**
 * Writes down what earlier moves turned out to be worth, under the posting that brought it to light: on their own days,
 * or on the first that is not closed.
 */
export async function recordAdjustments(
  tx: Tx,
  postingId: number,
  worked: Revaluation,
  closedThrough: string | null,
): Promise<Revalued> {
  const firstOpen = closedThrough === null ? '0001-01-01' : toIso(toDay(closedThrough) + 1)
  const openDay = (day: string): string => (day < firstOpen ? firstOpen : day)
  const moves = [...worked.moves]
    .filter(([, entry]) => entry.before !== null)
    .map(([id, { now, before, move }]) => {
      const was = before ?? ZERO_AMOUNTS
      return {
        move_id: Number(id),
        effective_on: openDay(move.day),
        value: (now.value - was.value).toString(),
        variance: (now.variance - was.variance).toString(),
        restated: (now.restated - was.restated).toString(),
      }
    })
  const standards = worked.standards.flatMap(({ pool, posting, day, now, before }) => {
    const { item, site } = poolOf(pool)
    return [
      { account: 'bin', site, amount: now - before },
      { account: 'variance', site: null, amount: before - now },
    ].map((line) => ({
      account: line.account,
      item_id: item,
      site_id: line.site,
      amount: line.amount.toString(),
      effective_on: openDay(day),
      cause_id: posting,
    }))
  })
  const closings = worked.closings.flatMap(({ posting, day, now, before }) =>
    [
      { account: 'workshop', amount: before - now },
      { account: 'correction', amount: now - before },
    ].map((line) => ({
      account: line.account,
      item_id: null,
      site_id: null,
      amount: line.amount.toString(),
      effective_on: openDay(day),
      cause_id: posting,
    })),
  )
  const lines = [...standards, ...closings]
  if (moves.length > 0) {
    await rows(
      tx,
      sql`
        insert into adjustments (posting_id, move_id, effective_on, value, variance, restated)
        select ${postingId}, move_id, effective_on, value, variance, restated
        from jsonb_to_recordset(${JSON.stringify(moves)}::jsonb) as a(
          move_id bigint, effective_on date, value bigint, variance bigint, restated bigint
        )
        order by move_id`,
    )
  }
  if (lines.length > 0) {
    await rows(
      tx,
      sql`
        insert into entries (posting_id, account, item_id, site_id, amount, effective_on, cause_id)
        select ${postingId}, account, item_id, site_id, amount, effective_on, cause_id
        from jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) as e(
          account text, item_id int, site_id int, amount bigint, effective_on date, cause_id int
        )`,
    )
  }
  if (moves.length + lines.length === 0) {
    return []
  }
  return rows(
    tx,
    sql`
      select place_kind as account, sum(amount)::text as amount
      from journal j
      where posting_id = ${postingId}
        and (
          move_id is null
            or not exists (select 1 from moves m where m.id = j.move_id and m.posting_id = ${postingId})
        )
      group by 1
      having sum(amount) <> 0
      order by 1`,
  )
}
