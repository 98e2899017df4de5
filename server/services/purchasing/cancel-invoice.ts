import { eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { supplierInvoices, supplierReturns } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { recordPosting } from '../../ledger/post'
import { noteChange } from '../../documents'
import { passOn, writeEntries, writeReturnCredit, writeReturnEntries, type InvoiceEntry } from './invoice-entries'
import { lockInvoices, type Invoiced } from './invoices'
import { goodsOf } from './settle-return'

type SupplierInvoice = typeof supplierInvoices.$inferSelect

const NAMES: Readonly<Record<string, string>> = {
  invoice: 'Invoice',
  'credit note': 'Credit note',
  replacement: 'Replacement of',
}

/** The goods that went back, and what a credit note gave for them. */
async function creditedGoods(tx: Tx, { returnId, returned }: SupplierInvoice): Promise<InvoiceEntry> {
  const [back] = await tx.select().from(supplierReturns).where(eq(supplierReturns.id, returnId!))
  return { ...(await goodsOf(tx, back!)), amount: returned }
}

/** Takes an invoice or a credit note back: goods cost what the order said, or what other invoices say. */
export async function cancelInvoice(tx: Tx, actor: Actor, id: number): Promise<Invoiced> {
  await lockInvoices(tx)
  const [invoice] = await tx.select().from(supplierInvoices).where(eq(supplierInvoices.id, id)).for('update')
  // What is not invoiced for a return goes with the return.
  if (!invoice || invoice.kind === 'not invoiced') {
    throw new Refusal('not-found', 'There is no such invoice.')
  }
  const what = NAMES[invoice.kind] ?? 'Invoice'
  if (invoice.cancelledId !== null) {
    throw new Refusal('not-now', `${what} ${invoice.number} was taken back already.`)
  }
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  const [first] = await rows<{ orderId: number }>(
    tx,
    sql`select document_id as "orderId" from postings where id = ${invoice.postingId}`,
  )
  const [postingId] = await recordPosting(tx, actor, {
    kind: 'reversal',
    label: `Reversal of ${what.toLowerCase()} ${invoice.number}`,
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
  const entries = lines.map((line) => ({ ...line, amount: BigInt(line.amount) }))
  if (invoice.kind === 'replacement') {
    await writeReturnEntries(tx, postingId!, actor.today, entries, -1n)
  } else if (invoice.returnId === null) {
    await writeEntries(tx, postingId!, actor.today, entries, -1n)
  } else {
    await writeReturnCredit(tx, postingId!, actor.today, await creditedGoods(tx, invoice), -1n)
  }
  const revalued = await passOn(tx, postingId!, [...new Set(lines.map((line) => line.moveId))], own!.closed)
  await noteChange(
    tx,
    actor,
    { kind: 'purchase order', id: first!.orderId },
    { invoice: invoice.number },
    { invoice: 'taken back' },
  )
  return { id, postingId: postingId!, revalued }
}
