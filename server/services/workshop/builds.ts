import { eq, sql } from 'drizzle-orm'
import { nearestEven, ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units'
import { needOf, type StructureLine } from '~~/core/structure'
import { pick } from '~~/core/stock'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { builds } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CompleteBuild } from '~~/shared/workshop'
import { asNumeric, loadFrame, loadFrames, readQuantity, requireUsable, type Frame } from '../catalogue/frames'
import { nextNumber, noteChange, requireVersion } from '../company/command'
import { loadActs } from '../stock/acts'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, outside } from '../stock/outside'
import { loadPickable } from '../stock/pickable'
import { post, type DraftMove } from '../stock/post'
import { billInUse } from '../structure/bills'
import { bindBills, type BomHead } from '../structure/load-structure'
import { addedBy } from '../structure/load-parts'

export interface Take { bin: string, lot: string | null, piece: string | null, expiresOn: string | null, before: string, quantity: string, after: string }
export interface NeededComponent { itemId: number, code: string, name: string, symbol: string, need: string, missing: string, takes: Take[] }

interface Needed { readonly frame: Frame, readonly quantity: Ratio }

/** What a build of a quantity needs of each component: one rounding for the whole build, up to the next finest step. */
export function componentsFor(lines: readonly StructureLine[], frames: ReadonlyMap<number, Frame>, quantity: Ratio): Needed[] {
  const total = new Map<number, Ratio>()
  for (const line of lines) total.set(Number(line.child), (total.get(Number(line.child)) ?? ZERO).add(needOf(line, quantity)))
  return [...total].map(([id, exact]) => ({ frame: frames.get(id)!, quantity: toSteps(exact, frames.get(id)!.measure.finestStep, 'required').quantity }))
}

/** Which lots and bins the components would come from now, before → after. */
export async function previewTakes(reader: Reader, needed: readonly Needed[], today: string): Promise<NeededComponent[]> {
  const stock = await loadPickable(reader, needed.map(n => n.frame.id))
  return needed.map(({ frame, quantity }) => {
    const { picks, missing } = pick(stock.get(frame.id)!, quantity, today)
    return {
      itemId: frame.id, code: frame.code, name: frame.name, symbol: frame.symbol, need: toText(quantity), missing: toText(missing),
      takes: picks.map(p => ({ bin: p.binName, lot: p.lotNumber, piece: p.pieceLabel, expiresOn: p.expiresOn, before: toText(p.onHand), quantity: toText(p.quantity), after: toText(p.onHand.sub(p.quantity)) })),
    }
  })
}

/**
 * The moves that bring components to the workshop.
 *
 * Nothing is locked here: `post` takes its locks in the one fixed order, and refuses where somebody was quicker.
 */
export async function takeMoves(tx: Tx, needed: readonly Needed[], today: string): Promise<DraftMove[]> {
  const stock = await loadPickable(tx, needed.map(n => n.frame.id))
  const workshop = await outside(tx, 'workshop')
  const short: string[] = []
  const moves = needed.flatMap(({ frame, quantity }) => {
    const { picks, missing } = pick(stock.get(frame.id)!, quantity, today)
    if (missing.compare(ZERO) > 0) short.push(`${frame.code} ${frame.name}: ${toText(quantity)} ${frame.symbol} needed, ${toText(quantity.sub(missing))} ${frame.symbol} free; ${toText(missing)} ${frame.symbol} missing.`)
    return picks.map((p): DraftMove => ({
      itemId: frame.id, lotId: p.lot === null ? null : Number(p.lot), pieceId: p.piece === null ? null : Number(p.piece), quantity: p.quantity, from: { placeId: Number(p.bin), status: 'available' }, to: workshop,
      entered: toText(p.quantity), unit: frame.stockUnit, residue: ZERO, valuation: { kind: 'method' },
    }))
  })
  if (short.length > 0) throw new Refusal('short', short.join(' '))
  return moves
}

