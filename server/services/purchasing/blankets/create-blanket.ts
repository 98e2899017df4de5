import { eq } from 'drizzle-orm'
import type { Given } from '~~/core/units/quantity'
import type { Tx } from '~~/server/database/client'
import { blanketLines, blanketOrders, suppliers } from '~~/server/database/schema'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewBlanket } from '~~/shared/purchasing/blankets'
import { lockAsSeen, nextNumber, noteChange, saveDocument } from '../../../documents'
import { readItemLines } from '../order-lines'

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
  const read = await readItemLines(tx, edit.lines)
  const lines = read.map((line, index) => ({ ...line, price: edit.lines[index]!.price }))
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
