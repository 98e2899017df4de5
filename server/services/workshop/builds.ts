import { eq, sql } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { GivenQuantity } from '~~/core/units/quantity'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { buildLines, builds } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { OPEN_BUILD, type BuildEdit } from '~~/shared/workshop/requests'
import { asNumeric, loadMeasuredItem, readQuantity, requireUsable } from '../catalogue/measured-items'
import { billInUse } from '../structure/bills'
import { needsByBill } from './bill-needs'
import { giveFree } from './allocate-build'
import { writeLines, replaceLines, followQuantity } from './build-lines'
import type { BuildLine } from './build-status'
import { lockAsSeen, saveDocument, nextNumber, noteChange } from '../../documents'

export interface BuildOrder {
  readonly itemId: number
  readonly quantity: GivenQuantity
  readonly unit: string
  readonly dueOn: string
  readonly releaseOn?: string
  readonly number?: string
  readonly siteId?: number | null
  readonly note?: string
  readonly salesLineId?: number | null
  readonly forBuildId?: number
}

/**
 * Writes a build by the revision that is in use when it begins, with what it takes; a draft, which sets nothing aside
 * yet.
 */
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
  await noteChange(tx, actor, { kind: 'build', id: build!.id }, null, { ...edit, number })
  return { id: build!.id, number }
}

export async function firstSite(tx: Reader): Promise<number> {
  const [site] = await rows<{ id: number }>(tx, sql`select id from sites where not retired order by id limit 1`)
  if (!site) {
    throw new Refusal('not-now', 'There is no site to build at. Add one under Places first.')
  }
  return site.id
}

/**
 * Changes a build that is still a draft: how much, when, and what it takes this time. Lines that were not changed by
 * hand follow the quantity.
 */
export async function editBuild(tx: Tx, actor: Actor, id: number, edit: BuildEdit): Promise<{ version: number }> {
  const build = await lockAsSeen(tx, 'build', id, edit.version, OPEN_BUILD)
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
    await replaceLines(tx, actor, { build, stored }, edit.lines, read.quantity)
  } else if (newQuantity) {
    await followQuantity(tx, actor, build, stored, read.quantity)
  }
  const lines = await tx.select().from(buildLines).where(eq(buildLines.buildId, id)).orderBy(buildLines.position)
  return saveDocument(tx, actor, 'build', build, {
    set: { quantity, dueOn: edit.dueOn, note: edit.note },
    before: { lines: inWords(stored) },
    after: { lines: inWords(lines) },
  })
}

const inWords = (lines: readonly BuildLine[]): string[] =>
  lines.map((line) => `${toText(ratio(line.need))} × ${line.itemId}`)

export async function startBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const build = await lockAsSeen(tx, 'build', id, version, ['draft', 'ready'])
  return saveDocument(tx, actor, 'build', build, {
    set: { status: 'started', startedOn: build.startedOn ?? actor.today },
  })
}

/** Gives up a build of which nothing has been recorded. */
export async function cancelBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const build = await lockAsSeen(tx, 'build', id, version, OPEN_BUILD)
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
  return saveDocument(tx, actor, 'build', build, { set: { status: 'cancelled' } })
}
