import { z } from 'zod'
import { Decimal, Id, Note, Typed, Version } from './primitives'

const unit = z.string('Choose a unit.').min(1, 'Choose a unit.')
export const BomLine = z.object({
  itemId: Id, quantity: Typed, unit, basis: z.enum(['per batch', 'per build']).default('per batch'),
  scrapPercent: Decimal('the scrap').default('0').refine(t => Number(t) < 100, 'Scrap is below 100 %.'), note: z.string().trim().max(300).default(''),
})
export const BomEdit = z.object({
  batchSize: Typed, batchUnit: unit, yieldPercent: Decimal('the yield').default('100').refine(t => Number(t) > 0 && Number(t) <= 100, 'The yield lies above 0 and up to 100 %.'),
  workMinutes: Decimal('the minutes').default('0'), workRate: Decimal('the rate').default('0'), note: Note,
  lines: z.array(BomLine).min(1, 'Add at least one component.'), version: Version.nullable(),
})
export type BomEdit = z.infer<typeof BomEdit>

export const RecipeEdit = z.object({
  take: Typed, unit, note: Note, version: Version.nullable(),
  outputs: z.array(z.object({ itemId: Id, quantity: Typed, unit, share: Decimal('the share').default('1') })).min(1, 'Add at least one output.'),
})
export const ExplodeQuery = z.object({ quantity: Typed.default('1'), unit: z.string().default('') })
