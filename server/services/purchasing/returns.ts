import { eq, sql } from 'drizzle-orm'
import type { Minor } from '~~/core/costing'
import { matchInvoice } from '~~/core/invoicing'
import { shareOf } from '~~/core/sharing'
import { printAmount } from '~~/core/units/quantity'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines, supplierReturns } from '~~/server/database/schema'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewReturn } from '~~/shared/purchasing/requests'
import { bin, externalPlace } from '../../ledger/external-places'
import { post } from '../../ledger/post'
import { lockAsSeen, nextNumber } from '../../documents'
import { asNumeric, loadMeasuredItem, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { requireNotInspected } from '../inspection'
import { saveOrderStatus } from './end-purchase'
import { insertInvoice, insertParts, lockInvoices } from './invoices'
import { receiptsOf, type InvoicePart } from './invoice-lines'
import { writeReturnEntries } from './invoice-entries'
import { receivedOfOrder } from './received-goods'

type ReturnDraft = Omit<NewReturn, 'key'>

/**
 * Sends goods of an order's line back to the supplier. They leave the stock at what they cost there, into the account
 * of returns; what the supplier gives for them comes out of that account, and what is left on it is what the return
 * cost.
 *
 * `credit`: a credit note is expected. `replacement`: the line is open again by so much, and what comes for it is not
 * paid for. `not invoiced`: the supplier will not invoice them at all.
 *
 * Errors: `invalid-input` beside the field; `short` where it does not lie there; `stale-version`.
 */
export async function recordReturn(
  tx: Tx,
  actor: Actor,
  orderId: number,
  edit: ReturnDraft,
): Promise<{ id: number; number: string; postingId: number }> {
  await lockInvoices(tx)
  const order = await lockAsSeen(tx, 'purchase order', orderId, edit.version)
  const line = await lineOf(tx, orderId, edit.lineId)
  const item = await loadMeasuredItem(tx, line.itemId)
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity')
  await requireReceived(tx, item, line, read.quantity)
  await requireThere(tx, item.id, edit)
  await requireNotInspected(tx, item, { ...edit, quantity: read.quantity }, 'binId')
  const number = await nextNumber(tx, 'SR')
  const notInvoiced = edit.expects === 'not invoiced' ? await uninvoicedParts(tx, item, line, read.quantity) : []
  const expected = notInvoiced.length > 0 ? 0n : await worthOf(tx, orderId, line.id, read.quantity)
  const [made] = await tx
    .insert(supplierReturns)
    .values({
      number,
      orderId,
      lineId: line.id,
      quantity: asNumeric(read.quantity),
      reason: edit.reason,
      reference: edit.reference,
      expects: edit.expects,
      expected,
    })
    .returning({ id: supplierReturns.id })
  const { id } = made!
  const posted = await post(tx, actor, {
    kind: 'return to supplier',
    label: `Return ${number} of ${item.code} from ${order.number}`,
    document: { kind: 'supplier return', id },
    reason: edit.reason,
    effectiveOn: actor.today,
    moves: [
      {
        itemId: item.id,
        lotId: edit.lotId,
        pieceId: edit.pieceId,
        quantity: read.quantity,
        from: await bin(tx, edit.binId, 'binId', 'take', edit.status),
        to: await externalPlace(tx, 'returned'),
        entered: read.entered,
        unit: read.unit,
        residue: read.residue,
        valuation: { kind: 'method' },
      },
    ],
  })
  await tx.update(supplierReturns).set({ postingId: posted.postingId }).where(eq(supplierReturns.id, id))
  if (notInvoiced.length > 0) {
    const invoice = { kind: 'not invoiced', number, invoicedOn: actor.today, returnId: id } as const
    const invoiceId = await insertInvoice(tx, { ...invoice, supplierId: order.supplierId, postingId: posted.postingId })
    await insertParts(tx, invoiceId, notInvoiced)
    await writeReturnEntries(tx, posted.postingId, actor.today, notInvoiced)
  }
  if (edit.expects === 'replacement') {
    await countReceived(tx, line.id, read.quantity.neg())
  }
  await saveOrderStatus(tx, actor, order, { after: { returned: number } })
  return { id, number, postingId: posted.postingId }
}

type OrderLine = typeof purchaseLines.$inferSelect

async function lineOf(tx: Tx, orderId: number, lineId: number): Promise<OrderLine> {
  const [line] = await tx.select().from(purchaseLines).where(eq(purchaseLines.id, lineId))
  return line?.orderId === orderId ? line : refuseField('lineId', 'Choose a line of this order.')
}

/** What of a line came and was not sent back yet is the most that can be. */
async function requireReceived(tx: Tx, item: MeasuredItem, line: OrderLine, quantity: Ratio): Promise<void> {
  const [before] = await rows<{ quantity: string }>(
    tx,
    sql`
      select coalesce(sum(r.quantity), 0)::text as quantity
      from supplier_returns r
      where r.line_id = ${line.id} and r.expects <> 'replacement' and not r.is_reversed`,
  )
  const left = ratio(line.received).sub(ratio(before!.quantity))
  if (quantity.compare(left) > 0) {
    refuseField(
      'quantity',
      `${printAmount(left, 6, item.writing)} ${item.symbol} of it came and are not returned; no more can be.`,
    )
  }
}

/** The lot and piece that were chosen lie in that bin. */
async function requireThere(tx: Tx, itemId: number, { binId, lotId, pieceId, status }: ReturnDraft): Promise<void> {
  const [found] = await rows(
    tx,
    sql`
      select 1
      from balances
      where item_id = ${itemId}
        and place_id = ${binId}
        and status = ${status}
        and lot_id is not distinct from ${lotId}::int
        and piece_id is not distinct from ${pieceId}::int
        and on_hand > 0`,
  )
  if (!found) {
    refuseField('binId', 'It does not lie there any more. Reload the page and choose again.')
  }
}

/** What so much of a line cost by order and invoices, charges left aside: the supplier did not ask for those. */
async function worthOf(tx: Tx, orderId: number, lineId: number, quantity: Ratio): Promise<Minor> {
  const own = (await receivedOfOrder(tx, orderId)).filter((row) => row.lineId === lineId)
  const all = own.reduce((sum, row) => sum.add(ratio(row.quantity)), ZERO)
  const value = own.reduce((sum, row) => sum + BigInt(row.value), 0n)
  return shareOf(value, quantity, all)
}

/** The receipts that will not be invoiced so far, each at what the order says. */
async function uninvoicedParts(
  tx: Tx,
  item: MeasuredItem,
  line: OrderLine,
  quantity: Ratio,
): Promise<readonly InvoicePart[]> {
  const { parts, left } = matchInvoice({ quantity, amount: 0n }, await receiptsOf(tx, line.id))
  if (left.compare(ZERO) > 0) {
    refuseField(
      'expects',
      `${printAmount(left, 6, item.writing)} ${item.symbol} of it are invoiced already. Expect a credit note for them, or a replacement.`,
    )
  }
  return parts.map(({ receipt, quantity: own, delta }) => ({
    lineId: line.id,
    itemId: line.itemId,
    moveId: receipt.moveId,
    site: receipt.site,
    quantity: own,
    // Nothing is asked for them, so that what they stand at is what is not asked for.
    amount: -delta,
    delta: 0n,
  }))
}

/** More or less of a line counts as received. */
export async function countReceived(tx: Tx, lineId: number, quantity: Ratio): Promise<void> {
  await rows(
    tx,
    sql`update purchase_lines set received = received + ${asNumeric(quantity)}::numeric where id = ${lineId}`,
  )
}
