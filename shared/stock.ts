import { z } from 'zod'
import { Id, Key, LotNumber, OptionalDay, Page, Typed, Unit } from './primitives'

export const REASONS = ['damage', 'miscount', 'sample', 'theft', 'expired', 'found', 'opening stock'] as const
export const Correction = z.object({
  key: Key, itemId: Id, binId: Id, lot: LotNumber, direction: z.enum(['more', 'less'], 'Say whether it is more or less.'), quantity: Typed, unit: Unit,
  reason: z.enum(REASONS, 'Choose a reason.'), unitCost: z.string().trim().regex(/^(\d+(\.\d{1,6})?)?$/, 'Write a cost such as 12.50, or leave it empty.').default(''), expiresOn: OptionalDay.default(null),
})
export type Correction = z.infer<typeof Correction>
export const MoveStock = z.object({ key: Key, itemId: Id, fromBinId: Id, toBinId: Id, lot: LotNumber, quantity: Typed, unit: Unit })
export type MoveStock = z.infer<typeof MoveStock>
export const Reverse = z.object({ key: Key })
const OptionalId = z.union([z.literal('').transform(() => null), z.null(), Id]).default(null)
export const StockQuery = Page.extend({ item: OptionalId, bin: OptionalId })
