import { eq, sql } from 'drizzle-orm'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { buildLines, builds } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { OPEN_BUILD, type BuildEdit } from '~~/shared/workshop'
import {
  asNumeric,
  loadMeasuredItem,
  loadMeasuredItems,
  readQuantity,
  requireUsable,
  type MeasuredItem,
} from '../catalogue/measured-items'
import { nextNumber, noteChange, requireVersion } from '../company/command'
import { billInUse } from '../structure/bills'
import { needsByBill, plannedCost, type BillNeed } from './bill-needs'
import { giveFree } from './allocate-build'

export type Build = typeof builds.$inferSelect
export type BuildLine = typeof buildLines.$inferSelect

export interface BuildOrder {
  readonly itemId: number
  readonly quantity: string
  readonly unit: string
  readonly dueOn: string
  readonly releaseOn?: string
  readonly number?: string
  readonly siteId?: number | null
  readonly note?: string
  readonly salesLineId?: number | null
  readonly forBuildId?: number
}

/** Writes a build by the revision that is in use when it begins, with what it takes; a draft, which sets nothing aside yet. */
export async function createBuild(tx: Tx, actor: Actor, edit: BuildOrder): Promise<{ id: number; number: string }> {
  const item = await loadMeasuredItem(tx, edit.itemId)
  requireUsable(item, 'itemId', 'any')
  const releaseOn = edit.releaseOn ?? actor.today
  const bomId = await billInUse(tx, edit.itemId, releaseOn < actor.today ? actor.today : releaseOn)
  if (bomId === null) {
    throw new Refusal('invalid-input', `${item.code} has no bill of materials in use. Write one on its page.`, {
      itemId: `${item.code} has no bill of materials in use. Write one on its page.`,
    })
  }
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity', 'required')
  const siteId = edit.siteId ?? (await firstSite(tx))
  const [site] = await rows<{ id: number }>(tx, sql`select id from sites where id = ${siteId} and not retired`)
  if (!site) {
    throw new Refusal('invalid-input', 'Choose a site.', { siteId: 'Choose a site.' })
  }
  const number = edit.number ?? (await nextNumber(tx, item.source === 'kit' ? 'KP' : 'B'))
  const [build] = await tx
    .insert(builds)
    .values({
      number,
      itemId: edit.itemId,
      bomId,
      siteId,
      quantity: asNumeric(read.quantity),
      releaseOn,
      dueOn: edit.dueOn,
      note: edit.note ?? '',
      salesLineId: edit.salesLineId ?? null,
      forBuildId: edit.forBuildId ?? null,
    })
    .returning()
  await writeLines(
    tx,
    build!.id,
    (await needsByBill(tx, { itemId: edit.itemId, bomId, quantity: read.quantity }, actor.today)).needs,
  )
  await noteChange(tx, actor, 'build', build!.id, null, { ...edit, number })
  return { id: build!.id, number }
}

export async function firstSite(tx: Reader): Promise<number> {
  const [site] = await rows<{ id: number }>(tx, sql`select id from sites where not retired order by id limit 1`)
  if (!site) {
    throw new Refusal('not-now', 'There is no site to build at. Add one under Places first.')
  }
  return site.id
}

async function writeLines(tx: Tx, buildId: number, needs: readonly BillNeed[], from = 0): Promise<void> {
  if (needs.length === 0) {
    return
  }
  await tx.insert(buildLines).values(
    needs.map((need, index) => ({
      buildId,
      position: from + index + 1,
      itemId: need.itemId,
      forItemId: need.itemId,
      need: asNumeric(need.quantity),
      unit: need.unit,
      planned: need.planned,
    })),
  )
}

/** Builds from before they had lines of their own get what their bill says. */
export async function writeMissingLines(tx: Tx, today: string): Promise<void> {
  for (const build of await rows<{ id: number; itemId: number; bomId: number; quantity: string }>(
    tx,
    sql`
      select id, item_id as "itemId", bom_id as "bomId", quantity
      from builds b
      where status = 'draft' and not exists (select 1 from build_lines l where l.build_id = b.id)`,
  )) {
    await writeLines(tx, build.id, (await needsByBill(tx, { ...build, quantity: ratio(build.quantity) }, today)).needs)
  }
}

