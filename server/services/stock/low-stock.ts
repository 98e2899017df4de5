import { plural } from '~~/core/plural'
import { desc, eq, sql } from 'drizzle-orm'
import { forward, makeCalendar } from '~~/core/calendar/working'
import { printDay, toDay, toIso } from '~~/core/calendar/days'
import { lowStock, type LowStock } from '~~/core/planning/low-stock'
import type { DemandRule } from '~~/core/planning/demand'
import type { PlanInput } from '~~/core/planning/input'
import { ratio, toText } from '~~/core/units/exact'
import { grouped } from '~~/core/units/quantity'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { company, lowStockDays, plans, users } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import { tellLowStock, type LowStockAnswer, type LowStockLine } from '~~/shared/planning/low-stock'
import type { LowStockSettings } from '~~/shared/planning/low-stock-requests'
import { itemOf, siteOf } from '~~/shared/planning/node-id'
import { isRole, may } from '~~/shared/company/rights'
import { ALL_OF_IT } from '~~/shared/planning/words'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { inTransaction } from '../../database/transactions'
import { loadCompany, today, type Writing } from '../company/company'
import { sendLetter } from '../company/mails'
import { lessOrdered, stillOffered } from '../planning/ordered-since'
import { inOrderUnits } from '../planning/order-units'
import { loadPlannedSites } from '../planning/planned-sites'
import { takeSnapshot } from '../planning/snapshot'
import { scopeOf } from '../planning/stored-plan'
import { noteChange } from '../../documents'

/** No lead time is looked at further than this. */
const FURTHEST = 400

/**
 * What runs low at each site, as stock, orders and purchases stand now; what counts as demand is what the working plan
 * counts. `aheadDays` are working days of the main site.
 *
 * Sorted by the last day to order.
 */
export async function findLowStock(reader: Reader, day: string, aheadDays: number): Promise<LowStockLine[]> {
  const [working] = await reader.select().from(plans).where(eq(plans.kind, 'working')).orderBy(desc(plans.id)).limit(1)
  const scope = working ? scopeOf(working) : ALL_OF_IT
  const settings = working
    ? {
        demandRule: working.demandRule as DemandRule,
        forecastIds: working.forecastIds,
        forecastFalls: working.forecastFalls,
      }
    : { demandRule: 'orders only' as const, forecastIds: [], forecastFalls: 'first day' as const }
  const [longest] = await rows<{ days: number }>(
    reader,
    sql`
      select greatest(
        coalesce((select max(lead_days) from items where status = 'active'), 0),
        coalesce((select max(lead_days) from supplier_terms), 0), coalesce((select max(days) from routes), 0)
      ) as days`,
  )
  const end = toIso(toDay(day) + Math.min(FURTHEST, (longest!.days + aheadDays) * 2 + 28))
  const input = await takeSnapshot(reader, { start: day, end, ...settings, scope })
  const places = await loadPlannedSites(reader, scope)
  const { main } = places.areas
  const { weekdays, closed } = input.calendars[places.calendarOf(main)]!
  const found = lowStock(input, toIso(forward(makeCalendar(weekdays, closed), toDay(day), aheadDays)))
  if (!found.ok) {
    throw new Error(`Snapshot refused: ${JSON.stringify(found.error)}`)
  }
  return toLines(reader, input, found.value, main)
}

