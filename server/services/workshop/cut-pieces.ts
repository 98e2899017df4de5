import { sql } from 'drizzle-orm'
import { evaluate, type CutPiece } from '~~/core/cutting'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CutStock } from '~~/shared/workshop/cutting'
import { loadMeasuredItem, type MeasuredItem } from '../catalogue/measured-items'
import { pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { post, type DraftMove } from '../../ledger/post'
import { reverse } from '../../ledger/reverse'
import { stockOf, problemOf, type Job } from './cutting'
import { lockAsSeen, saveDocument } from '../../documents'

/**
 * Cuts as planned, piece by piece: each length becomes a piece of its own that points back to where it was cut from,
 * under the name of its job; an offcut that is long enough stays under its old label, what is shorter is lost, and the
 * lengths bear its cost.
 *
 * Errors: `not-now` where the plan lacks lengths; `short` where a piece does not measure any more what it did.
 */
export async function acceptCutting(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; binId: number | null },
): Promise<{ postingIds: number[]; labels: string[]; lost: string }> {
  const job = await lockAsSeen(tx, 'cutting job', id, edit.version, ['draft'])
  const item = await loadMeasuredItem(tx, job.itemId)
  const stock = new Map((await stockOf(tx, job.itemId, job.siteId)).map((piece) => [piece.pieceId, piece]))
  if (!job.plan || job.plan.cuts.length === 0) {
    throw new Refusal('not-now', 'Nothing is planned to be cut yet. Have it proposed, or put lengths on pieces.')
  }
  const problem = problemOf(job, item, [...stock.values()])
  const gone = job.plan.cuts.find((cut) => !stock.has(cut.pieceId))
  if (gone) {
    throw new Refusal('short', 'A piece of this plan is not free here any more. Have the cuts proposed anew.')
  }
  const plan = evaluate(
    problem,
    job.plan.cuts.map((cut) => ({ stock: String(cut.pieceId), parts: cut.parts.map(String) })),
  )
  if (plan.missing.length > 0) {
    throw new Refusal(
      'not-now',
      `The plan leaves lengths out: ${plan.missing.map((shortfall) => `${shortfall.count} of ${job.wanted[Number(shortfall.id)]!.entered} ${job.wanted[Number(shortfall.id)]!.unit}`).join(', ')}.`,
    )
  }
  const over = plan.cuts.find((cut) => cut.rest < 0)
  if (over) {
    throw new Refusal(
      'short',
      `${stock.get(Number(over.stock))!.label} measures ${stock.get(Number(over.stock))!.free} ${item.symbol}, which is less than what the plan cuts from it. Have the cuts proposed anew.`,
    )
  }
  const [postingIds, labels] = [[] as number[], [] as string[]]
  for (const cut of plan.cuts) {
    const done = await cutPiece(tx, actor, { job, item, binId: edit.binId }, stock.get(Number(cut.stock))!, cut)
    postingIds.push(done.postingId)
    labels.push(...done.labels)
  }
  await saveDocument(tx, actor, 'cutting job', job, { set: { status: 'done' } })
  return { postingIds, labels, lost: toText(stepsIn(item, plan.consumed - plan.wanted)) }
}

const stepsIn = (item: MeasuredItem, steps: number): Ratio => item.measure.finestStep.mul(ratio(steps))

async function cutPiece(
  tx: Tx,
  actor: Actor,
  { job, item, binId }: { readonly job: Job; readonly item: MeasuredItem; readonly binId: number | null },
  piece: CutStock,
  cut: CutPiece,
): Promise<{ postingId: number; labels: string[] }> {
  const workshop = await externalPlace(tx, 'workshop')
  const target =
    binId === null ? { placeId: piece.binId, status: 'available' as const } : await bin(tx, binId, 'binId', 'receive')
  const taken = ratio(piece.free).sub(cut.isKept ? stepsIn(item, cut.rest) : ZERO)
  const base = { itemId: item.id, lotId: piece.lotId, unit: item.stockUnit, residue: ZERO }
  const moves: DraftMove[] = [
    {
      ...base,
      pieceId: piece.pieceId,
      quantity: taken,
      from: { placeId: piece.binId, status: 'available' },
      to: workshop,
      entered: toText(taken),
      valuation: { kind: 'method' },
    },
  ]
  const labels: string[] = []
  for (const part of cut.parts) {
    const wanted = job.wanted[Number(part)]!
    const pieceId = await pieceToEnter(
      tx,
      item,
      {
        label: '',
        lotId: piece.lotId,
        measure: wanted.quantity,
        traits: piece.traits,
        parentId: piece.pieceId,
        note: wanted.job,
      },
      'binId',
    )
    const [made] = await rows<{ label: string }>(tx, sql`select label from pieces where id = ${pieceId}`)
    labels.push(made!.label)
    moves.push({
      ...base,
      pieceId,
      quantity: ratio(wanted.quantity),
      from: workshop,
      to: target,
      entered: wanted.entered,
      unit: wanted.unit,
      valuation: { kind: 'share', weight: ratio(wanted.quantity) },
    })
  }
  const posted = await post(tx, actor, {
    kind: 'cut',
    label: `Cut of ${piece.label} for ${job.number}`,
    document: { kind: 'cutting job', id: job.id },
    effectiveOn: actor.today,
    moves,
  })
  return { postingId: posted.postingId, labels }
}

/** Takes all cuts of a job back; the pieces measure again what they did. */
export async function undoCutting(tx: Tx, actor: Actor, id: number, version: number): Promise<{ taken: number }> {
  await lockAsSeen(tx, 'cutting job', id, version, ['done'])
  const recorded = await rows<{ id: number }>(
    tx,
    sql`
      select id
      from postings o
      where document_kind = 'cutting job'
        and document_id = ${id}
        and ${isLive('o')}
      order by id desc`,
  )
  for (const posting of recorded) {
    await reverse(tx, actor, posting.id)
  }
  return { taken: recorded.length }
}