/** Changes a build that is still a draft: how much, when, and what it takes this time. Lines that were not changed by hand follow the quantity. */
export async function editBuild(tx: Tx, actor: Actor, id: number, edit: BuildEdit): Promise<{ version: number }> {
  const build = await lockBuild(tx, id, edit.version, OPEN_BUILD)
  const item = await loadMeasuredItem(tx, build.itemId)
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity', 'required')
  const quantity = asNumeric(read.quantity)
  const newQuantity = !ratio(build.quantity).equals(read.quantity)
  if ((newQuantity || edit.lines) && build.status !== 'draft') {
    throw new Refusal(
      'not-now',
      `${build.number} is ${build.status}: what it takes stands. Free its components again first.`,
    )
  }
  const stored = await tx.select().from(buildLines).where(eq(buildLines.buildId, id)).orderBy(buildLines.position)
  if (edit.lines) {
    await replaceLines(tx, actor, build, stored, edit.lines, read.quantity)
  } else if (newQuantity) {
    await followQuantity(tx, actor, build, stored, read.quantity)
  }
  const version = build.version + 1
  await tx.update(builds).set({ quantity, dueOn: edit.dueOn, note: edit.note, version }).where(eq(builds.id, id))
  await noteChange(
    tx,
    actor,
    'build',
    id,
    { quantity: build.quantity, dueOn: build.dueOn, note: build.note, lines: told(stored), version: build.version },
    {
      quantity,
      dueOn: edit.dueOn,
      note: edit.note,
      lines: told(await tx.select().from(buildLines).where(eq(buildLines.buildId, id)).orderBy(buildLines.position)),
      version,
    },
  )
  return { version }
}

const told = (lines: readonly BuildLine[]): string[] =>
  lines.map((line) => `${toText(ratio(line.need))} × ${line.itemId}`)

async function followQuantity(
  tx: Tx,
  actor: Actor,
  build: Build,
  stored: readonly BuildLine[],
  quantity: Ratio,
): Promise<void> {
  const byHand = stored.filter((line) => line.byHand)
  const { needs } = await needsByBill(tx, { ...build, quantity }, actor.today)
  await tx.delete(buildLines).where(sql`${buildLines.buildId} = ${build.id} and not ${buildLines.byHand}`)
  await writeLines(
    tx,
    build.id,
    needs.filter((need) => !byHand.some((line) => (line.forItemId ?? line.itemId) === need.itemId)),
    Math.max(0, ...byHand.map((line) => line.position)),
  )
}

