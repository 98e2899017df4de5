import { ratio } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import type { Tx } from '~~/server/database/client'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isAllowed } from '~~/shared/company/rights'
import type { ReceiveUnordered } from '~~/shared/purchasing/requests'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { offersFor } from './buying/offers'
import { receive, type Received } from './goods-in'
import { loadLineIds } from './line-ids'
import { createPurchase } from './orders'

type Unordered = Omit<ReceiveUnordered, 'key'>

/**
 * Takes in what came on no order, against an order that is made from it on the day it came. It waits on hold as not
 * ordered where that is wanted, and always where whoever takes it in may not buy.
 *
 * Errors: `invalid-input` beside the field; a line without a price that the supplier has no terms for; as `receive`.
 */
export async function receiveUnordered(
  tx: Tx,
  actor: Actor,
  edit: Unordered,
): Promise<Received & { readonly orderId: number; readonly number: string; readonly isHeld: boolean }> {
  const day = edit.effectiveOn ?? actor.today
  const isHeld = edit.isHeld || !isAllowed(actor, 'buy')
  const prices: string[] = []
  for (const [index, line] of edit.lines.entries()) {
    prices.push(
      line.price === '' ? await priceByTerms(tx, edit.supplierId, line, `lines.${index}.price`, day) : line.price,
    )
  }
  const { id, number } = await createPurchase(tx, actor, {
    supplierId: edit.supplierId,
    orderedOn: day,
    note: ['came without an order', edit.note].filter(Boolean).join(': '),
    lines: edit.lines.map(({ itemId, quantity, unit }, index) => ({
      itemId,
      quantity,
      unit,
      price: prices[index]!,
      dueOn: day,
    })),
  })
  const lineIds = await loadLineIds(tx, id)
  const received = await receive(tx, actor, id, {
    version: 1,
    packingList: edit.packingList,
    effectiveOn: edit.effectiveOn,
    isHeld,
    lines: edit.lines.map(({ quantity, unit, binId, lot, expiresOn }, index) => ({
      lineId: lineIds[index]!,
      quantity,
      unit,
      binId,
      lot,
      expiresOn,
    })),
  })
  return { ...received, orderId: id, number, isHeld }
}

/** What the supplier's terms ask for one of the line's unit. */
async function priceByTerms(
  tx: Tx,
  supplierId: number,
  line: Unordered['lines'][number],
  field: string,
  day: string,
): Promise<string> {
  const item = await loadMeasuredItem(tx, line.itemId)
  const offer = (await offersFor(tx, line, day)).find((entry) => entry.supplierId === supplierId)
  const each = offer && convert(item.measure.graph, ratio(1), line.unit, offer.unit)
  return each?.ok
    ? each.value.mul(ratio(offer!.price)).round(6).toString()
    : refuseField(field, `The supplier has no terms for ${item.code}. Give what it costs; 0 where it is free.`)
}
