import * as z from 'zod'
import { Id } from '../primitives'
import { unit } from './fields'
import { LABEL_SHEETS, SYMBOLOGIES } from './words'

export const PrintLabels = z.object({
  symbology: z.enum(SYMBOLOGIES, 'Choose a kind of barcode.'),
  sheet: z.enum(LABEL_SHEETS, 'Choose the labels.'),
  skip: z.coerce.number().int().min(0).max(23).default(0),
  items: z
    .array(
      z.object({
        id: Id,
        unit,
        copies: z.coerce
          .number('Give how many.')
          .int('Give a whole number.')
          .min(1, 'At least one.')
          .max(500, 'At most 500.'),
      }),
    )
    .min(1, 'Choose at least one item.')
    .max(2000),
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
        copies: z.coerce
          .number('Give how many.')
          .int('Give a whole number.')
          .min(1, 'At least one.')
          .max(500, 'At most 500.')
          .default(1),
      }),
    )
    .min(1, 'Choose at least one.')
    .max(2000),
})

export type PrintLotLabels = z.output<typeof PrintLotLabels>