async function replaceLines(
  tx: Tx,
  actor: Actor,
  build: Build,
  stored: readonly BuildLine[],
  wanted: NonNullable<BuildEdit['lines']>,
  quantity: Ratio,
): Promise<void> {
  const items = await loadMeasuredItems(tx, [...new Set(wanted.map((line) => line.itemId))])
  await tx.delete(buildLines).where(eq(buildLines.buildId, build.id))
  const seen = new Set<number>()
  for (const [index, line] of wanted.entries()) {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'There is no such item.', {
        [`lines.${index}.itemId`]: 'There is no such item.',
      })
    }
    requireUsable(item, `lines.${index}.itemId`, 'any')
    let fault
    if (line.itemId === build.itemId) {
      fault = 'A build does not take what it makes.'
    } else if (item.kind === 'service') {
      fault = `${item.code} is a service, which is not taken from stock.`
    } else if (seen.has(line.itemId)) {
      fault = `${item.code} is on another line already. Put both together.`
    } else {
      fault = null
    }
    if (fault !== null) {
      throw new Refusal('invalid-input', fault, { [`lines.${index}.itemId`]: fault })
    }
    seen.add(line.itemId)
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`, 'required')
    const known = stored.find((entry) => entry.id === line.id && entry.itemId === line.itemId)
    const same =
      known !== undefined && ratio(known.need).equals(read.quantity) && ratio(build.quantity).equals(quantity)
    await tx.insert(buildLines).values({
      buildId: build.id,
      position: index + 1,
      itemId: line.itemId,
      forItemId: known ? known.forItemId : line.forItemId,
      need: asNumeric(read.quantity),
      unit: line.unit,
      planned: known?.planned ?? (await plannedCost(tx, line.itemId, read.quantity, actor.today)),
      byHand: same ? known.byHand : true,
    })
  }
}

/** Lets another item stand in for part of a component, or for all that is still to be used of it: `quantity` is of the substitute. */
export async function substitute(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; lineId: number; itemId: number; quantity: string; unit: string },
): Promise<{ version: number }> {
  const build = await lockBuild(tx, id, edit.version, OPEN_BUILD)
  const [line] = await tx
    .select()
    .from(buildLines)
    .where(sql`${buildLines.id} = ${edit.lineId} and ${buildLines.buildId} = ${id}`)
  if (!line) {
    throw new Refusal('not-found', 'There is no such line. Reload the page.')
  }
  const item = await loadMeasuredItem(tx, edit.itemId)
  requireUsable(item, 'itemId', 'any')
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity', 'required')
  const per = await ratioOf(tx, build.bomId, line.forItemId ?? line.itemId, edit.itemId)
  const own = await loadMeasuredItem(tx, line.itemId)
  const left = ratio(line.need).sub(ratio(line.covered))
  const covers = onStep(read.quantity.div(per), own)
  const replaced = covers.compare(left) > 0 ? left : covers
  if (replaced.compare(ZERO) <= 0) {
    throw new Refusal('not-now', `All of ${own.code} that ${build.number} needs is used already.`)
  }
  await giveFree(tx, sql`a.build_line_id = ${line.id}`)
  await tx
    .update(buildLines)
    .set({ need: asNumeric(ratio(line.need).sub(replaced)), byHand: true })
    .where(eq(buildLines.id, line.id))
  const [known] = await tx
    .select()
    .from(buildLines)
    .where(sql`${buildLines.buildId} = ${id} and ${buildLines.itemId} = ${edit.itemId}`)
  if (known) {
    await tx
      .update(buildLines)
      .set({ need: asNumeric(ratio(known.need).add(read.quantity)), byHand: true })
      .where(eq(buildLines.id, known.id))
  } else {
    const [last] = await rows<{ position: number }>(
      tx,
      sql`select max(position) as position from build_lines where build_id = ${id}`,
    )
    await tx.insert(buildLines).values({
      buildId: id,
      position: last!.position + 1,
      itemId: edit.itemId,
      forItemId: line.forItemId ?? line.itemId,
      need: asNumeric(read.quantity),
      unit: edit.unit,
      planned: await plannedCost(tx, edit.itemId, read.quantity, actor.today),
      byHand: true,
    })
  }
  await tx.delete(buildLines).where(
    sql`
      ${buildLines.id} = ${line.id}
        and ${buildLines.need} = 0
        and ${buildLines.used} = 0
        and not exists (select 1 from build_scraps s where s.line_id = ${line.id})`,
  )
  const version = build.version + 1
  const status = build.status === 'ready' ? 'draft' : build.status
  await tx.update(builds).set({ version, status }).where(eq(builds.id, id))
  await noteChange(
    tx,
    actor,
    'build',
    id,
    { version: build.version, status: build.status },
    { version, status, substitute: `${read.entered} ${read.unit} ${item.code} for ${own.code}` },
  )
  return { version }
}

const onStep = (quantity: Ratio, item: MeasuredItem): Ratio => {
  const steps = quantity.div(item.measure.finestStep)
  return ratio(steps.n / steps.d).mul(item.measure.finestStep)
}

/** How much of a substitute stands in for one of a component; as much where the bill does not say. */
async function ratioOf(tx: Tx, bomId: number, componentId: number, substituteId: number): Promise<Ratio> {
  const [known] = await rows<{ numerator: string; denominator: string }>(
    tx,
    sql`
      select s.numerator, s.denominator
      from bom_substitutes s
      join bom_lines l on l.bom_id = s.bom_id and l.position = s.position
      where s.bom_id = ${bomId} and l.item_id = ${componentId} and s.item_id = ${substituteId}
      order by s.rank
      limit 1`,
  )
  return known ? ratio(known.numerator).div(ratio(known.denominator)) : ratio(1)
}

export async function startBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const build = await lockBuild(tx, id, version, ['draft', 'ready'])
  return settle(tx, actor, build, { status: 'started', startedOn: build.startedOn ?? actor.today })
}

/** Gives up a build of which nothing has been recorded. */
export async function cancelBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const build = await lockBuild(tx, id, version, OPEN_BUILD)
  const [used] = await rows<{ id: number }>(
    tx,
    sql`select id from build_lines where build_id = ${id} and used > 0 limit 1`,
  )
  if (used || ratio(build.made).compare(ZERO) > 0) {
    throw new Refusal(
      'not-now',
      `Something of ${build.number} is recorded already. Take it back first, or finish the build as it is.`,
    )
  }
  await giveFree(tx, sql`l.build_id = ${id}`)
  return settle(tx, actor, build, { status: 'cancelled' })
}

export async function settle(
  tx: Tx,
  actor: Actor,
  build: Build,
  now: Partial<Pick<Build, 'status' | 'startedOn' | 'doneOn'>>,
): Promise<{ version: number }> {
  const version = build.version + 1
  await tx
    .update(builds)
    .set({ ...now, version })
    .where(eq(builds.id, build.id))
  await noteChange(tx, actor, 'build', build.id, { status: build.status, version: build.version }, { ...now, version })
  return { version }
}

/** Locks a build in one of the states; a refusal says which it is in. */
export async function lockBuild(tx: Tx, id: number, version: number, states: readonly string[]): Promise<Build> {
  const [build] = await tx.select().from(builds).where(eq(builds.id, id)).for('update')
  if (!build) {
    throw new Refusal('not-found', 'There is no such build.')
  }
  await requireVersion(tx, 'build', id, version, build.version)
  if (!states.includes(build.status)) {
    throw new Refusal('not-now', `${build.number} is ${build.status} already.`)
  }
  return build
}
