import { z } from 'zod'
import { Day, Id, Key, LotNumber, Note, OptionalDay, Price, Typed, Unit, Version } from './primitives'

export const PurchaseLineEdit = z.object({ itemId: Id, quantity: Typed, unit: Unit, price: Price, dueOn: Day })
export const NewPurchaseOrder = z.object({ key: Key, supplierId: Id, note: Note, lines: z.array(PurchaseLineEdit).min(1, 'Add at least one line.') })
export type NewPurchaseOrder = z.infer<typeof NewPurchaseOrder>
export const Receive = z.object({
  key: Key, version: Version, packingList: z.string().trim().max(80, 'Keep it to 80 characters.').default(''),
  lines: z.array(z.object({ lineId: Id, quantity: Typed, unit: Unit, binId: Id, lot: LotNumber, expiresOn: OptionalDay.default(null) })).min(1, 'Give the quantity of at least one line.'),
})
export type Receive = z.infer<typeof Receive>
export const CloseShort = z.object({ version: Version, lineId: Id, open: z.boolean().default(false) })
