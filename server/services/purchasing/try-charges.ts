import type { Tx } from '~~/server/database/client'
import type { ChargedGoods } from '~~/shared/purchasing/answers'
import type { TriedInvoice } from '~~/shared/purchasing/requests'
import { lockDocument } from '../../documents'
import { shareCharges } from './invoice-charges'
import { chargedGoods, chargesOf, partsOf } from './invoices'

/** What an invoice's charges would come to for each of the goods. Errors: as for the invoice itself. */
export async function tryCharges(tx: Tx, orderId: number, edit: TriedInvoice): Promise<ChargedGoods[]> {
  const order = await lockDocument(tx, 'purchase order', orderId)
  const parts = await partsOf(tx, order, edit.lines)
  const goods = await chargedGoods(tx, orderId, edit.moveIds, parts)
  const charges = await chargesOf(tx, order, edit, edit.supplierId ?? order.supplierId)
  const shares = await shareCharges(tx, charges, goods)
  return goods.map((entry, place) => ({
    ...entry,
    charged: shares.reduce((sum, share) => sum + share[place]!, 0n).toString(),
  }))
}
