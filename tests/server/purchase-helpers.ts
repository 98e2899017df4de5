import { sql } from 'drizzle-orm'
import { expect } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkLedger } from '~~/server/ledger/check'
import { notInvoiced } from '~~/server/services/books/not-invoiced'
import { accounts } from '~~/server/services/books/value'
import { receive } from '~~/server/services/purchasing/goods-in'
import { recordInvoice, type InvoiceDraft } from '~~/server/services/purchasing/invoices'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { receivedOfOrder } from '~~/server/services/purchasing/received-goods'
import { owner } from './database'
import { here } from './stock-helpers'

/** Suppliers of the demo that are paid in its own currency. */
export async function ownSuppliers(): Promise<number[]> {
  const found = await rows<{ id: number }>(db, sql`select id from suppliers where currency_id is null order by id`)
  return found.map(({ id }) => id)
}

export interface Ordered {
  readonly itemId: number
  readonly quantity: string
  readonly price: string
}
/** Ordered and received whole, on the same day. */
export async function bought(
  supplierId: number,
  ...lines: Ordered[]
): Promise<{ orderId: number; lineIds: number[]; moveIds: number[] }> {
  const { id } = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId,
      note: '',
      lines: lines.map((line) => ({
        ...line,
        quantity: typedQuantity(line.quantity),
        unit: 'piece',
        dueOn: '2026-10-20',
      })),
    }),
  )
  const order = await loadPurchase(id)
  await inTransaction((tx) =>
    receive(tx, owner, id, {
      version: 1,
      packingList: '',
      lines: order.lines.map((line) => ({
        lineId: line.id,
        quantity: typedQuantity(line.entered),
        unit: 'piece',
        binId: here.shelf,
        lot: '',
        expiresOn: null,
      })),
    }),
  )
  const received = await receivedOfOrder(db, id)
  return { orderId: id, lineIds: order.lines.map((line) => line.id), moveIds: received.map((row) => row.moveId) }
}
export const invoice = (orderId: number, edit: Partial<InvoiceDraft> & { number: string }) =>
  inTransaction((tx) => recordInvoice(tx, owner, orderId, { invoicedOn: '2026-10-05', lines: [], ...edit }))
export const amountOf = (revalued: readonly { account: string; amount: string }[], account: string): string =>
  revalued.find((entry) => entry.account === account)?.amount ?? '0'
/** Every act of the journal sums to nothing, its account holds what is told as not invoiced, and the ledger is sound. */
export async function sound(): Promise<void> {
  expect(await rows(db, sql`select posting_id from journal group by posting_id having sum(amount) <> 0`)).toEqual([])
  const held = (await accounts()).find((row) => row.account === 'goods received not invoiced')?.amount ?? '0'
  const told = (await notInvoiced()).reduce((sum, row) => sum + BigInt(row.amount), 0n)
  expect(told.toString()).toBe((-BigInt(held)).toString())
  expect(await checkLedger()).toEqual([])
}
