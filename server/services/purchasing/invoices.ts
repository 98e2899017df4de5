import { sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { invoiceCharges, invoiceLines, supplierInvoices } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ReceivedGoods } from '~~/shared/purchasing/answers'
import type { NewInvoice } from '~~/shared/purchasing/requests'
import { asNumeric, loadMeasuredItems, readQuantity } from '../catalogue/measured-items'
import { loadDefinition } from '../catalogue/definitions'
import { recordPosting } from '../../ledger/post'
import { requireOpenDay } from '../../ledger/requirements'
import { lockDocument, noteChange } from '../../documents'
import { shareCharges } from './invoice-charges'
import { passOn, writeEntries, type Revalued } from './invoice-entries'
import { matchLine, type InvoicePart } from './invoice-lines'
import { paidIn } from './paid-in'
import { receivedByMoves, receivedOfOrder } from './received-goods'

export type InvoiceDraft = Omit<NewInvoice, 'key' | 'charges' | 'moveIds'> &
  Partial<Pick<NewInvoice, 'charges' | 'moveIds'>>

export interface Invoiced {
  id: number
  postingId: number
  revalued: Revalued
}

/**
 * Takes in what a supplier asks for goods received under an order, and for what came with them.
 *
 * The amount of a line goes to the receipts that no invoice has named yet, oldest first. Where it differs from the
 * order's price, those receipts are worth something else, and so is all that was built from them or sold meanwhile.
 * Charges are spread over receipts and become what the goods cost; another supplier may ask for them, a carrier say.
 */
export async function recordInvoice(tx: Tx, actor: Actor, orderId: number, edit: InvoiceDraft): Promise<Invoiced> {
  const { order, closed } = await begin(tx, actor, orderId, edit.invoicedOn)
  const supplierId = edit.supplierId ?? order.supplierId
  if (supplierId !== order.supplierId && edit.lines.length > 0) {
    refuseField('supplierId', 'Goods are invoiced by the supplier who sold them; another one asks for charges only.')
  }
  await requireNewNumber(tx, supplierId, edit.number)
  const parts = await partsOf(tx, order, edit.lines)
  const charges = await chargesOf(tx, order, edit, supplierId)
  const goods = await chargedGoods(tx, orderId, edit.moveIds ?? [], parts)
  const shares = await shareCharges(tx, charges, goods)
  const postingId = await postInvoice(tx, actor, order, { ...edit, what: 'Invoice' })
  const id = await insertInvoice(tx, { ...edit, supplierId, postingId, kind: 'invoice' })
  for (const [index, charge] of charges.entries()) {
    const [made] = await tx
      .insert(invoiceCharges)
      .values({ invoiceId: id, name: charge.name, spread: charge.by, amount: charge.amount })
      .returning({ id: invoiceCharges.id })
    parts.push(...goods.flatMap((entry, place) => shareOf(entry, shares[index]![place]!, made!.id)))
  }
  const revalued = await writeParts(tx, { id, postingId, day: edit.invoicedOn, closed }, parts)
  await noteChange(tx, actor, { kind: 'purchase order', id: orderId }, null, { invoice: edit.number })
  return { id, postingId, revalued }
}

/** Invoices change what goods are worth: one at a time, and before any other lock, so that none wait in a circle. */
export const lockInvoices = (tx: Tx): Promise<unknown> => rows(tx, sql`select pg_advisory_xact_lock(7301)`)

/** What comes first with everything about invoices: one at a time, for an order that is there, on an open day. */
export async function begin(tx: Tx, actor: Actor, orderId: number, day: string) {
  await lockInvoices(tx)
  const order = await lockDocument(tx, 'purchase order', orderId)
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  requireOpenDay(day, own!.closed, actor.today)
  return { order, closed: own!.closed }
}

/** Errors: `taken` where an invoice or credit note of that number stands already. */
export async function requireNewNumber(tx: Tx, supplierId: number, number: string): Promise<void> {
  const [found] = await rows<{ kind: string }>(
    tx,
    sql`
      select kind
      from supplier_invoices
      where supplier_id = ${supplierId}
        and kind in ('invoice', 'credit note')
        and lower(number) = lower(${number})
        and cancelled_id is null
      limit 1`,
  )
  if (found) {
    const detail = `${found.kind === 'invoice' ? 'Invoice' : 'Credit note'} ${number} of this supplier is here already.`
    throw new Refusal('taken', detail, { number: detail })
  }
}

/** The posting of an invoice or a credit note, which moves nothing. */
export async function postInvoice(
  tx: Tx,
  actor: Actor,
  order: { readonly id: number; readonly number: string },
  invoice: { readonly what: string; readonly number: string; readonly invoicedOn: string },
): Promise<number> {
  const [postingId] = await recordPosting(tx, actor, {
    kind: 'supplier invoice',
    label: `${invoice.what} ${invoice.number} for ${order.number}`,
    document: { kind: 'purchase order', id: order.id },
    effectiveOn: invoice.invoicedOn,
  })
  return postingId!
}

