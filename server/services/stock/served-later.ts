import { sql } from 'drizzle-orm'
import { toDay } from '~~/core/calendar/days'
import { groupBy } from '~~/core/group-by'
import { coveredFrom } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { ServedLater } from '~~/shared/stock/served-later'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { loadDatedChanges, type DatedRow } from './dated-changes'

/**
 * Which demands for some items are served later than they would be, once what is to come and to go is changed: `change`
 * answers each of them as it would be then. What is overdue comes today at the soonest.
 */
export async function servedLater(
  reader: Reader,
  itemIds: readonly number[],
  today: string,
  change: (row: DatedRow) => DatedRow,
): Promise<readonly (ServedLater & Pick<DatedRow, 'job'>)[]> {
  const items = await loadMeasuredItems(reader, itemIds)
  const onHand = await availableOf(reader, itemIds)
  const before = (await loadDatedChanges(reader, itemIds)).map((row) =>
    row.quantity.compare(ZERO) > 0 && row.day < today ? { ...row, day: today } : row,
  )
  const after = before.map(change)
  const delayedBefore = delays(onHand, before)
  const delayedAfter = delays(onHand, after)
  return after.flatMap((row) => {
    const then = delayedAfter.get(row.id)
    if (!then || then.days <= (delayedBefore.get(row.id)?.days ?? 0)) {
      return []
    }
    const { code, symbol } = items.get(row.itemId)!
    return [
      {
        label: row.label,
        link: row.link,
        code,
        symbol,
        quantity: toText(ZERO.sub(row.quantity)),
        wantedOn: row.day,
        coveredOn: then.coveredOn,
        job: row.job,
      },
    ]
  })
}

async function availableOf(reader: Reader, itemIds: readonly number[]): Promise<ReadonlyMap<number, Ratio>> {
  const found = await rows<{ itemId: number; onHand: string }>(
    reader,
    sql`
      select item_id as "itemId", sum(on_hand)::text as "onHand"
      from balances
      where ${anyOf(sql`item_id`, itemIds)} and status = 'available'
      group by 1`,
  )
  return new Map(found.map((row) => [row.itemId, ratio(row.onHand)]))
}

/** By how many days each demand is served late; 0 of those in time. */
function delays(
  onHand: ReadonlyMap<number, Ratio>,
  changes: readonly DatedRow[],
): ReadonlyMap<string, { readonly days: number; readonly coveredOn: string | null }> {
  const delayed = new Map<string, { days: number; coveredOn: string | null }>()
  for (const [itemId, ofItem] of groupBy(changes, (row) => row.itemId)) {
    const covered = coveredFrom(onHand.get(itemId) ?? ZERO, ofItem)
    for (const row of ofItem) {
      const day = covered.get(row.id)
      if (day !== undefined) {
        delayed.set(row.id, { coveredOn: day, days: day === null ? Infinity : toDay(day) - toDay(row.day) })
      }
    }
  }
  return delayed
}
