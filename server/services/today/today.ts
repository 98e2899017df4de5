import { desc, eq, sql } from 'drizzle-orm'
import { printDay, toDay, toIso } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { lowStockDays, plans } from '~~/server/database/schema'
import { tellLowStockShort } from '~~/shared/planning/low-stock'
import { loadWriting } from '../company/company'
import { lessOrdered, stillOffered } from '../planning/ordered-since'
import { workingPlanId } from '../planning/plans'
import { servedLines } from '../dispatch/serving'
import { toAskAgain, toChase, toReceive, toSend, toTake } from './purchases'
import { toWatch } from './stock-to-watch'
import { MANY, quantity, writeQuantities, type Area, type TodayLine } from './today-line'

/** What needs a hand now, in the order in which goods and decisions flow; each line with the act that settles it. */
export async function todayLines(today: string): Promise<{ lines: TodayLine[]; counts: Record<Area, number> }> {
  const planId = await workingPlanId()
  const found = [
    ...(await shortOrders()),
    ...(await toRelease(planId, today)),
    ...(await toAskAgain(today)),
    ...(await toTake()),
    ...(await toSend(today)),
    ...(await toChase(today)),
    ...(await toReceive(today)),
    ...(await toMake(today)),
    ...(await runningLow(planId, today)),
    ...(await toWatch(today)),
    ...(await toShip()),
  ]
  const format = await loadWriting()
  const lines = found.map((line) => ({
    ...line,
    title: writeQuantities(line.title, format),
    detail: writeQuantities(line.detail, format),
  }))
  const counts = { demand: 0, planning: 0, purchasing: 0, workshop: 0, stock: 0, dispatch: 0 }
  for (const line of lines) {
    counts[line.area]++
  }
  return { lines, counts }
}

