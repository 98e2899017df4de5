import { lineValue } from '~~/core/costing'
import { convert, ratio, ZERO } from '~~/core/units'
import type { Tx } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Correction, MoveStock } from '~~/shared/stock'
import { loadFrame, readQuantity, requireUsable } from '../catalogue/frames'
import { lotToEnter, lotToTake } from './lots'
import { bin, outside } from './outside'
import { post, type Valuation } from './post'

/** Changes a quantity on purpose, with a reason: more at the stated cost or the average, less at the average. */
export async function correct(tx: Tx, actor: Actor, edit: Omit<Correction, 'key'>): Promise<{ postingId: number }> {
  const frame = await loadFrame(tx, edit.itemId)
  if (frame.kind === 'service') refuseField('itemId', `${frame.code} is a service; nothing of it lies anywhere.`)
  const more = edit.direction === 'more'
  const leftOver = edit.reason === 'opening stock' || edit.reason === 'found'
  if (more && !leftOver) requireUsable(frame, 'itemId', 'any')
  const read = readQuantity(frame, edit.quantity, edit.unit, 'quantity')
  const here = await bin(tx, edit.binId, 'binId', more ? 'receive' : 'take')
  const there = await outside(tx, edit.reason === 'opening stock' ? 'opening' : 'correction')
  const lotId = more ? await lotToEnter(tx, frame, edit.lot, { expiresOn: edit.expiresOn, receivedOn: actor.today }, 'lot') : await lotToTake(tx, frame, edit.lot, 'lot')
  const { postingId } = await post(tx, actor, {
    kind: 'correction', label: `Correction of ${frame.code}`, reason: edit.reason, effectiveOn: actor.today,
    moves: [{
      itemId: frame.id, lotId, quantity: read.quantity, from: more ? there : here, to: more ? here : there, entered: read.entered, unit: read.unit, residue: read.residue,
      valuation: more && edit.unitCost !== '' ? statedCost(edit.unitCost, read) : { kind: 'average' },
    }],
  })
  return { postingId }

  function statedCost(cost: string, { exact }: { exact: ReturnType<typeof ratio> }): Valuation {
    const inUnit = convert(frame.measure.graph, exact, frame.stockUnit, edit.unit)
    return { kind: 'stated', value: lineValue(inUnit.ok ? inUnit.value : exact, ratio(cost)) }
  }
}

/** Moves goods from bin to bin. */
export async function moveStock(tx: Tx, actor: Actor, edit: Omit<MoveStock, 'key'>): Promise<{ postingId: number }> {
  const frame = await loadFrame(tx, edit.itemId)
  if (edit.fromBinId === edit.toBinId) throw new Refusal('invalid-input', 'Choose another bin than the one the goods are in.', { toBinId: 'Choose another bin than the one the goods are in.' })
  const read = readQuantity(frame, edit.quantity, edit.unit, 'quantity')
  const from = await bin(tx, edit.fromBinId, 'fromBinId', 'take')
  const to = await bin(tx, edit.toBinId, 'toBinId', 'receive')
  const lotId = await lotToTake(tx, frame, edit.lot, 'lot')
  const { postingId } = await post(tx, actor, {
    kind: 'move', label: `Move of ${frame.code}`, effectiveOn: actor.today,
    moves: [{ itemId: frame.id, lotId, quantity: read.quantity, from, to, entered: read.entered, unit: read.unit, residue: read.residue, released: ZERO, valuation: { kind: 'average' } }],
  })
  return { postingId }
}
