import * as z from 'zod'
import { STOCK_STATUSES } from '~~/core/stock'
import { Day, Id, Key, LotNumber, Note, OptionalDay, OptionalId, Page, Text, Typed, Unit, Version } from '../primitives'
import { REASONS } from './words'

export const UnitCost = z
  .string()
  .trim()
  .regex(/^(\d+(\.\d{1,6})?)?$/, 'Write a cost such as 12.50, or leave it empty.')
  .default('')
/** What was recorded of a lot or piece, by the trait's name. */
export type TraitValues = Readonly<Record<string, string>>
export const Traits = z
  .record(z.string(), z.string().trim().max(200, 'Keep it to 200 characters.'))
  .default({})
  .transform((traits): TraitValues => Object.fromEntries(Object.entries(traits).filter(([, value]) => value !== '')))
/** `dye lot = 77; thickness = 1.2` as values by name; null where it cannot be read. */
export function readTraits(text: string): Record<string, string> | null {
  const parts = text
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => part.split('=').map((side) => side.trim()))
  return parts.every((part) => part.length === 2 && part[0] !== '' && part[1] !== '')
    ? (Object.fromEntries(parts) as Record<string, string>)
    : null
}
export const PieceLabel = z.string().trim().max(60, 'Keep a label to 60 characters.').default('')
const Status = z.enum(STOCK_STATUSES, 'Choose a status.').default('available')
/** The day on which it happened; empty is today. */
export const EffectiveOn = z.union([Day, z.literal('').transform(() => null), z.null()]).default(null)

export const Correction = z.object({
  key: Key,
  itemId: Id,
  binId: Id,
  lot: LotNumber,
  piece: PieceLabel,
  status: Status,
  direction: z.enum(['more', 'less'], 'Say whether it is more or less.'),
  quantity: Typed,
  unit: Unit,
  reason: z.enum(REASONS, 'Choose a reason.'),
  unitCost: UnitCost,
  expiresOn: OptionalDay.default(null),
  traits: Traits,
  effectiveOn: EffectiveOn,
  note: z.string().trim().max(200, 'Keep it to 200 characters.').default(''),
})
export type Correction = z.infer<typeof Correction>
export const MoveStock = z.object({
  key: Key,
  itemId: Id,
  fromBinId: Id,
  toBinId: Id,
  lot: LotNumber,
  piece: PieceLabel,
  status: Status,
  toStatus: z.union([z.enum(STOCK_STATUSES), z.literal('')]).default(''),
  quantity: Typed,
  unit: Unit,
  effectiveOn: EffectiveOn,
})
export type MoveStock = z.infer<typeof MoveStock>
export const SplitPiece = z.object({
  key: Key,
  parts: z
    .array(z.object({ quantity: Typed, unit: Unit, label: PieceLabel, binId: OptionalId }))
    .min(1, 'Give at least one length.')
    .max(200),
})
export type SplitPiece = z.infer<typeof SplitPiece>
export const LotEdit = z.object({
  version: Version,
  supplierNumber: z.string().trim().max(60).default(''),
  madeOn: OptionalDay,
  receivedOn: OptionalDay,
  expiresOn: OptionalDay,
  bestBeforeOn: OptionalDay,
  traits: Traits,
  note: Note,
})
export type LotEdit = z.infer<typeof LotEdit>
export const PieceEdit = z.object({ version: Version, label: Text('a label', 60), traits: Traits, note: Note })
export type PieceEdit = z.infer<typeof PieceEdit>
export const Reverse = z.object({ key: Key })

/** A layer as it is stored: its move, its day, its turn, quantity and value in minor units. */
export interface HeldLayer {
  readonly origin: string
  readonly on: string
  readonly at: number
  readonly quantity: string
  readonly value: string
}

export const LotQuery = Page.extend({
  item: OptionalId,
  group: OptionalId,
  trait: z.string().trim().default(''),
  value: z.string().trim().default(''),
  expiresBy: z.union([Day, z.literal('').transform(() => null), z.null()]).default(null),
  held: z.enum(['', 'yes']).default('yes'),
})
export const StockQuery = Page.extend({
  item: OptionalId,
  bin: OptionalId,
  site: OptionalId,
  group: OptionalId,
  lot: OptionalId,
  piece: OptionalId,
  posting: OptionalId,
  status: z.union([z.enum([...STOCK_STATUSES, 'on the way']), z.literal('')]).default(''),
  trait: z.string().trim().default(''),
  value: z.string().trim().default(''),
  asOf: z.union([Day, z.literal('').transform(() => null), z.null()]).default(null),
})
export type StockQuery = z.output<typeof StockQuery>
export const SiteQuery = Page.extend({
  item: OptionalId,
  site: OptionalId,
  group: OptionalId,
  short: z.enum(['', 'yes']).default(''),
})
export const PutAwayQuery = z.object({
  items: z
    .string()
    .default('')
    .transform((text) =>
      text
        .split(',')
        .map(Number)
        .filter((id) => Number.isInteger(id) && id > 0),
    ),
  site: OptionalId,
})
export const TraceQuery = z.object({ direction: z.enum(['back', 'forward']) })

/** What a stock count covers. */
export interface CountScope {
  readonly kind: 'everything' | 'places' | 'groups' | 'items' | 'due'
  readonly siteId: number | null
  readonly binIds: readonly number[]
  readonly groupIds: readonly number[]
  readonly itemIds: readonly number[]
  readonly withNone: boolean
}
