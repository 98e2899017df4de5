import { eq, sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines, supplierReturns } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewReturnCredit } from '~~/shared/purchasing/requests'
import { noteChange } from '../../documents'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { passOn, writeReturnCredit, writeReturnEntries } from './invoice-entries'
import { matchLine } from './invoice-lines'
import {
  begin,
  insertInvoice,
  insertParts,
  lockInvoices,
  postInvoice,
  requireNewNumber,
  type Invoiced,
} from './invoices'

type SupplierReturn = typeof supplierReturns.$inferSelect

/**
 * Takes in the credit note for goods that were returned. What it differs from what they cost stays on the account of
 * returns.
 */
export async function creditReturn(
  tx: Tx,
  actor: Actor,
  returnId: number,
  edit: Omit<NewReturnCredit, 'key'>,
): Promise<Invoiced> {
  await lockInvoices(tx)
  const back = await requireUnsettled(tx, returnId)
  const { order } = await begin(tx, actor, back.orderId, edit.invoicedOn)
  await requireNewNumber(tx, order.supplierId, edit.number)
  const amount = lineValue(ratio(edit.amount), ratio(order.rate))
  const postingId = await postInvoice(tx, actor, order, { ...edit, what: 'Credit note' })
  const { number, invoicedOn } = edit
  const kind = 'credit note'
  const id = await insertInvoice(tx, {
    kind,
    number,
    invoicedOn,
    postingId,
    returnId,
    supplierId: order.supplierId,
    returned: amount,
  })
  await writeReturnCredit(tx, postingId, invoicedOn, { ...(await goodsOf(tx, back)), amount })
  await noteChange(tx, actor, { kind: 'purchase order', id: order.id }, null, { 'credit note': number })
  return { id, postingId, revalued: [] }
}

/**
 * Goods came instead of those that were returned: what they cost is paid for by those. Errors: `not-now` where nothing
 * has come that is not invoiced.
 */
export async function replaceReturn(tx: Tx, actor: Actor, returnId: number): Promise<Invoiced> {
  await lockInvoices(tx)
  const back = await requireUnsettled(tx, returnId)
  const { order, closed } = await begin(tx, actor, back.orderId, actor.today)
  const [line] = await tx.select().from(purchaseLines).where(eq(purchaseLines.id, back.lineId))
  const item = await loadMeasuredItem(tx, line!.itemId)
  const quantity = ratio(back.quantity)
  const parts = await matchLine(tx, line!, item, { quantity, amount: back.expected }, 'quantity').catch(
    (error: unknown) => {
      throw error instanceof Refusal
        ? new Refusal('not-now', `What replaces ${back.number} has not come yet. Receive it on ${order.number} first.`)
        : error
    },
  )
  const postingId = await postInvoice(tx, actor, order, {
    what: 'Replacement of',
    number: back.number,
    invoicedOn: actor.today,
  })
  const { number } = back
  const id = await insertInvoice(tx, {
    kind: 'replacement',
    number,
    invoicedOn: actor.today,
    postingId,
    returnId,
    supplierId: order.supplierId,
  })
  await insertParts(tx, id, parts)
  await writeReturnEntries(tx, postingId, actor.today, parts)
  const moveIds = [...new Set(parts.map((part) => part.moveId))]
  const revalued = await passOn(tx, postingId, moveIds, closed)
  await noteChange(tx, actor, { kind: 'purchase order', id: order.id }, null, { replaced: number })
  return { id, postingId, revalued }
}

/** Which item went back, and from which site. */
export async function goodsOf(tx: Tx, { postingId }: SupplierReturn): Promise<{ itemId: number; site: number }> {
  const [goods] = await rows<{ itemId: number; site: number }>(
    tx,
    sql`
      select m.item_id as "itemId", p.site_id as site
      from moves m
      join places p on p.id = m.from_place_id
      where m.posting_id = ${postingId}
      limit 1`,
  )
  return goods!
}

/** Errors: `not-found`; `not-now` where it was taken back, or the supplier has given for it what is expected. */
async function requireUnsettled(tx: Tx, id: number): Promise<SupplierReturn> {
  const [back] = await tx.select().from(supplierReturns).where(eq(supplierReturns.id, id)).for('update')
  if (!back) {
    throw new Refusal('not-found', 'There is no such return.')
  }
  const [settled] = await rows<{ kind: string; number: string }>(
    tx,
    sql`select kind, number from supplier_invoices where return_id = ${id} and cancelled_id is null limit 1`,
  )
  if (back.isReversed || settled) {
    throw new Refusal(
      'not-now',
      back.isReversed ? `${back.number} was taken back.` : `${back.number} is settled already: ${settled!.kind}.`,
    )
  }
  return back
}
