import * as z from 'zod'
import { Id } from '../primitives'
import { unit } from './fields'
import { LABEL_SHEETS, SYMBOLOGIES } from './words'

/** Labels printed at once. */
const MOST = 2000
const TOO_MANY = 'At most 2 000 labels are printed at once. Choose fewer, and print the others after them.'
const Copies = z.coerce
  .number('Give how many.')
  .int('Give a whole number.')
  .min(1, 'At least one.')
  .max(MOST, `At most ${MOST}.`)
const areFew = (things: readonly { readonly copies: number }[]): boolean =>
  things.reduce((sum, { copies }) => sum + copies, 0) <= MOST

export const PrintLabels = z.object({
  symbology: z.enum(SYMBOLOGIES, 'Choose a kind of barcode.'),
  sheet: z.enum(LABEL_SHEETS, 'Choose the labels.'),
  skip: z.coerce.number().int().min(0).max(23).default(0),
  items: z
    .array(
      z.object({
        id: Id,
        unit,
        copies: Copies,
      }),
    )
    .min(1, 'Choose at least one item.')
    .refine(areFew, TOO_MANY),
})

export type PrintLabels = z.output<typeof PrintLabels>

export const PrintLotLabels = z.object({
  symbology: z.enum(['Code 128', 'QR'], 'Choose a kind of barcode.'),
  sheet: z.enum(LABEL_SHEETS, 'Choose the labels.'),
  skip: z.coerce.number().int().min(0).max(23).default(0),
  things: z
    .array(
      z.object({
        lotId: Id.nullable().default(null),
        pieceId: Id.nullable().default(null),
        copies: Copies.default(1),
      }),
    )
    .min(1, 'Choose at least one.')
    .refine(areFew, TOO_MANY),
})

export type PrintLotLabels = z.output<typeof PrintLotLabels>
