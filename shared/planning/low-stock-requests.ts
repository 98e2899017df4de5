import * as z from 'zod'
import { Key } from '../primitives'

export const LowStockSettings = z.object({
  aheadDays: z.coerce
    .number('Give working days.')
    .int('Give whole working days.')
    .min(0, 'Not below zero.')
    .max(60, 'Sixty at most.'),
  mail: z.boolean(),
})
export const LookAgain = z.object({ key: Key })
export type LowStockSettings = z.output<typeof LowStockSettings>
