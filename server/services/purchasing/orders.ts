import { eq, sql } from 'drizzle-orm'
import { ratio } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines, purchaseOrders, suppliers } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewPurchaseOrder } from '~~/shared/purchasing/requests'
import { checkTerms, KEPT } from './check-terms'
import { linesToOrder, requireSite } from './order-lines'
import { paidIn } from './paid-in'
import { nextNumber, noteChange } from '../../documents'

type Optional = 'paymentTerms' | 'deliveryTerms' | 'number' | 'charges'
type Draft = Omit<NewPurchaseOrder, 'key' | 'lines' | Optional> &
  Partial<Pick<NewPurchaseOrder, Optional>> & {
    readonly lines: readonly DraftLine[]
    readonly orderedOn?: string
    readonly directOrderId?: number | null
  }
type DraftLine = Omit<NewPurchaseOrder['lines'][number], 'discount'> &
  Partial<Pick<NewPurchaseOrder['lines'][number], 'discount'>>

/** Orders from one supplier. Quantities in any unit of the item; prices for one of the line's unit. */
export async function createPurchase(
  tx: Tx,
  actor: Actor,
  edit: Given<Draft>,
): Promise<{ id: number; number: string }> {
  const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, edit.supplierId))
  if (!supplier) {
    throw new Refusal('invalid-input', 'Choose a supplier.', { supplierId: 'Choose a supplier.' })
  }
  if (supplier.retired) {
    refuseField(
      'supplierId',
      `${supplier.name} is retired. Choose another supplier, or make it active again in the Catalogue.`,
    )
  }
  await requireSite(tx, edit.siteId ?? null)
  const orderedOn = edit.orderedOn ?? actor.today
  const paid = await paidIn(tx, supplier, orderedOn)
  const lines = await linesToOrder(tx, edit.lines, orderedOn, actor.today)
  const number = await numberOf(tx, edit.number ?? '')
  const [order] = await tx
    .insert(purchaseOrders)
    .values({
      number,
      supplierId: edit.supplierId,
      siteId: edit.siteId ?? null,
      directOrderId: edit.directOrderId ?? null,
      orderedOn,
      note: edit.note,
      paymentTerms: edit.paymentTerms || supplier.paymentTerms,
      deliveryTerms: edit.deliveryTerms ?? '',
      charges: edit.charges ?? [],
      ...paid,
    })
    .returning()
  await tx.insert(purchaseLines).values(lines.map((line, index) => ({ ...line, line: index + 1, orderId: order!.id })))
  const kept = await checkTerms(
    tx,
    edit.supplierId,
    orderedOn,
    lines.map((line) => ({ ...line, quantity: ratio(line.quantity) })),
  )
  await noteChange(tx, actor, { kind: 'purchase order', id: order!.id }, null, {
    ...edit,
    ...(kept.length > 0 && { [KEPT]: kept.map((concern) => concern.detail) }),
  })
  return { id: order!.id, number }
}

/** The number that somebody gives it, or the next one that is free. Errors: `invalid-input` where it is taken. */
async function numberOf(tx: Tx, given: string): Promise<string> {
  if (given === '') {
    return nextFree(tx)
  }
  if (await isTaken(tx, given)) {
    refuseField('number', `There is a purchase order ${given} already. Give another number, or leave it empty.`)
  }
  return given
}

async function nextFree(tx: Tx): Promise<string> {
  const number = await nextNumber(tx, 'PO')
  return (await isTaken(tx, number)) ? nextFree(tx) : number
}

const isTaken = async (tx: Tx, number: string): Promise<boolean> =>
  (await rows(tx, sql`select 1 from purchase_orders where lower(number) = lower(${number})`)).length > 0
