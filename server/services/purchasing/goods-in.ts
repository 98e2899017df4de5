import { sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { convert, ratio, toText } from '~~/core/units'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Receive } from '~~/shared/purchasing'
import { eq } from 'drizzle-orm'
import { asNumeric, loadFrames, readQuantity } from '../catalogue/frames'
import { noteChange } from '../company/command'
import { lotToEnter } from '../stock/lots'
import { bin, outside } from '../stock/outside'
import { post, type DraftMove } from '../stock/post'
import { lockPurchase, settle } from './orders'

export interface ReceivedLine { lineId: number, code: string, quantity: string, symbol: string, residue: string, residueUnit: string, value: string }

/**
 * Takes in what the packing list says, line by line; what does not come stays open.
 *
 * Goods enter at the order's price for the quantity received, whatever unit that was typed in, and in the company's own currency by
 * the rate on the day of the order. More than was ordered may come in. A service is received without anything moving.
 */
export async function receive(tx: Tx, actor: Actor, id: number, edit: Omit<Receive, 'key'>): Promise<{ postingId: number | null, lines: ReceivedLine[] }> {
  const order = await lockPurchase(tx, id, edit.version)
  const known = new Map((await tx.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))).map(line => [line.id, line]))
  const frames = await loadFrames(tx, [...known.values()].map(line => line.itemId))
  const supplier = await outside(tx, 'supplier')
  const moves: DraftMove[] = []
  const received: ReceivedLine[] = []
  for (const [index, line] of edit.lines.entries()) {
    const at = (field: string): string => `lines.${index}.${field}`
    const ordered = known.get(line.lineId)
    if (!ordered) throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
    const frame = frames.get(ordered.itemId)!
    if (ordered.closedShort) throw new Refusal('not-now', `${frame.code} is closed short. Open the line again to receive more.`, { [at('quantity')]: 'This line is closed short.' })
    const read = readQuantity(frame, line.quantity, line.unit, at('quantity'))
    const inLineUnit = convert(frame.measure.graph, ratio(read.entered), read.unit, ordered.unit)
    const value = lineValue(inLineUnit.ok ? inLineUnit.value : read.exact, ratio(ordered.price).mul(ratio(order.rate)))
    if (frame.kind === 'service') {
      received.push({ lineId: ordered.id, code: frame.code, quantity: toText(read.quantity), symbol: frame.symbol, residue: '0', residueUnit: read.unit, value: value.toString() })
      await rows(tx, sql`update purchase_lines set received = received + ${asNumeric(read.quantity)}::numeric where id = ${ordered.id}`)
      continue
    }
    const lotId = await lotToEnter(tx, frame, line.lot, { expiresOn: line.expiresOn, receivedOn: actor.today }, at('lot'))
    moves.push({
      itemId: frame.id, lotId, quantity: read.quantity, from: supplier, to: await bin(tx, line.binId, at('binId'), 'receive'), entered: read.entered, unit: read.unit, residue: read.residue,
      valuation: { kind: 'stated', value }, lineId: ordered.id,
    })
    received.push({ lineId: ordered.id, code: frame.code, quantity: toText(read.quantity), symbol: frame.symbol, residue: toText(read.residueEntered), residueUnit: read.unit, value: value.toString() })
    await rows(tx, sql`update purchase_lines set received = received + ${asNumeric(read.quantity)}::numeric where id = ${ordered.id}`)
  }
  const list = edit.packingList === '' ? '' : `, packing list ${edit.packingList}`
  const posted = moves.length === 0 ? null : await post(tx, actor, { kind: 'goods receipt', label: `Goods in for ${order.number}${list}`, document: { kind: 'purchase order', id }, effectiveOn: actor.today, moves })
  await settle(tx, id)
  await noteChange(tx, actor, 'purchase order', id, { version: order.version, received: 'before' }, { version: order.version + 1, received: posted?.postingId ?? 'services' })
  return { postingId: posted?.postingId ?? null, lines: received }
}