async function toLines(
  reader: Reader,
  input: PlanInput,
  found: readonly LowStock[],
  main: number,
): Promise<LowStockLine[]> {
  const sources = new Map(input.nodes.map((node) => [node.id, node.source]))
  const bulkOf = (node: string): number[] => {
    const source = sources.get(node)!
    return source.kind === 'break down' ? [itemOf(source.from)] : []
  }
  const items = await loadMeasuredItems(reader, [
    ...new Set(found.flatMap((match) => [itemOf(match.node), ...bulkOf(match.node)])),
  ])
  const names = new Map(
    (await rows<{ id: number; name: string }>(reader, sql`select id, name from sites`)).map((entry) => [
      entry.id,
      entry.name,
    ]),
  )
  const suppliers = new Map(
    (await rows<{ id: number; name: string }>(reader, sql`select id, name from suppliers`)).map((entry) => [
      String(entry.id),
      entry.name,
    ]),
  )
  const several = input.nodes.some((node) => siteOf(node.id) !== null)
  const orderedBy = (node: string, quantity: number): Pick<LowStockLine, 'supplierId' | 'fromSiteId' | 'breaking'> => {
    const source = sources.get(node)!
    if (source.kind === 'buy') {
      return { supplierId: Number(source.supplier) }
    }
    if (source.kind === 'move') {
      return { fromSiteId: siteOf(source.from) ?? main }
    }
    if (source.kind !== 'break down') {
      return {}
    }
    const bulk = items.get(itemOf(source.from))!
    return {
      breaking: {
        itemId: bulk.id,
        code: bulk.code,
        name: bulk.name,
        recipeId: Number(source.recipe),
        times: String(Math.ceil(quantity / (source.outputs.find((output) => output.node === node)?.quantity ?? 1))),
      },
    }
  }
  return found.map(({ node, onHand, left, keep, quantity, ...rest }): LowStockLine => {
    const item = items.get(itemOf(node))!
    const source = sources.get(node)!
    const text = (steps: number): string => toText(item.measure.finestStep.mul(ratio(BigInt(steps))))
    const siteId = several ? (siteOf(node) ?? main) : null
    let from
    if (source.kind === 'buy') {
      from = suppliers.get(source.supplier)
    } else if (source.kind === 'move') {
      from = names.get(siteOf(source.from) ?? main)
    } else {
      from = undefined
    }
    const { kind, lowOn, orderBy, lateBy, leadDays, promisedOn } = rest
    return {
      itemId: item.id,
      code: item.code,
      name: item.name,
      symbol: item.symbol,
      siteId,
      site: siteId === null ? null : (names.get(siteId) ?? null),
      from: from ?? null,
      onHand: text(onHand),
      left: text(left),
      keep: text(keep),
      quantity: text(quantity),
      kind,
      lowOn,
      orderBy,
      lateBy,
      leadDays,
      promisedOn,
      ...orderedBy(node, quantity),
    }
  })
}

const aheadDaysOf = async (reader: Reader): Promise<number> =>
  (await reader.select({ days: company.lowStockDays }).from(company))[0]?.days ?? 5

/** Looks for low stock and keeps what is found for the day, in place of what was found earlier on it. */
export async function lookForLowStock(tx: Tx, day: string): Promise<readonly LowStockLine[]> {
  const lines = await findLowStock(tx, day, await aheadDaysOf(tx))
  await tx
    .insert(lowStockDays)
    .values({ day, lines })
    .onConflictDoUpdate({ target: lowStockDays.day, set: { lines, lookedAt: sql`now()` } })
  return lines
}

/** What was found last, less what has been ordered since, with the reader's settings. */
export async function readLowStock(actor: Actor): Promise<LowStockAnswer> {
  const [found] = await db.select().from(lowStockDays).orderBy(desc(lowStockDays.day)).limit(1)
  const [person] = await db.select({ mail: users.lowStockMail }).from(users).where(eq(users.id, actor.userId))
  return {
    day: found?.day ?? null,
    lookedAt: found?.lookedAt ?? null,
    lines: found ? await withOrderUnits(stillOffered(await lessOrdered(db, found.lookedAt, found.lines))) : [],
    aheadDays: await aheadDaysOf(db),
    mail: person?.mail ?? true,
  }
}

async function withOrderUnits(lines: readonly LowStockLine[]): Promise<LowStockLine[]> {
  const items = await loadMeasuredItems(db, [...new Set(lines.map((line) => line.itemId))])
  const bought = lines.flatMap((line, index) =>
    line.kind === 'buy' && line.supplierId !== undefined
      ? [{ ...line, kind: line.kind, supplierId: line.supplierId, ref: String(index), state: 'proposed' }]
      : [],
  )
  const inUnits = await inOrderUnits(db, bought, new Map(), items)
  return lines.map((line, index) => ({ ...line, inUnit: inUnits.get(String(index)) }))
}

