import { eq, sql } from 'drizzle-orm'
import { lineValue, matchInvoice } from '~~/core/costing'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import { invoiceLines, supplierInvoices } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewInvoice } from '~~/shared/purchasing/requests'
import { accountNames } from '../books/value'
import { asNumeric, loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { loadRecorded } from '../../ledger/cost-history'
import { recordPosting } from '../../ledger/post'
import { workOut, writePools } from '../../ledger/work-out'
import { recordAdjustments } from '../../ledger/record-adjustments'
import { requireOpenDay } from '../../ledger/requirements'
import { lockDocument, noteChange } from '../../documents'

interface Received {
  moveId: number
  quantity: string
  given: string
  site: number
  invoiced: string
}

/**
 * Takes in what the supplier asks for goods received under an order.
 *
 * The amount goes to the receipts that no invoice has named yet, oldest first. Where it differs from the order's price,
 * those receipts are worth something else, and so is all that was built from them or sold meanwhile.
 */
export async function recordInvoice(
  tx: Tx,
  actor: Actor,
  orderId: number,
  edit: Omit<NewInvoice, 'key'>,
): Promise<{ id: number; postingId: number; revalued: { account: string; amount: string }[] }> {
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  const order = await lockDocument(tx, 'purchase order', orderId)
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  requireOpenDay(edit.invoicedOn, own!.closed, actor.today)
  await requireNewNumber(tx, order.supplierId, edit.number)
  const lines = await rows<{ id: number; itemId: number }>(
    tx,
    sql`select id, item_id as "itemId" from purchase_lines where order_id = ${orderId}`,
  )
  const items = await loadMeasuredItems(
    tx,
    lines.map((line) => line.itemId),
  )
  const parts: Part[] = []
  for (const [index, entry] of edit.lines.entries()) {
    const line = lines.find((row) => row.id === entry.lineId)
    if (!line) {
      throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
    }
    const path = `lines.${index}.quantity`
    const { quantity } = readQuantity(items.get(line.itemId)!, entry.quantity, entry.unit, path)
    const amount = lineValue(ratio(entry.amount), ratio(order.rate))
    parts.push(...(await matchLine(tx, line, items.get(line.itemId)!, { quantity, amount }, path)))
  }
  const [postingId] = await recordPosting(tx, actor, {
    kind: 'supplier invoice',
    label: `Invoice ${edit.number} for ${order.number}`,
    document: { kind: 'purchase order', id: orderId },
    effectiveOn: edit.invoicedOn,
  })
  const [made] = await tx
    .insert(supplierInvoices)
    .values({ supplierId: order.supplierId, number: edit.number, invoicedOn: edit.invoicedOn, postingId: postingId! })
    .returning()
  for (const part of parts) {
    await tx.insert(invoiceLines).values({
      invoiceId: made!.id,
      purchaseLineId: part.lineId,
      moveId: part.moveId,
      quantity: asNumeric(part.quantity),
      amount: part.amount,
      delta: part.delta,
    })
  }
  await writeEntries(tx, postingId!, edit.invoicedOn, parts, 1n)
  const revalued = await passOn(
    tx,
    postingId!,
    parts.map((part) => part.moveId),
    own!.closed,
  )
  await noteChange(tx, actor, { kind: 'purchase order', id: orderId }, null, { invoice: edit.number })
  return { id: made!.id, postingId: postingId!, revalued }
}

async function requireNewNumber(tx: Tx, supplierId: number, number: string): Promise<void> {
  const found = await rows(
    tx,
    sql`
      select id
      from supplier_invoices
      where supplier_id = ${supplierId} and lower(number) = lower(${number}) and cancelled_id is null`,
  )
  if (found.length > 0) {
    const detail = `Invoice ${number} of this supplier is here already.`
    throw new Refusal('taken', detail, { number: detail })
  }
}

interface Part {
  readonly lineId: number
  readonly itemId: number
  readonly moveId: number
  readonly site: number
  readonly quantity: Ratio
  readonly amount: bigint
  readonly delta: bigint
}

/** The receipts of a line that an invoice pays for. Errors: `invalid-input` where more is invoiced than came in. */
async function matchLine(
  tx: Tx,
  line: { readonly id: number; readonly itemId: number },
  item: MeasuredItem,
  invoice: { readonly quantity: Ratio; readonly amount: bigint },
  path: string,
): Promise<readonly Part[]> {
  const receipts = (await receiptsOf(tx, line.id)).map((receipt) => ({
    ...receipt,
    quantity: ratio(receipt.quantity),
    invoiced: ratio(receipt.invoiced),
    given: BigInt(receipt.given),
  }))
  const { parts, left } = matchInvoice(invoice, receipts)
  if (left.compare(ZERO) > 0) {
    const detail = `${item.code}: that is ${left.toString()} ${item.symbol} more than was received and not invoiced yet.`
    throw new Refusal('invalid-input', detail, { [path]: detail })
  }
  return parts.map(({ receipt, quantity, amount, delta }) => ({
    lineId: line.id,
    itemId: line.itemId,
    moveId: receipt.moveId,
    site: receipt.site,
    quantity,
    amount,
    delta,
  }))
}

/** Takes an invoice back: goods cost what the order said, or what other invoices say. */
export async function cancelInvoice(
  tx: Tx,
  actor: Actor,
  id: number,
): Promise<{ id: number; postingId: number; revalued: { account: string; amount: string }[] }> {
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  const [invoice] = await tx.select().from(supplierInvoices).where(eq(supplierInvoices.id, id)).for('update')
  if (!invoice) {
    throw new Refusal('not-found', 'There is no such invoice.')
  }
  if (invoice.cancelledId !== null) {
    throw new Refusal('not-now', `Invoice ${invoice.number} was taken back already.`)
  }
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  const [first] = await rows<{ orderId: number }>(
    tx,
    sql`select document_id as "orderId" from postings where id = ${invoice.postingId}`,
  )
  const [postingId] = await recordPosting(tx, actor, {
    kind: 'reversal',
    label: `Reversal of invoice ${invoice.number}`,
    document: { kind: 'purchase order', id: first!.orderId },
    effectiveOn: actor.today,
    reverses: invoice.postingId,
  })
  await tx.update(supplierInvoices).set({ cancelledId: postingId! }).where(eq(supplierInvoices.id, id))
  const lines = await rows<{ moveId: number; itemId: number; site: number; amount: string }>(
    tx,
    sql`
      select l.move_id::int as "moveId", m.item_id as "itemId", p.site_id as site, l.amount::text as amount
      from invoice_lines l
      join moves m on m.id = l.move_id
      join places p on p.id = m.to_place_id
      where l.invoice_id = ${id}
      order by l.id`,
  )
  await writeEntries(
    tx,
    postingId!,
    actor.today,
    lines.map((line) => ({ ...line, amount: BigInt(line.amount) })),
    -1n,
  )
  const revalued = await passOn(
    tx,
    postingId!,
    lines.map((line) => line.moveId),
    own!.closed,
  )
  await noteChange(
    tx,
    actor,
    { kind: 'purchase order', id: first!.orderId },
    { invoice: invoice.number },
    { invoice: 'taken back' },
  )
  return { id, postingId: postingId!, revalued }
}

/** The receipts of an order's line that stand, oldest first, with what of each is invoiced. */
const receiptsOf = (tx: Tx, lineId: number): Promise<Received[]> =>
  rows<Received>(
    tx,
    sql`
      select
        m.id::int as "moveId", m.quantity, (m.value + m.variance)::text as given, p.site_id as site,
        coalesce(
          (
            select sum(l.quantity)
            from invoice_lines l
            join supplier_invoices v on v.id = l.invoice_id
            where l.move_id = m.id and v.cancelled_id is null
          ),
          0
        )::text as invoiced
      from moves m
      join places p on p.id = m.to_place_id
      join places f on f.id = m.from_place_id and f.kind = 'supplier'
      join postings o on o.id = m.posting_id and o.kind = 'goods receipt'
      where m.document_line_id = ${lineId}
        and m.basis = 'stated'
        and ${notReversed('o.id')}
      order by m.effective_on, m.id`,
  )

async function writeEntries(
  tx: Tx,
  postingId: number,
  day: string,
  parts: readonly { itemId: number; site: number; amount: bigint }[],
  sign: 1n | -1n,
): Promise<void> {
  const entries = parts.flatMap((part) =>
    [
      { account: 'supplier', amount: part.amount * sign },
      { account: 'payable', amount: -part.amount * sign },
    ].map((entry) => ({
      account: entry.account,
      amount: entry.amount.toString(),
      item_id: part.itemId,
      site_id: part.site,
    })),
  )
  await rows(
    tx,
    sql`
      insert into entries (posting_id, account, item_id, site_id, amount, effective_on)
      select ${postingId}, account, item_id, site_id, amount, ${day}::date
      from jsonb_to_recordset(${JSON.stringify(entries)}::jsonb) as e(
        account text, item_id int, site_id int, amount bigint
      )`,
  )
}

async function passOn(
  tx: Tx,
  postingId: number,
  moveIds: readonly number[],
  closed: string | null,
): Promise<{ account: string; amount: string }[]> {
  const recorded = await loadRecorded(tx, moveIds)
  const worked = await workOut(
    tx,
    recorded.map((move) => ({ pool: move.to!, from: move })),
    { moves: [], work: 0n },
    null,
  )
  await writePools(tx, worked.pools)
  const revalued = await recordAdjustments(tx, postingId, worked, closed)
  void revalued
  return accountNames(
    await rows<{ account: string; amount: string }>(
      tx,
      sql`
        select place_kind as account, sum(amount)::text as amount
        from journal
        where posting_id = ${postingId}
        group by 1
        order by 1`,
    ),
  )
}
