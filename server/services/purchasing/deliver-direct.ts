import { eq, sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { printAmount } from '~~/core/units/quantity'
import { convert } from '~~/core/units/graph'
import { ratio, type Ratio } from '~~/core/units/exact'
import type { StockQuantity } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines, salesLines } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { DeliverDirect } from '~~/shared/purchasing/requests'
import { externalPlace } from '../../ledger/external-places'
import { post, type DraftMove } from '../../ledger/post'
import { lockAsSeen, lockDocument, requireStatus, saveDocument } from '../../documents'
import { asNumeric, loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { settle } from '../demand/order-end'
import { ALLOCATED } from '../dispatch/serving'
import { lotToEnter } from '../stock/lots'
import { saveOrderStatus } from './end-purchase'
import { keepPackingList, requireSoundReceipt } from './receipt-brakes'

type PurchaseLine = typeof purchaseLines.$inferSelect
type SalesLine = typeof salesLines.$inferSelect
type Edit = Omit<DeliverDirect, 'key'>

/** A line that was delivered: what was bought, and whose line it fills. */
interface Delivered {
  readonly item: MeasuredItem
  readonly ordered: PurchaseLine
  readonly sold: SalesLine
  readonly read: StockQuantity
  readonly lotId: number | null
}

/**
 * Records that a supplier has delivered to the customer by themselves: received and shipped in one act, at the
 * order's price, without touching our bins. The goods go through what is on the way, where they are a pool of their
 * own: what they cost is what this customer's goods cost, also where the invoice turns out dearer.
 *
 * Errors: `stale-version`; `not-now` where either order is not open, or this one is not delivered directly; `invalid-input` beside
 *         the field, above all where more was delivered than either order has open.
 */
export async function deliverDirect(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Edit,
): Promise<{ postingId: number; isDone: boolean }> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version, ['open'])
  if (order.directOrderId === null) {
    throw new Refusal('not-now', `${order.number} is delivered to us. Receive its goods.`)
  }
  const customerOrder = await lockDocument(tx, 'sales order', order.directOrderId)
  requireStatus(customerOrder, ['open'])
  const effectiveOn = edit.effectiveOn ?? actor.today
  await requireSoundReceipt(tx, { ...order, ...edit, sameList: false, effectiveOn, today: actor.today })
  const delivered = await readLines(tx, id, edit, customerOrder.number, effectiveOn)
  const goods = await movesOf(tx, order.rate, delivered)
  const posted = await post(tx, actor, {
    kind: 'direct delivery',
    label: `${order.number} delivered directly for ${customerOrder.number}`,
    document: { kind: 'purchase order', id },
    effectiveOn,
    moves: goods.came,
  })
  await post(tx, actor, {
    kind: 'direct shipment',
    label: `Shipment of ${customerOrder.number}, delivered directly by ${order.number}`,
    document: { kind: 'sales order', id: customerOrder.id },
    effectiveOn,
    moves: goods.left,
  })
  for (const { ordered, sold, read } of delivered) {
    await countDelivered(tx, ordered.id, sold.id, read.quantity)
  }
  await keepPackingList(tx, posted.postingId, order.supplierId, edit.packingList)
  await saveOrderStatus(tx, actor, order, { after: { delivered: posted.postingId } })
  const status = await settle(tx, customerOrder.id)
  await saveDocument(tx, actor, 'sales order', customerOrder, {
    set: { status },
    after: { shipped: posted.postingId },
  })
  return { postingId: posted.postingId, isDone: status === 'shipped' }
}

/** Counts what was delivered on both orders; below nought takes it off again. */
export async function countDelivered(tx: Tx, lineId: number, salesLineId: number, quantity: Ratio): Promise<void> {
  const [bought] = await tx.select().from(purchaseLines).where(eq(purchaseLines.id, lineId))
  const [sold] = await tx.select().from(salesLines).where(eq(salesLines.id, salesLineId))
  await tx
    .update(purchaseLines)
    .set({ received: asNumeric(ratio(bought!.received).add(quantity)) })
    .where(eq(purchaseLines.id, lineId))
  await tx
    .update(salesLines)
    .set({ shipped: asNumeric(ratio(sold!.shipped).add(quantity)) })
    .where(eq(salesLines.id, salesLineId))
}