export async function createBuild(tx: Tx, actor: Actor, edit: { itemId: number, quantity: string, unit: string, dueOn: string, releaseOn?: string, number?: string }): Promise<{ id: number, number: string }> {
  const frame = await loadFrame(tx, edit.itemId)
  requireUsable(frame, 'itemId', 'any')
  const releaseOn = edit.releaseOn ?? actor.today
  const bomId = await billInUse(tx, edit.itemId, releaseOn < actor.today ? actor.today : releaseOn)
  if (bomId === null) throw new Refusal('invalid-input', `${frame.code} has no bill of materials in use. Write one on its page.`, { itemId: `${frame.code} has no bill of materials in use. Write one on its page.` })
  const read = readQuantity(frame, edit.quantity, edit.unit, 'quantity', 'required')
  const number = edit.number ?? await nextNumber(tx, frame.source === 'kit' ? 'KP' : 'B')
  const [build] = await tx.insert(builds).values({ number, itemId: edit.itemId, bomId, quantity: asNumeric(read.quantity), releaseOn, dueOn: edit.dueOn }).returning()
  await noteChange(tx, actor, 'build', build!.id, null, { ...edit, number })
  return { id: build!.id, number }
}

export async function loadBuild(id: number, today: string) {
  const [build] = await rows<{ id: number, number: string, itemId: number, bomId: number, revision: number, code: string, name: string, source: string, tracking: string, shelfLifeDays: number | null, symbol: string, quantity: string, releaseOn: string, dueOn: string, status: string, version: number }>(db, sql`
    select b.id, b.number, b.item_id as "itemId", b.bom_id as "bomId", m.revision, i.code, i.name, i.source, i.tracking, i.shelf_life_days as "shelfLifeDays", u.symbol, b.quantity, b.release_on as "releaseOn", b.due_on as "dueOn", b.status, b.version
    from builds b join boms m on m.id = b.bom_id join items i on i.id = b.item_id join units u on u.code = i.stock_unit where b.id = ${id}`)
  if (!build) throw new Refusal('not-found', 'There is no such build.')
  const { frames, lines, head } = await loadBill(db, build.itemId, build.bomId)
  const needed = componentsFor(lines, frames, ratio(build.quantity))
  const [held] = await rows<{ onHand: string }>(db, sql`select coalesce(sum(on_hand), 0) as "onHand" from balances where item_id = ${build.itemId} and status = 'available'`)
  const acts = await loadActs('build', id)
  return {
    ...build, onHand: held!.onHand, after: toText(ratio(held!.onHand).add(ratio(build.quantity))), work: workOf(head, ratio(build.quantity)).toString(),
    components: build.status === 'planned' ? await previewTakes(db, needed, today) : await previewTaken(id), acts,
  }
}

async function previewTaken(buildId: number): Promise<NeededComponent[]> {
  const taken = await rows<{ itemId: number, code: string, name: string, symbol: string, quantity: string, bin: string, lot: string | null, piece: string | null, expiresOn: string | null }>(db, sql`
    select m.item_id as "itemId", i.code, i.name, u.symbol, m.quantity, p.name as bin, l.number as lot, c.label as piece, l.expires_on as "expiresOn" from moves m join postings o on o.id = m.posting_id join items i on i.id = m.item_id join units u on u.code = i.stock_unit
      join places p on p.id = m.from_place_id left join lots l on l.id = m.lot_id left join pieces c on c.id = m.piece_id
    where o.id = (select max(id) from postings where document_kind = 'build' and document_id = ${buildId} and reverses_id is null) and p.kind = 'bin' order by m.line`)
  const byItem = new Map<number, NeededComponent>()
  for (const t of taken) {
    const known = byItem.get(t.itemId) ?? { itemId: t.itemId, code: t.code, name: t.name, symbol: t.symbol, need: '0', missing: '0', takes: [] }
    byItem.set(t.itemId, { ...known, need: toText(ratio(known.need).add(ratio(t.quantity))), takes: [...known.takes, { bin: t.bin, lot: t.lot, piece: t.piece, expiresOn: t.expiresOn, before: '', quantity: t.quantity, after: '' }] })
  }
  return [...byItem.values()]
}

