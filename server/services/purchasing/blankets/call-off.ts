import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { convert } from '~~/core/units/graph'
import { ratio, toDecimal, toText, type Ratio } from '~~/core/units/exact'
import { printAmount, type Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Blanket, BlanketLine, CallOff } from '~~/shared/purchasing/blankets'
import { lockAsSeen, saveDocument } from '../../../documents'
import { loadMeasuredItems, readQuantity, type MeasuredItem } from '../../catalogue/measured-items'
import { loadWriting } from '../../company/company'
import { createPurchase } from '../orders'
import { loadBlanket } from './load-blanket'

type Edit = Omit<Given<CallOff>, 'key'>
/** Places of a price that was agreed for another unit. */
const PRICE_PLACES = 6

/**
 * Calls off so much of a blanket order: an order at its prices, which draws on what is left of it.
 *
 * Errors: `stale-version`; `not-now` for one that is ended; `invalid-input` beside the field, where more is called off
 *         than is left, or for a day outside its period.
 */
export async function callOff(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Edit,
): Promise<{ id: number; number: string; version: number }> {
  const blanket = await lockAsSeen(tx, 'blanket order', id, edit.version, ['open'])
  const whole = await loadBlanket(tx, id)
  await requireWithin(tx, whole, edit.dueOn, actor.today)
  const items = await loadMeasuredItems(
    tx,
    whole.lines.map((line) => line.itemId),
  )
  const called = edit.lines.map((line, index) => {
    const own = whole.lines.find((entry) => entry.id === line.lineId)
    if (!own || edit.lines.findIndex((entry) => entry.lineId === line.lineId) !== index) {
      throw new Refusal('invalid-input', 'A line of this order is gone, or is named twice. Reload the page.')
    }
    const item = items.get(own.itemId)!
    const { quantity } = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    requireLeft(item, own, quantity, `lines.${index}.quantity`)
    return { ...line, own, price: priceIn(item, own, line.unit) }
  })
  const made = await createPurchase(tx, actor, {
    supplierId: whole.supplierId,
    siteId: edit.siteId,
    note: `Call-off from ${whole.number}${whole.reference ? `, your number ${whole.reference}` : ''}`,
    lines: called.map(({ own, quantity, unit, price }) => ({
      itemId: own.itemId,
      quantity,
      unit,
      price,
      dueOn: edit.dueOn,
    })),
  })
  for (const [index, { own }] of called.entries()) {
    await rows(
      tx,
      sql`update purchase_lines set blanket_line_id = ${own.id} where order_id = ${made.id} and line = ${index + 1}`,
    )
  }
  const { version } = await saveDocument(tx, actor, 'blanket order', blanket, {
    set: {},
    after: { calledOff: made.number },
  })
  return { ...made, version }
}

async function requireWithin(
  tx: Tx,
  { number, fromOn, untilOn }: Blanket,
  dueOn: string,
  today: string,
): Promise<void> {
  if (dueOn < fromOn || dueOn > untilOn) {
    const { dateFormat } = await loadWriting(tx)
    const day = (iso: string): string => printDay(iso, today, dateFormat)
    refuseField('dueOn', `${number} holds from ${day(fromOn)} until ${day(untilOn)}.`)
  }
}

function requireLeft(item: MeasuredItem, line: BlanketLine, quantity: Ratio, field: string): void {
  if (quantity.compare(ratio(line.rest)) > 0) {
    refuseField(
      field,
      `${printAmount(ratio(line.rest), 6, item.writing)} ${item.symbol} of ${item.code} are left of it.`,
    )
  }
}

/** What was agreed for one of the line’s unit, for one of another. */
function priceIn(item: MeasuredItem, line: BlanketLine, unit: string): string {
  const each = convert(item.measure.graph, ratio(1), unit, line.unit)
  if (!each.ok || unit === line.unit) {
    return line.price
  }
  const price = toText(each.value.mul(ratio(line.price)))
  return price.includes('/') ? toDecimal(each.value.mul(ratio(line.price)), PRICE_PLACES) : price
}
