import { eq, sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { shareAmount } from '~~/core/sharing'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { OpenedInspection } from '~~/shared/inspection/answers'
import type { Receive } from '~~/shared/purchasing/requests'
import { asNumeric, loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { requireTraits } from '../stock/pieces'
import { postIfAny, type DraftMove, type End } from '../../ledger/post'
import { openInspections, plansFor, type PlanInUse } from '../inspection'
import { breakDownArrived, type BrokenDown } from '../workshop/break-down-on-receipt'
import { lineUpSubstitutes } from './receive-substitutes'
import { allocateArrived } from './buying/allocate-arrived'
import { saveOrderStatus } from './end-purchase'
import { inUnit, partsOf, total, type Part } from './receipt-parts'
import { keepPackingList, requireReason, requireSoundReceipt, tolerancesOf, type ReceiptLine } from './receipt-brakes'
import { lockAsSeen } from '../../documents'

export interface ReceivedLine {
  lineId: number
  code: string
  quantity: string
  symbol: string
  residue: string
  residueUnit: string
  value: string
}
export interface Received {
  postingId: number | null
  lines: ReceivedLine[]
  brokenDown: BrokenDown[]
  /** What was put on hold until it is inspected. */
  inspections: OpenedInspection[]
}
type Optional = 'traits' | 'pieces' | 'reason' | 'substituteId' | 'countsAs'
type Line = Omit<Receive['lines'][number], Optional> & Partial<Pick<Receive['lines'][number], Optional>>
export type ReceiveDraft = Omit<Receive, 'key' | 'lines' | 'effectiveOn' | 'sameList'> &
  Partial<Pick<Receive, 'effectiveOn' | 'sameList'>> & {
    readonly lines: readonly Line[]
    /** All of it lies on hold: nobody ordered it. */
    readonly isHeld?: boolean
  }

/**
 * Takes in what the packing list says, line by line; what does not come stays open.
 *
 * Goods enter at the order's price for the quantity received, whatever unit that was typed in, and in the company's own
 * currency by the rate on the day of the order. More than was ordered may come in, with a reason. A service is received
 * without anything moving. What is inspected lies on hold until that is done.
 */
export async function receive(tx: Tx, actor: Actor, id: number, edit: ReceiveDraft): Promise<Received> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version)
  requireReceivedHere(order)
  const came = await lineUpSubstitutes(tx, id, edit.lines)
  const lines = new Map(
    (await tx.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))).map((line) => [line.id, line]),
  )
  const items = await loadMeasuredItems(
    tx,
    [...lines.values()].map((line) => line.itemId),
  )
  const supplier = await externalPlace(tx, 'supplier')
  const plans = await plansFor(tx, 'receipts', [...items.keys()], order.supplierId)
  const effectiveOn = edit.effectiveOn ?? actor.today
  await requireSoundReceipt(tx, {
    ...order,
    packingList: edit.packingList,
    sameList: edit.sameList ?? false,
    effectiveOn,
    today: actor.today,
  })
  const { moves, received } = await readLines(
    tx,
    {
      order,
      lines,
      items,
      supplier,
      plans,
      effectiveOn,
      isHeld: edit.isHeld ?? false,
      tolerances: await tolerancesOf(tx, order.supplierId, [...items.keys()]),
    },
    came,
  )
  const list = edit.packingList === '' ? '' : `, packing list ${edit.packingList}`
  const posted = await postIfAny(tx, actor, {
    kind: 'goods receipt',
    label: `Goods in for ${order.number}${list}`,
    document: { kind: 'purchase order', id },
    reason: reasonsIn(edit.lines),
    effectiveOn,
    moves,
  })
  await keepPackingList(tx, posted?.postingId ?? null, order.supplierId, edit.packingList)
  await saveOrderStatus(tx, actor, order, { after: { received: posted?.postingId ?? 'services' } })
  if (posted) {
    await allocateArrived(tx, actor, posted.postingId)
  }
  return {
    postingId: posted?.postingId ?? null,
    lines: received,
    brokenDown: posted ? await breakDownArrived(tx, actor, posted.postingId) : [],
    inspections: await openInspections(tx, actor, posted?.postingId ?? null, plans, order.supplierId),
  }
}

/** Errors: `not-now` where the supplier delivers to the customer by themselves. */
function requireReceivedHere(order: { readonly number: string; readonly directOrderId: number | null }): void {
  if (order.directOrderId !== null) {
    throw new Refusal(
      'not-now',
      `${order.number} is delivered to the customer directly. Confirm that delivery instead.`,
    )
  }
}

/** What reading the lines of a receipt needs to know. */
interface Receipt {
  readonly order: { readonly rate: string }
  readonly lines: ReadonlyMap<number, OrderedLine>
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly supplier: End
  readonly plans: ReadonlyMap<number, PlanInUse>
  readonly effectiveOn: string
  readonly isHeld: boolean
  readonly tolerances: ReadonlyMap<number, Ratio>
}

