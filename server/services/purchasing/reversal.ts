import { and, eq, isNull, sql } from 'drizzle-orm'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import { postings, purchaseLines, purchaseOrders, supplierInvoices, supplierReturns } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { PostedLine, Posting, Reversals } from '~~/server/ledger/reversals'
import { openAgain, takeBackLines } from '~~/server/ledger/take-back-lines'
import { endInspections, requireUndecided } from '../inspection'
import { freeArrived } from './buying/free-arrived'
import { countDelivered } from './deliver-direct'
import { statusByLines } from './end-purchase'
import { writeReturnEntries } from './invoice-entries'
import { dropSubstitutes } from './receive-substitutes'
import { countReceived } from './returns'

/** A return is taken back once nothing has been given for it; what was not invoiced for it is wanted again. */
async function reopenReturn(tx: Tx, original: Posting): Promise<void> {
  const [back] = await tx
    .update(supplierReturns)
    .set({ isReversed: true })
    .where(eq(supplierReturns.id, original.documentId!))
    .returning()
  const { id, lineId, orderId, quantity, expects } = back!
  if (expects === 'replacement') {
    await countReceived(tx, lineId, ratio(quantity))
  }
  if (expects === 'not invoiced') {
    await wantInvoice(tx, id, original)
  }
  const status = await statusByLines(tx, orderId)
  await rows(tx, sql`update purchase_orders set status = ${status}, version = version + 1 where id = ${orderId}`)
}

/** The receipts of goods that were not to be invoiced are to be invoiced again. */
async function wantInvoice(tx: Tx, returnId: number, original: Posting): Promise<void> {
  const [reversal] = await tx.select().from(postings).where(eq(postings.reversesId, original.id))
  const parts = await rows<{ itemId: number; site: number; amount: string }>(
    tx,
    sql`
      select m.item_id as "itemId", p.site_id as site, l.amount::text as amount
      from supplier_invoices v
      join invoice_lines l on l.invoice_id = v.id
      join moves m on m.id = l.move_id
      join places p on p.id = m.to_place_id
      where v.return_id = ${returnId} and v.cancelled_id is null`,
  )
  await tx
    .update(supplierInvoices)
    .set({ cancelledId: reversal!.id })
    .where(and(eq(supplierInvoices.returnId, returnId), isNull(supplierInvoices.cancelledId)))
  await writeReturnEntries(
    tx,
    reversal!.id,
    reversal!.effectiveOn,
    parts.map((part) => ({ ...part, amount: BigInt(part.amount) })),
    -1n,
  )
}

async function requireUnsettled(tx: Tx, original: Posting): Promise<void> {
  const [settled] = await rows<{ kind: string; number: string; own: string }>(
    tx,
    sql`
      select v.kind, v.number, r.number as own
      from supplier_invoices v
      join supplier_returns r on r.id = v.return_id
      where r.id = ${original.documentId} and v.kind <> 'not invoiced' and v.cancelled_id is null
      limit 1`,
  )
  if (settled) {
    throw new Refusal('not-now', `${settled.own} is settled: ${settled.kind} ${settled.number}. Take that back first.`)
  }
}

/**
 * Goods do not go back out of a receipt from which some were returned, or that an invoice pays for: what is owed would
 * be owed for nothing.
 */
async function requireUnpaid(tx: Tx, original: Posting): Promise<void> {
  const [returned] = await rows<{ number: string }>(
    tx,
    sql`
      select max(r.number) as number
      from supplier_returns r
      join purchase_lines l on l.id = r.line_id
      join (
        select document_line_id as line, sum(quantity) as quantity
        from moves
        where posting_id = ${original.id}
        group by 1
      ) m on m.line = l.id
      where r.expects <> 'replacement' and not r.is_reversed
      group by l.id, m.quantity
      having l.received - m.quantity < sum(r.quantity)
      limit 1`,
  )
  if (returned) {
    throw new Refusal('not-now', `${returned.number} went back from these goods. Reverse that first.`)
  }
  const [paid] = await rows<{ kind: string; number: string }>(
    tx,
    sql`
      select v.kind, v.number
      from invoice_lines l
      join supplier_invoices v on v.id = l.invoice_id and v.cancelled_id is null
      join moves m on m.id = l.move_id
      where m.posting_id = ${original.id}
      order by v.id desc
      limit 1`,
  )
  if (paid) {
    const what = { 'credit note': 'Credit note', replacement: 'The replacement of' }[paid.kind] ?? 'Invoice'
    throw new Refusal(
      'not-now',
      `${what} ${paid.number} is about these goods. Take it back first, or return the goods to the supplier.`,
    )
  }
}

const isOurs = ({ documentLineId }: PostedLine): boolean => (documentLineId ?? 0) > 0

/** The shipment that a direct delivery brought: the next one of its lines. */
async function shipmentsWith(tx: Tx, original: Posting): Promise<readonly number[]> {
  const found = await rows<{ id: number }>(
    tx,
    sql`
      select s.id::int as id
      from moves m
      join moves n on n.item_id = m.item_id
        and n.document_line_id = m.document_line_id
        and n.posting_id > m.posting_id
      join postings s on s.id = n.posting_id and s.kind = 'direct shipment'
      where m.posting_id = ${original.id} and ${notReversed('s.id')}
      order by s.id
      limit 1`,
  )
  return found.map(({ id }) => id)
}

/** What left directly came directly: both are taken back together. */
async function requireWhole(tx: Tx, original: Posting, isPart: boolean): Promise<void> {
  if (isPart) {
    return
  }
  const [order] = await rows<{ number: string }>(
    tx,
    sql`
      select o.number
      from moves m
      join purchase_lines l on l.id = -m.document_line_id
      join purchase_orders o on o.id = l.order_id
      where m.posting_id = ${original.id}
      limit 1`,
  )
  throw new Refusal('not-now', `The supplier delivered this directly. Take the delivery back on ${order?.number}.`)
}

/** What a supplier delivered to a customer by themselves is wanted again, by both orders. */
async function reopenDirect(tx: Tx, original: Posting, lines: readonly PostedLine[]): Promise<void> {
  const delivered = new Map(lines.map((line) => [-line.documentLineId!, ratio(line.quantity)]))
  for (const [lineId, quantity] of delivered) {
    const [line] = await tx.select().from(purchaseLines).where(eq(purchaseLines.id, lineId))
    await countDelivered(tx, lineId, line!.salesLineId!, ZERO.sub(quantity))
  }
  const [order] = await tx.select().from(purchaseOrders).where(eq(purchaseOrders.id, original.documentId!))
  await openAgain(tx, 'sales_orders', order!.directOrderId!)
}

export const purchasingReversals: Reversals = {
  'document supplier return': { require: requireUnsettled, reopen: reopenReturn },
  'posting direct delivery': { before: shipmentsWith, reopen: reopenDirect },
  'posting direct shipment': { require: requireWhole },
  'document purchase order': {
    require: async (tx, original) => {
      await requireUnpaid(tx, original)
      await requireUndecided(tx, original)
    },
    before: async (tx, original) => {
      await freeArrived(tx, original.id)
      return []
    },
    reopen: async (tx, original, lines) => {
      await endInspections(tx, original)
      // The lines of a way stand below nought: they are counted off both orders by themselves.
      await takeBackLines(tx, 'purchase_lines', 'received', lines.filter(isOurs))
      await dropSubstitutes(
        tx,
        lines.flatMap(({ documentLineId }) => documentLineId ?? []),
      )
      await openAgain(tx, 'purchase_orders', original.documentId!)
    },
  },
}
