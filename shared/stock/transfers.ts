import * as z from 'zod'
import { Day, Id, Key, Lines, LotNumber, Note, Typed, Unit, Version } from '../primitives'
import { PieceLabel } from './requests'
import { REASONS } from './words'

const Line = z.object({ itemId: Id, quantity: Typed, unit: Unit })
export const NewTransfer = z.object({
  key: Key,
  fromSiteId: Id,
  toSiteId: Id,
  leavesOn: Day,
  dueOn: z.union([Day, z.literal('').transform(() => null), z.null()]).default(null),
  note: Note,
  lines: Lines(Line),
})
export type NewTransfer = z.infer<typeof NewTransfer>
/** What leaves, line by line; where no bin is given, the picking order says where from. */
export const ShipTransfer = z.object({
  key: Key,
  version: Version,
  lines: z
    .array(
      z.object({
        lineId: Id,
        quantity: Typed,
        unit: Unit,
        binId: z.union([z.literal('').transform(() => null), z.null(), Id]).default(null),
        lot: LotNumber,
        piece: PieceLabel,
      }),
    )
    .min(1, 'Give the quantity of at least one line.'),
})
export type ShipTransfer = z.infer<typeof ShipTransfer>
export const ReceiveTransfer = z.object({
  key: Key,
  version: Version,
  lines: z
    .array(
      z.object({
        lineId: Id,
        lotId: z.number().int().nullable().default(null),
        pieceId: z.number().int().nullable().default(null),
        quantity: Typed,
        unit: Unit,
        binId: Id,
      }),
    )
    .min(1, 'Give the quantity of at least one line.'),
})
export type ReceiveTransfer = z.infer<typeof ReceiveTransfer>
/** What left and will not come. */
export const LoseTransfer = z.object({
  key: Key,
  version: Version,
  reason: z.enum(REASONS, 'Choose a reason.').default('lost on the way'),
  lines: z
    .array(
      z.object({
        lineId: Id,
        lotId: z.number().int().nullable().default(null),
        pieceId: z.number().int().nullable().default(null),
        quantity: Typed,
        unit: Unit,
      }),
    )
    .min(1),
})
export type LoseTransfer = z.infer<typeof LoseTransfer>
/** Goods that are carried over at once. */
export const TransferAtOnce = NewTransfer.extend({
  lines: Lines(Line.extend({ toBinId: Id })),
})
export type TransferAtOnce = z.infer<typeof TransferAtOnce>
export const EndTransfer = z.object({ version: Version })
