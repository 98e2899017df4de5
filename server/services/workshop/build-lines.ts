import { eq, sql } from 'drizzle-orm'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import type { TypedQuantity } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { buildLines } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { OPEN_BUILD, type BuildEdit } from '~~/shared/workshop/requests'
import {
  asNumeric,
  loadMeasuredItem,
  loadMeasuredItems,
  readQuantity,
  requireUsable,
  type MeasuredItem,
} from '../catalogue/measured-items'
import { needsByBill, plannedCost, type BillNeed } from './bill-needs'
import { giveFree } from './allocate-build'
import { standIns } from './stand-ins'
import type { Build, BuildLine } from './build-status'
import { lockAsSeen, saveDocument } from '../../documents'

export async function writeLines(tx: Tx, buildId: number, needs: readonly BillNeed[], from = 0): Promise<void> {
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

export async function followQuantity(
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

export async function replaceLines(
  tx: Tx,
  actor: Actor,
  { build, stored }: { readonly build: Build; readonly stored: readonly BuildLine[] },
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
      fault = serviceInBuild(item.code)
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

const serviceInBuild = (code: string): string => `${code} is a service, which is not taken from stock.`

function requireFromStock(item: MeasuredItem): void {
  requireUsable(item, 'itemId', 'any')
  if (item.kind === 'service') {
    refuseField('itemId', serviceInBuild(item.code))
  }
}

/**
 * Lets another item stand in for part of a component, or for all that is still to be used of it: `quantity` is of the
 * substitute.
 */
export async function substitute(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; lineId: number; itemId: number; quantity: TypedQuantity; unit: string },
): Promise<{ version: number }> {
  const build = await lockAsSeen(tx, 'build', id, edit.version, OPEN_BUILD)
  const [line] = await tx
    .select()
    .from(buildLines)
    .where(sql`${buildLines.id} = ${edit.lineId} and ${buildLines.buildId} = ${id}`)
  if (!line) {
    throw new Refusal('not-found', 'There is no such line. Reload the page.')
  }
  const item = await loadMeasuredItem(tx, edit.itemId)
  requireFromStock(item)
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
  const { version } = await saveDocument(tx, actor, 'build', build, {
    set: { status: build.status === 'ready' ? 'draft' : build.status },
    after: { substitute: `${read.entered} ${read.unit} ${item.code} for ${own.code}` },
  })
  return { version }
}

const onStep = (quantity: Ratio, item: MeasuredItem): Ratio => {
  const steps = quantity.div(item.measure.finestStep)
  return ratio(steps.n / steps.d).mul(item.measure.finestStep)
}

/** How much of a substitute stands in for one of a component; as much where neither the bill nor the items say. */
async function ratioOf(tx: Tx, bomId: number, componentId: number, substituteId: number): Promise<Ratio> {
  const [known] = await rows<{ numerator: string; denominator: string }>(
    tx,
    sql`
      select s.numerator, s.denominator
      from ${standIns(bomId)} s
      where s.component_id = ${componentId} and s.item_id = ${substituteId}
      order by s.rank
      limit 1`,
  )
  return known ? ratio(known.numerator).div(ratio(known.denominator)) : ratio(1)
}