/** Checks the lines of a receipt and counts them on the order; answers what moves by them. */
async function readLines(
  tx: Tx,
  receipt: Receipt,
  entered: readonly Line[],
): Promise<{ moves: DraftMove[]; received: ReceivedLine[] }> {
  const moves: DraftMove[] = []
  const received: ReceivedLine[] = []
  /** What of each line this receipt has brought until now: a line may come in several lots. */
  const counted = new Map<number, Ratio>()
  for (const [index, line] of entered.entries()) {
    const pathOf = (field: string): string => `lines.${index}.${field}`
    const ordered = requireOpen(receipt.lines.get(line.lineId), receipt.items, pathOf)
    const item = receipt.items.get(ordered.itemId)!
    const parts = partsOf(item, line, pathOf)
    const before = counted.get(ordered.id) ?? ZERO
    await requireReason(
      tx,
      receiptLine(item, ordered, { line, parts, before, tolerance: receipt.tolerances.get(item.id) ?? ZERO }),
      receipt.effectiveOn,
      pathOf('reason'),
    )
    counted.set(ordered.id, total(parts, (part) => part.read.exact).add(before))
    const value = lineValue(
      total(parts, (part) => inUnit(item, part.read, ordered.unit)),
      ratio(ordered.price).mul(ratio(receipt.order.rate)),
    )
    received.push(await noteReceived(tx, receivedLine(ordered.id, item, parts, value)))
    if (item.kind !== 'service') {
      moves.push(...(await movesOf(tx, receipt, { item, line, lineId: ordered.id, parts, value }, pathOf)))
    }
  }
  return { moves, received }
}

interface Arrived {
  readonly item: MeasuredItem
  readonly line: Line
  readonly lineId: number
  readonly parts: readonly Part[]
  readonly value: bigint
}

async function movesOf(
  tx: Tx,
  receipt: Receipt,
  arrived: Arrived,
  pathOf: (field: string) => string,
): Promise<DraftMove[]> {
  const { item, line, lineId, parts } = arrived
  const values = shareAmount(
    arrived.value,
    parts.map((part) => part.read.quantity),
  )
  const status = receipt.isHeld || receipt.plans.has(item.id) ? 'on hold' : 'available'
  const to = await bin(tx, line.binId, pathOf('binId'), 'receive', status)
  const moves: DraftMove[] = []
  for (const [piece, part] of parts.entries()) {
    const path = item.tracking === 'piece' ? (field: string) => pathOf(`pieces.${piece}.${field}`) : pathOf
    const { lotId, pieceId } = await lotAndPieceOf(tx, receipt, arrived, { part, pathOf: path })
    const { quantity, entered, unit, residue } = part.read
    const valuation = { kind: 'stated', value: values[piece]! } as const
    moves.push({
      itemId: item.id,
      lotId,
      pieceId,
      quantity,
      from: receipt.supplier,
      to,
      entered,
      unit,
      residue,
      valuation,
      lineId,
    })
  }
  return moves
}

async function lotAndPieceOf(
  tx: Tx,
  { effectiveOn }: Receipt,
  { item, line }: Arrived,
  { part, pathOf }: { readonly part: Part; readonly pathOf: (field: string) => string },
): Promise<{ lotId: number | null; pieceId: number | null }> {
  await requireTraits(tx, item.id, part.traits, pathOf('traits.'))
  const lotId = await lotToEnter(
    tx,
    item,
    part.lot,
    { expiresOn: line.expiresOn, receivedOn: effectiveOn, traits: part.traits },
    pathOf('lot'),
  )
  const pieceId = await pieceToEnter(
    tx,
    item,
    { label: part.label, lotId, measure: asNumeric(part.read.quantity), traits: part.traits },
    pathOf('label'),
  )
  return { lotId, pieceId }
}

const receiptLine = (
  item: MeasuredItem,
  ordered: OrderedLine,
  {
    line,
    parts,
    before,
    tolerance,
  }: {
    readonly line: Line
    readonly parts: readonly Part[]
    readonly before: Ratio
    readonly tolerance: Ratio
  },
): ReceiptLine => ({
  item,
  ordered: { quantity: ordered.quantity, received: ratio(ordered.received).add(before) },
  tolerance,
  exact: total(parts, (part) => part.read.exact),
  lots: parts.map((part) => part.lot).filter((lot) => lot !== ''),
  expiresOn: line.expiresOn,
  reason: line.reason ?? '',
})

const reasonsIn = (lines: readonly Line[]): string =>
  [...new Set(lines.map((line) => line.reason ?? ''))].filter((reason) => reason !== '').join('; ')

async function noteReceived(tx: Tx, line: ReceivedLine): Promise<ReceivedLine> {
  await rows(
    tx,
    sql`update purchase_lines set received = received + ${line.quantity}::numeric where id = ${line.lineId}`,
  )
  return line
}

type OrderedLine = typeof purchaseLines.$inferSelect

/** Errors: `invalid-input` where the line is gone; `not-now` where the rest of it was given up. */
function requireOpen(
  ordered: OrderedLine | undefined,
  items: ReadonlyMap<number, MeasuredItem>,
  pathOf: (field: string) => string,
): OrderedLine {
  if (!ordered) {
    throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
  }
  if (ordered.closedShort) {
    const { code } = items.get(ordered.itemId)!
    throw new Refusal('not-now', `${code} is closed short. Open the line again to receive more.`, {
      [pathOf('quantity')]: 'This line is closed short.',
    })
  }
  return ordered
}

const receivedLine = (lineId: number, item: MeasuredItem, parts: readonly Part[], value: bigint): ReceivedLine => ({
  lineId,
  code: item.code,
  quantity: asNumeric(total(parts, (part) => part.read.quantity)),
  symbol: item.symbol,
  residue: toText(total(parts, (part) => part.read.residueEntered)),
  residueUnit: parts[0]!.read.unit,
  value: value.toString(),
})