/** Records a finished build: components at their average and work become the value of the output lot. */
export async function completeBuild(tx: Tx, actor: Actor, id: number, edit: Omit<CompleteBuild, 'key'>): Promise<{ postingId: number, lot: string | null, value: string }> {
  const build = await lockPlanned(tx, id, edit.version)
  const { frames, lines, head } = await loadBill(tx, build.itemId, build.bomId)
  const frame = frames.get(build.itemId)!
  const quantity = ratio(build.quantity)
  const needed = componentsFor(lines, frames, quantity)
  const lot = frame.tracking === 'lot' && edit.lot === '' ? build.number : edit.lot
  const lotId = await lotToEnter(tx, frame, lot, { expiresOn: edit.expiresOn, madeOn: actor.today }, 'lot')
  const output: DraftMove = {
    itemId: frame.id, lotId, pieceId: await pieceToEnter(tx, frame, { label: '', lotId, measure: asNumeric(quantity) }, 'lot'), quantity, from: await outside(tx, 'workshop'), to: await bin(tx, edit.binId, 'binId', 'receive'), entered: toText(quantity), unit: frame.stockUnit, residue: ZERO,
    valuation: { kind: 'share', weight: quantity },
  }
  const taken = await takeMoves(tx, needed, actor.today)
  const posted = await post(tx, actor, {
    kind: frame.source === 'kit' ? 'kit packing' : 'build', label: `${frame.source === 'kit' ? 'Packing' : 'Build'} ${build.number} of ${toText(quantity)} ${frame.symbol} ${frame.code}`, document: { kind: 'build', id },
    effectiveOn: actor.today, workValue: workOf(head, quantity), moves: [...taken, output],
  })
  await tx.update(builds).set({ status: 'done', version: build.version + 1 }).where(eq(builds.id, id))
  await noteChange(tx, actor, 'build', id, { status: build.status, version: build.version }, { status: 'done', version: build.version + 1 })
  return { postingId: posted.postingId, lot: lotId === null ? null : lot, value: posted.values.at(-1)!.toString() }
}

export async function cancelBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const build = await lockPlanned(tx, id, version)
  await tx.update(builds).set({ status: 'cancelled', version: version + 1 }).where(eq(builds.id, id))
  await noteChange(tx, actor, 'build', id, { status: build.status, version }, { status: 'cancelled', version: version + 1 })
  return { id }
}

async function lockPlanned(tx: Tx, id: number, version: number) {
  const [build] = await tx.select().from(builds).where(eq(builds.id, id)).for('update')
  if (!build) throw new Refusal('not-found', 'There is no such build.')
  await requireVersion(tx, 'build', id, version, build.version)
  if (build.status !== 'planned') throw new Refusal('not-now', `${build.number} is ${build.status} already.`)
  return build
}

/** Money that making a quantity adds, in minor units: work and other cost, over what comes out good. */
function workOf(head: BomHead, quantity: Ratio): bigint {
  const { work, other } = addedBy(head)
  return nearestEven(ratio(work).add(ratio(other)).mul(quantity).mul(100))
}

/** The revision that a build is made from, with its lines in stock units. */
async function loadBill(reader: Reader, itemId: number, bomId: number) {
  const components = await rows<{ id: number }>(reader, sql`select item_id as id from bom_lines where bom_id = ${bomId}`)
  const frames = await loadFrames(reader, [...new Set([itemId, ...components.map(row => row.id)])])
  const { heads, lines } = await bindBills(reader, frames, sql`b.id = ${bomId}`)
  return { frames, lines, head: heads[0]! }
}
