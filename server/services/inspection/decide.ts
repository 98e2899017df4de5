import { judgeSamples } from '~~/core/inspection'
import { printAmount, typedQuantity } from '~~/core/units/quantity'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { Tx } from '~~/server/database/client'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { DecideInspection } from '~~/shared/inspection/requests'
import { lockAsSeen, saveDocument, type DocumentOf } from '../../documents'
import { postIfAny, type DraftMove } from '../../ledger/post'
import { asNumeric, loadMeasuredItem, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { allocateArrived } from '../purchasing/buying/allocate-arrived'
import { heldFor, type HeldGoods } from './held-goods'

type Decision = Omit<DecideInspection, 'key'>
type Inspection = DocumentOf<'inspection'>
/** A share of the goods, and whether it may be used. */
interface Sorted {
  readonly goods: HeldGoods
  readonly quantity: Ratio
  readonly isAccepted: boolean
}

/**
 * Says what becomes of goods that were inspected. What is accepted is available where it lies; what is rejected is
 * damaged there, until it goes back to the supplier, is scrapped or reworked.
 *
 * Errors: `invalid-input` beside the field: not every sample is there, too many failed, no reason, more than lies
 *         there; `not-now` where it is decided; `stale-version`.
 */
export async function decide(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Decision,
): Promise<{ postingId: number | null; version: number; accepted: string; rejected: string }> {
  const inspection = await lockAsSeen(tx, 'inspection', id, edit.version, ['open'])
  requireGrounds(inspection, edit)
  const item = await loadMeasuredItem(tx, inspection.itemId)
  const sorted = sort(item, edit, await heldFor(tx, id))
  const posted = await postIfAny(tx, actor, {
    kind: 'inspection',
    label: `Inspection ${inspection.number} of ${item.code}: ${edit.decision}`,
    document: { kind: 'inspection', id },
    reason: edit.reason,
    effectiveOn: actor.today,
    moves: sorted.map((part) => moveOf(item, part)),
  })
  const sumOf = (isAccepted: boolean): string =>
    asNumeric(
      sorted.filter((part) => part.isAccepted === isAccepted).reduce((sum, { quantity }) => sum.add(quantity), ZERO),
    )
  const [accepted, rejected] = [sumOf(true), sumOf(false)]
  const { version } = await saveDocument(tx, actor, 'inspection', inspection, {
    set: {
      status: 'decided',
      decision: edit.decision,
      reason: edit.reason,
      accepted,
      rejected,
      decidedBy: actor.userId,
      decidedOn: actor.today,
      decisionId: posted?.postingId ?? null,
    },
  })
  await allocateArrived(tx, actor, inspection.postingId, 'on hold')
  return { postingId: posted?.postingId ?? null, version, accepted, rejected }
}

/** Goods pass as they are only by their sample; anything else needs words. */
function requireGrounds(inspection: Inspection, { decision, reason }: Decision): void {
  const { failed, open, verdict } = judgeSamples(
    inspection.plan.characteristics,
    inspection.samples.length > 0 ? inspection.samples : Array.from({ length: inspection.sampleSize }, () => []),
    inspection.accept,
  )
  if (decision !== 'accepted') {
    if (reason === '') {
      refuseField('reason', 'Say why: whoever asks later reads it here.')
    }
    return
  }
  if (verdict === 'fail') {
    refuseField(
      'decision',
      `${failed} of ${inspection.sampleSize} failed; at most ${inspection.accept} may. Accept it with a reason, sort it, or reject it.`,
    )
  }
  if (verdict === 'open') {
    refuseField(
      'decision',
      `${open} of ${inspection.sampleSize} are not recorded yet. Record them, or accept it with a reason.`,
    )
  }
}

function sort(item: MeasuredItem, edit: Decision, held: readonly HeldGoods[]): Sorted[] {
  if (edit.decision !== 'sorted') {
    const isAccepted = edit.decision !== 'rejected'
    return held.map((goods) => ({ goods, quantity: ratio(goods.quantity), isAccepted }))
  }
  return item.tracking === 'piece' ? sortPieces(edit, held) : sortQuantity(item, edit, held)
}

function sortPieces({ pieceIds }: Decision, held: readonly HeldGoods[]): Sorted[] {
  const chosen = held.filter(({ pieceId }) => pieceId !== null && pieceIds.includes(pieceId))
  if (chosen.length === 0 || chosen.length === held.length) {
    refuseField('pieceIds', 'Choose the pieces that may be used: some, but not all of them.')
  }
  return held.map((goods) => ({ goods, quantity: ratio(goods.quantity), isAccepted: chosen.includes(goods) }))
}

function sortQuantity(item: MeasuredItem, edit: Decision, held: readonly HeldGoods[]): Sorted[] {
  const all = held.reduce((sum, { quantity }) => sum.add(ratio(quantity)), ZERO)
  const there = `${printAmount(all, 6, item.writing)} ${item.symbol}`
  const { quantity } = readQuantity(item, edit.accepted ?? typedQuantity(''), edit.unit ?? item.stockUnit, 'accepted')
  if (quantity.compare(all) >= 0) {
    refuseField('accepted', `${there} wait here. Give less than that, or accept them all.`)
  }
  let left = quantity
  return held.flatMap((goods) => {
    const own = ratio(goods.quantity)
    const accepted = left.compare(own) < 0 ? left : own
    left = left.sub(accepted)
    const parts = [
      { goods, quantity: accepted, isAccepted: true },
      { goods, quantity: own.sub(accepted), isAccepted: false },
    ]
    return parts.filter((part) => part.quantity.compare(ZERO) > 0)
  })
}

const moveOf = (item: MeasuredItem, { goods, quantity, isAccepted }: Sorted): DraftMove => ({
  itemId: item.id,
  lotId: goods.lotId,
  pieceId: goods.pieceId,
  quantity,
  from: { placeId: goods.placeId, status: 'on hold' },
  to: { placeId: goods.placeId, status: isAccepted ? 'available' : 'damaged' },
  entered: toText(quantity),
  unit: item.stockUnit,
  residue: ZERO,
  released: ZERO,
  valuation: { kind: 'method' },
})
