import { lineValue, type Minor } from '~~/core/costing'
import { shareAmount } from '~~/core/sharing'
import { majorText } from '~~/core/money'
import { ratio, ZERO } from '~~/core/units/exact'
import type { Tx } from '~~/server/database/client'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ReceivedGoods } from '~~/shared/purchasing/answers'
import type { NewCreditNote } from '~~/shared/purchasing/requests'
import { noteChange } from '../../documents'
import { loadInvoiced } from './invoice-queries'
import type { InvoicePart } from './invoice-lines'
import { begin, insertInvoice, postInvoice, requireNewNumber, shareOf, writeParts, type Invoiced } from './invoices'
import { receivedOfOrder } from './received-goods'

/**
 * Takes in what a supplier gives back of what was invoiced for goods that are kept: they cost so much less, and so does
 * all that was built from them or sold meanwhile. What of a line was invoiced is the most that can be given back.
 */
export async function recordCreditNote(
  tx: Tx,
  actor: Actor,
  orderId: number,
  edit: Omit<NewCreditNote, 'key'>,
): Promise<Invoiced> {
  const { order, closed } = await begin(tx, actor, orderId, edit.invoicedOn)
  await requireNewNumber(tx, order.supplierId, edit.number)
  const goods = await receivedOfOrder(tx, orderId)
  const invoiced = new Map((await loadInvoiced(tx, orderId)).map((row) => [row.lineId, BigInt(row.amount)]))
  const parts: InvoicePart[] = []
  for (const [index, entry] of edit.lines.entries()) {
    const amount = lineValue(ratio(entry.amount), ratio(order.rate))
    const most = invoiced.get(entry.lineId) ?? 0n
    const own = goods.filter((row) => row.lineId === entry.lineId)
    if (own.length === 0 || amount > most) {
      refuseField(
        `lines.${index}.amount`,
        `${majorText(most)} is what was invoiced for it and not given back; no more of it can be.`,
      )
    }
    parts.push(...own.flatMap((row, place) => shareOf(row, -sharesOf(amount, own)[place]!)))
  }
  const postingId = await postInvoice(tx, actor, order, { ...edit, what: 'Credit note' })
  const id = await insertInvoice(tx, { ...edit, supplierId: order.supplierId, postingId, kind: 'credit note' })
  const revalued = await writeParts(tx, { id, postingId, day: edit.invoicedOn, closed }, parts)
  await noteChange(tx, actor, { kind: 'purchase order', id: orderId }, null, { 'credit note': edit.number })
  return { id, postingId, revalued }
}

/** By what the receipts of a line cost; by their quantity where they cost nothing. */
function sharesOf(amount: Minor, goods: readonly ReceivedGoods[]): readonly Minor[] {
  const values = goods.map((row) => (BigInt(row.value) > 0n ? ratio(row.value) : ZERO))
  const isFree = values.every((value) => value.equals(ZERO))
  return shareAmount(amount, isFree ? goods.map((row) => ratio(row.quantity)) : values)
}
