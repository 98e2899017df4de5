import type { Given } from '~~/core/units/quantity'
import { lineValue } from '~~/core/costing'
import { convert } from '~~/core/units/graph'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { Tx } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Correction, MoveStock } from '~~/shared/stock/requests'
import { loadMeasuredItem, readQuantity, requireUsable, type MeasuredItem } from '../catalogue/measured-items'
import { requireNotInspected } from '../inspection'
import { requireWithinLimit } from '../../ledger/limits'
import { lotToEnter, lotToTake, pieceNamed, pieceToEnter, pieceToTake } from './lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { post, type DraftMove, type Posted, type Valuation } from '../../ledger/post'

type Defaulted<T, K extends keyof T> = Omit<T, K> & Partial<Pick<T, K>>
export type CorrectionDraft = Given<
  Defaulted<Omit<Correction, 'key'>, 'piece' | 'status' | 'traits' | 'effectiveOn' | 'note'>
>
export type MoveDraft = Defaulted<Omit<MoveStock, 'key'>, 'piece' | 'status' | 'toStatus' | 'effectiveOn'>

/** Changes a quantity on purpose, with a reason: more at the stated cost or the average, less by the method. */
export async function correct(tx: Tx, actor: Actor, edit: CorrectionDraft): Promise<Posted> {
  const { move, code } = await correctionMove(tx, actor, edit)
  const posted = await post(tx, actor, {
    kind: edit.reason === 'opening stock' ? 'opening stock' : 'correction',
    label: `${edit.reason === 'opening stock' ? 'Opening stock' : 'Correction'} of ${code}`,
    reason: edit.note ? `${edit.reason}: ${edit.note}` : edit.reason,
    effectiveOn: edit.effectiveOn ?? actor.today,
    moves: [move],
  })
  if (edit.reason !== 'opening stock') {
    await requireWithinLimit(tx, actor, posted.values[0]!)
  }
  return posted
}

/** The move that a correction records. */
export async function correctionMove(
  tx: Tx,
  actor: Actor,
  edit: CorrectionDraft,
  index = '',
  items?: ReadonlyMap<number, MeasuredItem>,
): Promise<{ move: DraftMove; code: string }> {
  const item = items?.get(edit.itemId) ?? (await loadMeasuredItem(tx, edit.itemId))
  requireCorrectable(item, edit, `${index}itemId`)
  const more = edit.direction === 'more'
  const read = readQuantity(item, edit.quantity, edit.unit, `${index}quantity`)
  const here = await bin(tx, edit.binId, `${index}binId`, more ? 'receive' : 'take', edit.status)
  const there = await externalPlace(tx, edit.reason === 'opening stock' ? 'opening' : 'correction')
  // More of a piece that is there is added to it; a label that nothing has is a new piece.
  const known = more
    ? await pieceNamed(tx, item, edit.piece ?? '')
    : await pieceToTake(tx, item, edit.piece ?? '', `${index}piece`)
  const { lotId, pieceId } = known
    ? { lotId: known.lotId, pieceId: known.id }
    : await lotAndPiece(tx, actor, item, edit, { index, measure: toText(read.quantity) })
  return {
    code: item.code,
    move: {
      itemId: item.id,
      lotId,
      pieceId,
      quantity: read.quantity,
      from: more ? there : here,
      to: more ? here : there,
      entered: read.entered,
      unit: read.unit,
      residue: read.residue,
      valuation: more && edit.unitCost !== '' ? statedCost(edit.unitCost, read) : { kind: 'method' },
    },
  }

  function statedCost(cost: string, { exact }: { exact: ReturnType<typeof ratio> }): Valuation {
    const inUnit = convert(item.measure.graph, exact, item.stockUnit, edit.unit)
    return { kind: 'stated', value: lineValue(inUnit.ok ? inUnit.value : exact, ratio(cost)) }
  }
}

/** A service lies nowhere; what is past use only comes as what was there before, or was found. */
function requireCorrectable(item: MeasuredItem, { direction, reason }: CorrectionDraft, field: string): void {
  if (item.kind === 'service') {
    refuseField(field, `${item.code} is a service; nothing of it lies anywhere.`)
  }
  if (direction === 'more' && reason !== 'opening stock' && reason !== 'found') {
    requireUsable(item, field, 'any')
  }
}

/**
 * The lot and the piece that a correction is about, where its piece is not there yet: new ones where goods come, else
 * those that are there.
 */
async function lotAndPiece(
  tx: Tx,
  actor: Actor,
  item: MeasuredItem,
  edit: CorrectionDraft,
  { index, measure }: { index: string; measure: string },
): Promise<{ lotId: number | null; pieceId: number | null }> {
  if (edit.direction !== 'more') {
    return { lotId: await lotToTake(tx, item, edit.lot, `${index}lot`), pieceId: null }
  }
  const receivedOn = edit.effectiveOn ?? actor.today
  const lotTraits = item.tracking === 'lot' ? edit.traits : {}
  const ofLot = { expiresOn: edit.expiresOn, receivedOn, traits: lotTraits }
  const lotId = await lotToEnter(tx, item, edit.lot, ofLot, `${index}lot`)
  const ofPiece = { label: edit.piece ?? '', lotId, measure, traits: edit.traits }
  return { lotId, pieceId: await pieceToEnter(tx, item, ofPiece, `${index}piece`) }
}

/** Moves goods from bin to bin, or gives them another status, or both. */
export async function moveStock(tx: Tx, actor: Actor, edit: MoveDraft): Promise<Posted> {
  const item = await loadMeasuredItem(tx, edit.itemId)
  const status = edit.status ?? 'available'
  const toStatus = edit.toStatus || status
  if (edit.fromBinId === edit.toBinId && toStatus === status) {
    throw new Refusal('invalid-input', 'Choose another bin than the one the goods are in.', {
      toBinId: 'Choose another bin than the one the goods are in.',
    })
  }
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity')
  const from = await bin(tx, edit.fromBinId, 'fromBinId', 'take', status)
  const target =
    edit.fromBinId === edit.toBinId
      ? { ...from, status: toStatus }
      : await bin(tx, edit.toBinId, 'toBinId', 'receive', toStatus)
  const piece = await pieceToTake(tx, item, edit.piece ?? '', 'piece')
  const lotId = piece ? piece.lotId : await lotToTake(tx, item, edit.lot, 'lot')
  const goods = { itemId: item.id, lotId, pieceId: piece?.id ?? null, quantity: read.quantity }
  if (from.status !== target.status) {
    await requireNotInspected(tx, item, { ...goods, status }, 'toStatus')
  }
  return post(tx, actor, {
    kind: 'move',
    label: from.status === target.status ? `Move of ${item.code}` : `${item.code} ${target.status}`,
    effectiveOn: edit.effectiveOn ?? actor.today,
    moves: [
      {
        ...goods,
        from,
        to: target,
        entered: read.entered,
        unit: read.unit,
        residue: read.residue,
        released: ZERO,
        valuation: { kind: 'method' },
      },
    ],
  })
}
