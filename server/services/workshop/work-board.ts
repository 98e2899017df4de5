import { sql } from 'drizzle-orm'
import { toDay, toIso, weekday } from '~~/core/calendar/days'
import { isWorking } from '~~/core/calendar/working'
import { ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { BoardJob, WorkBoard } from '~~/shared/workshop/board'
import { loadWorkingCalendar } from '../company/calendars'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { bindBills } from '../structure/bind-structure'
import { minutesOf } from './bill-needs'

const SHOWN_DAYS = 14
/** Two weeks from a later day on would end in a year of five digits. */
const LAST_FIRST = '9999-12-01'
const TOO_FAR = 'That is further ahead than the calendar goes.'

/**
 * Two weeks of a site's jobs from a Monday on: the one asked for, else the week of today, with what should have been
 * done before it.
 */
export async function readWorkBoard(
  { site, from }: { site: number | null; from: string | null },
  today: string,
): Promise<WorkBoard> {
  const sites = await rows<{ id: number; name: string }>(
    db,
    sql`select id, name from sites where not retired order by id`,
  )
  const shown = site === null ? (sites[0] ?? null) : sites.find((each) => each.id === site)
  if (shown === undefined) {
    throw new Refusal('not-found', 'There is no such site.')
  }
  const first = mondayOf(from ?? today)
  if (first > LAST_FIRST) {
    throw new Refusal('invalid-input', TOO_FAR, { from: TOO_FAR })
  }
  const last = toIso(toDay(first) + SHOWN_DAYS - 1)
  const { calendar, hours } = await loadWorkingCalendar(db, shown?.id ?? null)
  const minutes = hours === null ? null : Number(hours) * 60
  const days = Array.from({ length: SHOWN_DAYS }, (_, at) => {
    const isWorked = isWorking(calendar, toDay(first) + at)
    return { day: toIso(toDay(first) + at), isWorked, room: isWorked ? minutes : 0 }
  })
  const jobs = await listBoardJobs(shown?.id ?? 0, last)
  return {
    site: shown,
    sites,
    from: first,
    days: minutes === null ? days.map((day) => ({ ...day, room: null })) : days,
    jobs: jobs.filter((job) => job.dueOn >= first || first <= today),
    later: await countLater(shown?.id ?? 0, last),
  }
}

const mondayOf = (iso: string): string => toIso(toDay(iso) - weekday(toDay(iso)))

type FoundJob = Omit<BoardJob, 'minutes'> & { readonly bomId: number | null }
const JOBS = sql`
  select
    'build:' || b.id as id, 'build' as kind, '/workshop/builds/' || b.id as link, b.number, b.item_id as "itemId",
    b.bom_id as "bomId", trim_scale(greatest(b.quantity - b.made, 0))::text as left, b.due_on as "dueOn",
    b.release_on as "releaseOn", b.status, b.version, b.site_id as "siteId",
    (
      select o.number from sales_lines l join sales_orders o on o.id = l.order_id where l.id = b.sales_line_id
    ) as "forWhat"
  from builds b
  where b.status in ('draft', 'ready', 'started')
  union all
  select
    'break-down:' || d.id, 'break-down', '/workshop/break-downs/' || d.id, d.number, d.item_id, null,
    trim_scale(d.times * r.take)::text, d.due_on, null, d.status, d.version, d.site_id, null
  from break_downs d
  join recipes r on r.id = d.recipe_id
  where d.status = 'planned'`

async function listBoardJobs(site: number, last: string): Promise<BoardJob[]> {
  const found = await rows<FoundJob>(
    db,
    sql`
      select
        j.id, j.kind, j.link, j.number, j."itemId", j."bomId", i.code, i.name, j.left, i.symbol, j."dueOn",
        j."releaseOn", j.status, j.version, j."forWhat"
      from (${JOBS}) j
      join ${MEASURED_ITEM} i on i.id = j."itemId"
      where j."siteId" = ${site} and j."dueOn" <= ${last}
      order by j."dueOn", j.status = 'started' desc, j.number`,
  )
  const boms = found.flatMap((job) => job.bomId ?? [])
  const items = await loadMeasuredItems(
    db,
    found.map((job) => job.itemId),
  )
  const { heads } = await bindBills(db, items, anyOf(sql`b.id`, boms))
  const headOf = new Map(heads.map((head) => [head.id, head]))
  return found.map(({ bomId, ...job }) => {
    const head = headOf.get(bomId ?? 0)
    return { ...job, minutes: head ? Math.round(Number(minutesOf(head, ratio(job.left))) * 10) / 10 : 0 }
  })
}

async function countLater(site: number, last: string): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from (${JOBS}) j where j."siteId" = ${site} and j."dueOn" > ${last}`,
  )
  return found!.count
}
