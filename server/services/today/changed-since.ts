import { sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { back } from '~~/core/calendar/working'
import { db, rows } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import type { ChangedSince } from '~~/shared/company/today'
import { loadWorkingCalendar } from '../company/calendars'

/**
 * What has come in and been recorded since the company's last working day: new orders, and postings that stand, counted
 * by their kind.
 */
export async function changedSince(today: string): Promise<ChangedSince> {
  const { calendar } = await loadWorkingCalendar(db, null)
  const since = toIso(back(calendar, toDay(today) - 1, 0))
  const changes = await rows<ChangedSince['changes'][number]>(
    db,
    sql`
      select 'sales order' as kind, count(*)::int as count from sales_orders where ordered_on >= ${since}
      union all
      select 'purchase order', count(*)::int from purchase_orders where ordered_on >= ${since}
      union all
      select kind, count(*)::int
      from postings o
      where o.effective_on >= ${since} and o.reverses_id is null and ${notReversed('o.id')}
      group by kind
      order by 1`,
  )
  const [items] = await rows<{ some: boolean }>(db, sql`select exists (select from items) as some`)
  return { isNew: !items!.some, since, changes: changes.filter((change) => change.count > 0) }
}
