import * as z from 'zod'
import { Text } from '../primitives'

/** Freight, setting-up and the like, in the currency of the document that it stands on: a decimal. */
export const NamedAmount = z.object({
  name: Text('what it is for', 60),
  amount: z
    .string('Give an amount.')
    .trim()
    .regex(/^\d{1,12}(\.\d{1,2})?$/, 'Write an amount such as 230.00.'),
})
export type NamedAmount = z.output<typeof NamedAmount>
export const NamedAmounts = z.array(NamedAmount).max(20, 'Keep it to 20 charges.').default([])