/**
 * How far ahead it is told, for all; and whether the one who says so gets the letter. What runs low is looked for anew.
 */
export async function setLowStock(
  tx: Tx,
  actor: Actor,
  { aheadDays, mail }: LowStockSettings,
): Promise<{ lines: number }> {
  const before = await aheadDaysOf(tx)
  await tx.update(company).set({ lowStockDays: aheadDays })
  await tx.update(users).set({ lowStockMail: mail }).where(eq(users.id, actor.userId))
  if (before !== aheadDays) {
    await noteChange(tx, actor, { kind: 'company', id: 1 }, { lowStockDays: before }, { lowStockDays: aheadDays })
  }
  return { lines: (await lookForLowStock(tx, actor.today)).length }
}

/** Whether nobody has looked today; never before there is a company. */
export async function isLowStockDue(): Promise<boolean> {
  if (!(await loadCompany())) {
    return false
  }
  const [done] = await db
    .select({ day: lowStockDays.day })
    .from(lowStockDays)
    .where(eq(lowStockDays.day, await today()))
  return done === undefined
}

/**
 * The look of the day: once a day, whichever server comes first, what runs low is found and mailed to everybody who may
 * plan and wants it.
 *
 * Where nothing runs low nobody is written to. Answers how many letters went out; null where the day was looked at
 * before.
 */
export async function dailyLowStock(day?: string): Promise<number | null> {
  const own = await loadCompany()
  if (!own) {
    return null
  }
  const asOf = day ?? (await today())
  return inTransaction(async (tx) => {
    await rows(tx, sql`select pg_advisory_xact_lock(7302)`)
    const [done] = await tx.select({ day: lowStockDays.day }).from(lowStockDays).where(eq(lowStockDays.day, asOf))
    if (done) {
      return null
    }
    const lines = await lookForLowStock(tx, asOf)
    if (lines.length === 0) {
      return 0
    }
    const people = (await tx.select().from(users).where(eq(users.active, true))).filter(
      (entry) => entry.lowStockMail && isRole(entry.role) && may(entry.role, 'plan'),
    )
    let sent = 0
    for (const person of people) {
      if (
        await sendLetter(tx, {
          key: `low-stock ${asOf} ${person.id}`,
          userId: person.id,
          to: person.email,
          name: person.name,
          from: own.name,
          day: asOf,
          ...letterOf(lines, asOf, person.name, own),
        })
      ) {
        sent++
      }
    }
    return sent
  })
}

/** The letter: what is over first, then what is to be ordered soon. */
export function letterOf(
  lines: readonly LowStockLine[],
  day: string,
  name: string,
  format: Writing,
): { subject: string; body: string } {
  const writing = {
    day: (iso: string) => printDay(iso, day, format.dateFormat),
    digits: (decimal: string) => grouped(decimal, format),
  }
  const linesOf = (some: readonly LowStockLine[]): string[] =>
    some.map(
      (line) => `- ${line.code} ${line.name}${line.site ? `, ${line.site}` : ''}: ${tellLowStock(line, writing)}`,
    )
  const [late, soon] = [lines.filter((line) => line.lateBy > 0), lines.filter((line) => line.lateBy === 0)]
  const body = [
    `Good morning ${name.split(' ')[0]},`,
    '',
    ...(late.length > 0 ? [`Too late already (${late.length}):`, ...linesOf(late), ''] : []),
    ...(soon.length > 0 ? [`To be ordered soon (${soon.length}):`, ...linesOf(soon), ''] : []),
    'The list is in the Stockroom under “Running low”. You can leave off these letters there.',
    '',
  ]
  return {
    subject: `${lines.length} ${plural(lines.length, 'item runs', 'items run')} low${late.length > 0 ? `, ${late.length} too late already` : ''}`,
    body: body.join('\n'),
  }
}