export async function insertInvoice(
  tx: Tx,
  invoice: {
    readonly supplierId: number
    readonly kind: 'invoice' | 'credit note' | 'replacement' | 'not invoiced'
    readonly number: string
    readonly invoicedOn: string
    readonly postingId: number
    readonly returnId?: number
    readonly returned?: bigint
  },
): Promise<number> {
  const { supplierId, kind, number, invoicedOn, postingId, returnId, returned } = invoice
  const [made] = await tx
    .insert(supplierInvoices)
    .values({ supplierId, kind, number, invoicedOn, postingId, returnId, returned })
    .returning({ id: supplierInvoices.id })
  return made!.id
}

/** Writes what an invoice says of each receipt, what is owed for it, and what everything is worth by it. */
export async function writeParts(
  tx: Tx,
  invoice: { readonly id: number; readonly postingId: number; readonly day: string; readonly closed: string | null },
  parts: readonly InvoicePart[],
): Promise<Revalued> {
  await insertParts(tx, invoice.id, parts)
  await writeEntries(tx, invoice.postingId, invoice.day, parts, 1n)
  const moveIds = [...new Set(parts.map((part) => part.moveId))]
  return passOn(tx, invoice.postingId, moveIds, invoice.closed)
}

export async function insertParts(tx: Tx, invoiceId: number, parts: readonly InvoicePart[]): Promise<void> {
  for (const part of parts) {
    await tx.insert(invoiceLines).values({
      invoiceId,
      purchaseLineId: part.lineId,
      chargeId: part.chargeId ?? null,
      moveId: part.moveId,
      quantity: asNumeric(part.quantity),
      amount: part.amount,
      delta: part.delta,
    })
  }
}

/** A share of an amount that falls on goods as a whole: they cost so much more. */
export function shareOf(goods: ReceivedGoods, amount: bigint, chargeId?: number): InvoicePart[] {
  const { lineId, itemId, moveId, siteId } = goods
  return amount === 0n
    ? []
    : [{ lineId, itemId, moveId, site: siteId, quantity: ZERO, amount, delta: amount, chargeId }]
}

type Order = Awaited<ReturnType<typeof begin>>['order']

/** What an invoice says of each receipt that its lines pay for. Errors: `invalid-input` beside the line. */
export async function partsOf(tx: Tx, order: Order, entered: InvoiceDraft['lines']): Promise<InvoicePart[]> {
  const lines = await rows<{ id: number; itemId: number }>(
    tx,
    sql`select id, item_id as "itemId" from purchase_lines where order_id = ${order.id}`,
  )
  const items = await loadMeasuredItems(
    tx,
    lines.map((line) => line.itemId),
  )
  const parts: InvoicePart[] = []
  for (const [index, entry] of entered.entries()) {
    const line = lines.find((row) => row.id === entry.lineId)
    if (!line) {
      throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
    }
    const path = `lines.${index}.quantity`
    const { quantity } = readQuantity(items.get(line.itemId)!, entry.quantity, entry.unit, path)
    const amount = lineValue(ratio(entry.amount), ratio(order.rate))
    parts.push(...(await matchLine(tx, line, items.get(line.itemId)!, { quantity, amount }, path)))
  }
  return parts
}

/** The charges in minor units of the company's currency. */
export async function chargesOf(
  tx: Tx,
  order: Order,
  edit: Pick<InvoiceDraft, 'charges' | 'invoicedOn'>,
  supplierId: number,
): Promise<{ name: string; by: NewInvoice['charges'][number]['by']; amount: bigint }[]> {
  const rate = await rateOf(tx, order, supplierId, edit.invoicedOn)
  return (edit.charges ?? []).map(({ name, by, amount }) => ({ name, by, amount: lineValue(ratio(amount), rate) }))
}

/** An invoice of the goods' supplier goes by the rate of the order, another's by that of its day. */
async function rateOf(tx: Tx, order: Order, supplierId: number, day: string): Promise<Ratio> {
  if (supplierId === order.supplierId) {
    return ratio(order.rate)
  }
  const supplier = await loadDefinition(tx, 'suppliers', supplierId)
  return ratio((await paidIn(tx, supplier, day)).rate)
}

/** The receipts that charges are spread over, each with what it costs by this invoice too. */
export async function chargedGoods(
  tx: Tx,
  orderId: number,
  chosen: readonly number[],
  parts: readonly InvoicePart[],
): Promise<ReceivedGoods[]> {
  const paid = [...new Set(parts.map((part) => part.moveId))]
  const goods = await goodsOf(tx, orderId, chosen.length > 0 ? chosen : paid)
  return goods.map((entry) => {
    const dearer = parts.filter((part) => part.moveId === entry.moveId).reduce((sum, part) => sum + part.delta, 0n)
    return { ...entry, value: (BigInt(entry.value) + dearer).toString() }
  })
}

/** Receipts by their moves; all of an order where none are named. Errors: `invalid-input` where one does not stand. */
async function goodsOf(tx: Tx, orderId: number, moveIds: readonly number[]): Promise<ReceivedGoods[]> {
  const goods = moveIds.length > 0 ? await receivedByMoves(tx, moveIds) : await receivedOfOrder(tx, orderId)
  if (goods.length < new Set(moveIds).size) {
    refuseField('moveIds', 'A receipt that was chosen does not stand any more. Choose again.')
  }
  return goods
}
