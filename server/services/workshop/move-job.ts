import { sql } from 'drizzle-orm'
import { toDay, toIso, type Day } from '~~/core/calendar/days'
import { back, isWorking, type WorkingCalendar } from '~~/core/calendar/working'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Job, JobMove } from '~~/shared/workshop/board'
import { OPEN_BUILD } from '~~/shared/workshop/requests'
import { lockAsSeen, saveDocument } from '../../documents'
import { loadWorkingCalendar } from '../company/calendars'
import { servedLater } from '../stock/served-later'

const OVER = 'This day is over. Choose today or later.'
function requireToCome(day: string, today: string): void {
  if (day < today) {
    throw new Refusal('invalid-input', OVER, { day: OVER })
  }
}

interface Dates {
  readonly dueOn: string
  readonly releaseOn: string | null
}
interface OpenJob extends Dates {
  readonly status: string
  readonly siteId: number
}
/**
 * The days of a job that is to be done on another: it begins as many working days before as it did, though not before
 * today; what is begun stays begun.
 */
async function movedTo(reader: Reader, job: OpenJob, day: string, today: string): Promise<Dates> {
  if (job.releaseOn === null || job.status === 'started') {
    return { dueOn: day, releaseOn: job.releaseOn }
  }
  const { calendar } = await loadWorkingCalendar(reader, job.siteId)
  const lead = workingDaysBetween(calendar, toDay(job.releaseOn), toDay(job.dueOn))
  const releaseOn = toIso(back(calendar, toDay(day), lead))
  return { dueOn: day, releaseOn: releaseOn < today ? today : releaseOn }
}
function workingDaysBetween(calendar: WorkingCalendar, from: Day, until: Day): number {
  let days = 0
  for (let day = from; day < until; day++) {
    days += Number(isWorking(calendar, day))
  }
  return days
}

/**
 * What giving a job another day makes late, before anybody does it. Errors: a job that is not open, a day that is over.
 */
export async function previewJobMove(reader: Reader, job: Job, day: string, today: string): Promise<JobMove> {
  requireToCome(day, today)
  const [stored] = await rows<OpenJob>(
    reader,
    job.kind === 'build'
      ? sql`
          select due_on as "dueOn", release_on as "releaseOn", status, site_id as "siteId"
          from builds
          where id = ${job.id} and status in ('draft', 'ready', 'started')`
      : sql`
          select due_on as "dueOn", null as "releaseOn", status, site_id as "siteId"
          from break_downs
          where id = ${job.id} and status = 'planned'`,
  )
  if (!stored) {
    throw new Refusal('not-found', 'This job is done or cancelled.')
  }
  const moved = await movedTo(reader, stored, day, today)
  return { ...moved, late: await madeLate(reader, job, moved, today) }
}

/** Which demands are served later than they would be with the job as it stands. */
async function madeLate(reader: Reader, job: Job, moved: Dates, today: string): Promise<JobMove['late']> {
  const own = `${job.kind}:${job.id}`
  const late = await servedLater(reader, await itemsOf(reader, job), today, (row) => {
    if (row.job !== own) {
      return row
    }
    return { ...row, day: row.kind === 'build out' ? (moved.releaseOn ?? row.day) : moved.dueOn }
  })
  return late.map(({ job: of, ...row }) => ({ ...row, isOwnNeed: of === own }))
}

/** The items that a job makes or takes. */
async function itemsOf(reader: Reader, { kind, id }: Job): Promise<number[]> {
  const found = await rows<{ id: number }>(
    reader,
    kind === 'build'
      ? sql`
          select item_id as id from builds where id = ${id}
          union
          select item_id from build_lines where build_id = ${id}`
      : sql`
          select item_id as id from break_downs where id = ${id}
          union
          select o.item_id
          from break_downs d
          join recipe_outputs o on o.recipe_id = d.recipe_id
          where d.id = ${id}`,
  )
  return found.map((row) => row.id)
}

/** Gives an open job another day, today or later. */
export async function moveJob(
  tx: Tx,
  actor: Actor,
  { kind, id }: Job,
  { version, day }: { readonly version: number; readonly day: string },
): Promise<Dates & { version: number }> {
  requireToCome(day, actor.today)
  if (kind === 'build') {
    const build = await lockAsSeen(tx, 'build', id, version, OPEN_BUILD)
    const moved = await movedTo(tx, build, day, actor.today)
    const set = { dueOn: moved.dueOn, releaseOn: moved.releaseOn ?? build.releaseOn }
    return { ...moved, ...(await saveDocument(tx, actor, 'build', build, { set })) }
  }
  const breakDown = await lockAsSeen(tx, 'break-down', id, version, ['planned'])
  return {
    dueOn: day,
    releaseOn: null,
    ...(await saveDocument(tx, actor, 'break-down', breakDown, { set: { dueOn: day } })),
  }
}