async function readLines(
  tx: Tx,
  id: number,
  edit: Edit,
  customerOrder: string,
  effectiveOn: string,
): Promise<Delivered[]> {
  const lines = await tx.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))
  const items = await loadMeasuredItems(
    tx,
    lines.map((line) => line.itemId),
  )
  const delivered: Delivered[] = []
  for (const [index, line] of edit.lines.entries()) {
    const ordered = lines.find((entry) => entry.id === line.lineId)
    if (!ordered || delivered.some((entry) => entry.ordered === ordered)) {
      throw new Refusal('invalid-input', 'A line of this order is gone, or is named twice. Reload the page.')
    }
    const item = items.get(ordered.itemId)!
    const field = `lines.${index}.quantity`
    requirePlain(item, field)
    const read = readQuantity(item, line.quantity, line.unit, field)
    const sold = await requireOpen(tx, { item, ordered, quantity: read.quantity, customerOrder }, field)
    const lotId = await lotToEnter(
      tx,
      item,
      line.lot,
      { expiresOn: line.expiresOn, receivedOn: effectiveOn, traits: {} },
      `lines.${index}.lot`,
    )
    delivered.push({ item, ordered, sold, read, lotId })
  }
  return delivered
}

/** What is kept by the piece is measured piece by piece: that wants a bin of ours. */
function requirePlain(item: MeasuredItem, field: string): void {
  if (item.tracking === 'piece') {
    refuseField(field, `${item.code} is kept by the piece. Receive its pieces, and ship them.`)
  }
}

/** What of a customer's line is allocated, or being packed for it: that leaves from here. */
async function allocatedOf(tx: Tx, salesLineId: number): Promise<Ratio> {
  const [line] = await rows<{ allocated: string }>(
    tx,
    sql`select (${ALLOCATED})::text as allocated from sales_lines l where l.id = ${salesLineId}`,
  )
  return ratio(line?.allocated ?? '0')
}

/** Both orders have as much open as was delivered. */
async function requireOpen(
  tx: Tx,
  {
    item,
    ordered,
    quantity,
    customerOrder,
  }: {
    readonly item: MeasuredItem
    readonly ordered: PurchaseLine
    readonly quantity: Ratio
    readonly customerOrder: string
  },
  field: string,
): Promise<SalesLine> {
  const [sold] =
    ordered.salesLineId === null
      ? []
      : await tx.select().from(salesLines).where(eq(salesLines.id, ordered.salesLineId)).for('update')
  if (!sold) {
    return refuseField(field, `${item.code} is no longer on ${customerOrder}. Receive it instead.`)
  }
  const bought = ratio(ordered.quantity).sub(ratio(ordered.received))
  const wanted = ratio(sold.quantity)
    .sub(ratio(sold.shipped))
    .sub(await allocatedOf(tx, sold.id))
  const [least, where] = bought.compare(wanted) <= 0 ? [bought, 'This order'] : [wanted, customerOrder]
  if (quantity.compare(least) > 0) {
    refuseField(
      field,
      `${where} has ${printAmount(least, 6, item.writing)} ${item.symbol} ${item.code} open. Raise it first where more was delivered.`,
    )
  }
  return sold
}

/**
 * From the supplier onto the way, and off it to the customer. The line of a way stands below nought: those above are
 * lines of transfers.
 */
async function movesOf(
  tx: Tx,
  rate: string,
  delivered: readonly Delivered[],
): Promise<{ came: DraftMove[]; left: DraftMove[] }> {
  const supplier = await externalPlace(tx, 'supplier')
  const way = await externalPlace(tx, 'transit')
  const customer = await externalPlace(tx, 'customer')
  const goods = delivered.map(({ item, ordered, read, lotId }) => {
    const inUnit = convert(item.measure.graph, read.exact, item.stockUnit, ordered.unit)
    const value = lineValue(inUnit.ok ? inUnit.value : read.exact, ratio(ordered.price).mul(ratio(rate)))
    const { quantity, entered, unit, residue } = read
    return { value, move: { itemId: item.id, lotId, quantity, entered, unit, residue, lineId: -ordered.id } }
  })
  return {
    came: goods.map(({ move, value }) => ({ ...move, from: supplier, to: way, valuation: { kind: 'stated', value } })),
    left: goods.map(({ move }) => ({ ...move, from: way, to: customer, valuation: { kind: 'method' } })),
  }
}
