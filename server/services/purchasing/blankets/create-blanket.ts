import { eq } from 'drizzle-orm'
import type { Given } from '~~/core/units/quantity'
import type { Tx } from '~~/server/database/client'
import { blanketLines, blanketOrders, suppliers } from '~~/server/database/schema'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewBlanket } from '~~/shared/purchasing/blankets'
import { lockAsSeen, nextNumber, noteChange, saveDocument } from '../../../documents'
import { asNumeric, loadMeasuredItems, readQuantity, requireUsable } from '../../catalogue/measured-items'

type Edit = Omit<Given<NewBlanket>, 'key'>

/** Notes what is agreed with a supplier over a period. Errors: `invalid-input` beside the field. */
export async function createBlanket(tx: Tx, actor: Actor, edit: Edit): Promise<{ id: number; number: string }> {
  const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, edit.supplierId))
  if (!supplier || supplier.retired) {
    refuseField('supplierId', supplier ? `${supplier.name} is retired. Choose another.` : 'Choose a supplier.')
  }
  if (edit.untilOn < edit.fromOn) {
    refuseField('untilOn', 'It ends before it begins.')
  }
  const items = await loadMeasuredItems(
    tx,
    edit.lines.map((line) => line.itemId),
  )
  const lines = edit.lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      return refuseField(`lines.${index}.itemId`, 'Choose an item.')
    }
    requireUsable(item, `lines.${index}.itemId`, 'buy')
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    return {
      line: index + 1,
      itemId: item.id,
      entered: read.entered,
      unit: read.unit,
      price: line.price,
      quantity: asNumeric(read.quantity),
    }
  })
  const number = await nextNumber(tx, 'BO')
  const { supplierId, reference, fromOn, untilOn, note } = edit
  const [made] = await tx
    .insert(blanketOrders)
    .values({ number, supplierId, reference, fromOn, untilOn, note })
    .returning({ id: blanketOrders.id })
  await tx.insert(blanketLines).values(lines.map((line) => ({ ...line, blanketId: made!.id })))
  await noteChange(tx, actor, { kind: 'blanket order', id: made!.id }, null, edit)
  return { id: made!.id, number }
}

/** Nothing more is called off from it, or something is again. Errors: `stale-version`. */
export async function endBlanket(
  tx: Tx,
  actor: Actor,
  id: number,
  version: number,
): Promise<{ id: number; version: number }> {
  const blanket = await lockAsSeen(tx, 'blanket order', id, version)
  const status = blanket.status === 'open' ? 'ended' : 'open'
  return { id, ...(await saveDocument(tx, actor, 'blanket order', blanket, { set: { status } })) }
}