const shortOrders = async (): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'demand' as area, 'order:' || o.id as id, o.due_on as day, o.number || ' ' || c.name as title,
        string_agg(
          ${quantity(sql`l.open - l.got`)} || ' ' || i.symbol || ' ' || i.code || ' missing', ', '
          order by l.line
        ) as detail,
        'See the order' as act, '/demand/orders/' || o.id as link, false as urgent
      from ${await servedLines(db)} l
      join sales_orders o on o.id = l.order_id
      join customers c on c.id = o.customer_id
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where l.open > l.got
      group by o.id, o.number, o.due_on, c.name
      order by o.due_on
      limit ${MANY}`,
  )

/** Planned orders whose day to release has come, but for what has been ordered since they were planned. */
async function toRelease(planId: number | null, today: string): Promise<TodayLine[]> {
  if (planId === null) {
    return []
  }
  const [plan] = await db.select({ ranAt: plans.ranAt }).from(plans).where(eq(plans.id, planId))
  const found = await rows<Omit<TodayLine, 'title'> & PlannedToRelease>(
    db,
    sql`
      select
        'planning' as area, 'planned:' || o.id as id, o.release_on as day, o.state, o.item_id as "itemId",
        o.site_id as "siteId", o.quantity::text as quantity, i.symbol, i.code,
        case o.kind
          when 'buy' then 'Buy'
          when 'make' then 'Build'
          when 'move' then 'Move'
          else 'Break down for'
        end as verb,
        coalesce(s.name || ', ', f.name || ' → ' || t.name || ', ', '') || case
          when o.late_by > 0 then o.late_by || ' working days late'
          else 'release by today'
        end as detail,
        'Review and release' as act, '/planning/' || o.plan_id as link, o.late_by > 0 as urgent
      from planned_orders o
      join ${MEASURED_ITEM} i on i.id = o.item_id
      left join suppliers s on s.id = o.supplier_id
      left join sites f on f.id = o.from_site_id
      left join sites t on t.id = o.site_id
      where o.plan_id = ${planId} and o.state <> 'released' and o.release_on <= ${toIso(toDay(today) + 1)}
      order by o.late_by desc, o.release_on, i.code
      limit ${MANY}`,
  )
  const fixed = found.filter((line) => line.state === 'fixed')
  const open = stillOffered(
    await lessOrdered(
      db,
      plan?.ranAt ?? null,
      found.filter((line) => line.state !== 'fixed'),
    ),
  )
  const format = await loadWriting()
  const kept = new Map([...fixed, ...open].map((line) => [line.id, line]))
  return found.flatMap(({ id }): TodayLine[] => {
    const line = kept.get(id)
    if (!line) {
      return []
    }
    const { verb, quantity, symbol, code, area, day, detail, act, link, urgent } = line
    return [
      { id, area, day, title: `${verb} ${grouped(quantity, format)} ${symbol} ${code}`, detail, act, link, urgent },
    ]
  })
}

interface PlannedToRelease {
  readonly state: string
  readonly itemId: number
  readonly siteId: number | null
  readonly quantity: string
  readonly symbol: string
  readonly code: string
  readonly verb: string
}

/** What the last look found to run low, but for what waits above as a planned order to release. */
async function runningLow(planId: number | null, today: string): Promise<TodayLine[]> {
  const [found] = await db.select().from(lowStockDays).orderBy(desc(lowStockDays.day)).limit(1)
  const planned = new Set(
    planId === null
      ? []
      : (
          await rows<{ itemId: number; siteId: number | null }>(
            db,
            sql`
              select item_id as "itemId", site_id as "siteId"
              from planned_orders
              where plan_id = ${planId} and state <> 'released' and release_on <= ${toIso(toDay(today) + 1)}`,
          )
        ).map((entry) => `${entry.itemId} ${entry.siteId}`),
  )
  const [{ first } = { first: null }] = await rows<{ first: number | null }>(
    db,
    sql`select min(id) as first from sites where not retired`,
  )
  const low = found ? stillOffered(await lessOrdered(db, found.lookedAt, found.lines)) : []
  const lines = low.filter((line) => !planned.has(`${line.itemId} ${line.siteId ?? first}`))
  const format = await loadWriting()
  const writing = {
    day: (iso: string) => printDay(iso, today, format.dateFormat),
    digits: (decimal: string) => grouped(decimal, format),
  }
  return lines.slice(0, MANY).map((line) => ({
    area: 'stock',
    id: `low:${line.itemId}:${line.siteId ?? ''}`,
    day: line.orderBy,
    title: `${line.code} runs low${line.site ? ` at ${line.site}` : ''}`,
    detail: tellLowStockShort(line, writing),
    act: 'See what runs low',
    link: '/stock?tab=low',
    urgent: line.lateBy > 0,
  }))
}

const toMake = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select *
      from (
        select
          'workshop' as area, 'build:' || b.id as id, b.release_on as day,
          b.number || ' ' || ${quantity(sql`b.quantity`)} || ' ' || i.symbol || ' ' || i.code as title,
          i.name as detail, case when i.source = 'kit' then 'Pack' else 'Build' end as act,
          '/workshop/builds/' || b.id as link, b.due_on < ${today} as urgent
        from builds b
        join ${MEASURED_ITEM} i on i.id = b.item_id
        where b.status in ('draft', 'ready', 'started') and b.release_on <= ${toIso(toDay(today) + 2)}
        union all
        select
          'workshop', 'break-down:' || b.id, b.due_on,
          b.number || ' ' || ${quantity(sql`b.times * r.take`)} || ' ' || (
            select symbol from units where code = r.unit
          ) || ' ' || i.code,
          i.name, 'Break down', '/workshop/break-downs/' || b.id, b.due_on < ${today}
        from break_downs b
        join recipes r on r.id = b.recipe_id
        join items i on i.id = b.item_id
        where b.status = 'planned' and b.due_on <= ${toIso(toDay(today) + 2)}
      ) j
      order by day
      limit ${MANY}`,
  )

/** Orders of which everything is there, and those of which only services are left. */
const toShip = async (): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'dispatch' as area, 'ship:' || o.id as id, o.due_on as day, o.number || ' ' || c.name as title,
        case
          when bool_and(l.id is null) then 'only services are left'
          when bool_and(l.open = 0) then 'allocated in full'
          else 'everything is there'
        end as detail,
        case
          when bool_and(l.id is null) then 'Record them'
          when bool_and(l.open = 0) then 'Ship'
          else 'Allocate'
        end as act,
        '/dispatch/' || o.id as link, false as urgent
      from sales_orders o
      join customers c on c.id = o.customer_id
      left join ${await servedLines(db)} l on l.order_id = o.id
      where o.status = 'open'
      group by o.id, o.number, o.due_on, c.name
      having coalesce(bool_and(l.open <= l.got), true)
      order by o.due_on
      limit ${MANY}`,
  )
