import { eq, sql } from 'drizzle-orm'
import { convert } from '~~/core/units/graph'
import { ratio, toDecimal, ZERO } from '~~/core/units/exact'
import { printAmount } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Receive } from '~~/shared/purchasing/requests'
import {
  asNumeric,
  loadMeasuredItem,
  loadMeasuredItems,
  readQuantity,
  requireUsable,
} from '../catalogue/measured-items'

type Line = Omit<Receive['lines'][number], Optional> & Partial<Pick<Receive['lines'][number], Optional>>
type Optional = 'traits' | 'pieces' | 'reason' | 'substituteId' | 'countsAs'

/** Of prices that have no end: far finer than a cent of any quantity. */
const PRICE_PLACES = 12

/**
 * What came instead of something else gets a line of its own: of what came, at the share of the price that was agreed
 * for what it stands in for, and counted there. Answers the lines as they are received.
 *
 * Errors: `invalid-input` beside the field, also where it counts as more than is still to come.
 */
export async function lineUpSubstitutes(tx: Tx, orderId: number, entered: readonly Line[]): Promise<readonly Line[]> {
  const lines = []
  for (const [index, line] of entered.entries()) {
    lines.push(
      line.substituteId === null || line.substituteId === undefined
        ? line
        : { ...line, lineId: await addSubstitute(tx, orderId, line, line.substituteId, `lines.${index}`) },
    )
  }
  return lines
}

async function addSubstitute(tx: Tx, orderId: number, line: Line, substituteId: number, path: string): Promise<number> {
  const [ordered] = await tx
    .select()
    .from(purchaseLines)
    .where(sql`${purchaseLines.id} = ${line.lineId} and ${purchaseLines.orderId} = ${orderId}`)
  if (!ordered) {
    throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
  }
  const items = await loadMeasuredItems(tx, [ordered.itemId])
  const item = items.get(ordered.itemId)!
  const substitute = await loadMeasuredItem(tx, substituteId, `${path}.substituteId`)
  requireUsable(substitute, `${path}.substituteId`, 'any')
  if (substitute.id === item.id || substitute.kind === 'service') {
    refuseField(`${path}.substituteId`, `Choose what came instead of ${item.code}.`)
  }
  const came = await cameOf(tx, line, substituteId, `${path}.quantity`)
  const counted = readQuantity(item, line.countsAs ?? line.quantity, ordered.unit, `${path}.countsAs`)
  const left = ratio(ordered.quantity).sub(ratio(ordered.received))
  if (counted.quantity.compare(left) > 0) {
    refuseField(
      `${path}.countsAs`,
      `Only ${printAmount(left.compare(ZERO) > 0 ? left : ZERO, 6, item.writing)} ${item.symbol} ${item.code} are still to come.`,
    )
  }
  const inUnit = convert(item.measure.graph, counted.exact, item.stockUnit, ordered.unit)
  const worth = (inUnit.ok ? inUnit.value : counted.exact).mul(ratio(ordered.price))
  const [made] = await tx
    .insert(purchaseLines)
    .values({
      orderId,
      line: sql`(select max(line) + 1 from purchase_lines where order_id = ${orderId})`,
      itemId: substitute.id,
      entered: came.entered,
      unit: came.unit,
      price: toDecimal(worth.div(ratio(came.entered)), PRICE_PLACES),
      quantity: asNumeric(came.quantity),
      dueOn: ordered.dueOn,
      salesLineId: null,
      replacesLineId: ordered.id,
      replacedQuantity: asNumeric(counted.quantity),
    })
    .returning({ id: purchaseLines.id })
  await tx
    .update(purchaseLines)
    .set({ received: asNumeric(ratio(ordered.received).add(counted.quantity)) })
    .where(eq(purchaseLines.id, ordered.id))
  return made!.id
}

/** All that came of it: what the packing list says, or its pieces together. */
async function cameOf(tx: Tx, line: Line, substituteId: number, field: string) {
  const substitute = await loadMeasuredItem(tx, substituteId)
  const pieces = line.pieces ?? []
  if (pieces.length === 0 || String(line.quantity).trim() !== '') {
    return readQuantity(substitute, line.quantity, line.unit, field)
  }
  const total = pieces.reduce(
    (sum, piece) => sum.add(readQuantity(substitute, piece.quantity, piece.unit, field).exact),
    ZERO,
  )
  return readQuantity(substitute, total, substitute.stockUnit, field)
}

/**
 * What came instead and is taken back is not counted any more where it stood in; its line stays closed, so that what was
 * recorded of it can still be read.
 */
export async function dropSubstitutes(tx: Tx, lineIds: readonly number[]): Promise<void> {
  for (const lineId of lineIds) {
    await rows(
      tx,
      sql`
        with gone as (
          select id, replaces_line_id, replaced_quantity
          from purchase_lines
          where id = ${lineId} and replaces_line_id is not null and received = 0
        ),
        closed as (
          update purchase_lines s
          set closed_short = true, replaced_quantity = 0
          from gone
          where s.id = gone.id
        )
        update purchase_lines l
        set received = l.received - gone.replaced_quantity
        from gone
        where l.id = gone.replaces_line_id`,
    )
  }
}
