import * as z from 'zod'
import { typedQuantity } from '~~/core/units/quantity'
import { Day, Id, Key, Note, Typed, Unit, Version } from '../primitives'

const Wanted = z.object({
  job: z.string().trim().max(60, 'Keep a job’s name to 60 characters.').default(''),
  quantity: Typed,
  unit: Unit,
  count: z.coerce
    .number('Give how many.')
    .int('Give a whole number.')
    .min(1, 'At least one.')
    .max(10_000, 'That is too many.'),
})
const Length = Typed.transform((text) => (text === '' ? typedQuantity('0') : text))
export const NewCutting = z.object({ key: Key, itemId: Id, siteId: Id, dueOn: Day, note: Note })
export const CuttingEdit = z.object({
  version: Version,
  dueOn: Day,
  note: Note,
  kerf: Length,
  kerfUnit: Unit,
  keep: Length,
  keepUnit: Unit,
  oneLot: z.boolean(),
  wanted: z.array(Wanted).max(1000, 'Keep a job to 1 000 kinds of lengths.'),
  plan: z.union([
    z.null(),
    z.object({
      bound: z.string(),
      isExact: z.boolean(),
      cuts: z.array(z.object({ pieceId: Id, parts: z.array(z.number().int().min(0)).max(10_000) })).max(5000),
    }),
  ]),
})
export type CuttingEdit = z.output<typeof CuttingEdit>
export const AcceptCutting = z.object({ key: Key, version: Version, binId: z.union([Id, z.null()]).default(null) })

/** A length that is wanted: as it was typed, and in the stock unit. */
export interface WantedCut {
  readonly job: string
  readonly entered: string
  readonly unit: string
  readonly quantity: string
  readonly count: number
}
/**
 * Which piece gives which lengths, by their places in what is wanted; and the least that can be used up, in the stock
 * unit.
 */
export interface CutPlan {
  readonly cuts: readonly { readonly pieceId: number; readonly parts: readonly number[] }[]
  readonly bound: string
  readonly isExact: boolean
}
/** A piece that may be cut. */
export interface CutStock {
  readonly pieceId: number
  readonly label: string
  readonly lotId: number | null
  readonly lot: string | null
  readonly traits: Readonly<Record<string, string>>
  readonly binId: number
  readonly bin: string
  readonly free: string
}
export interface CuttingAnswer {
  readonly id: number
  readonly number: string
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly siteId: number
  readonly site: string
  readonly dueOn: string
  readonly status: string
  readonly note: string
  readonly version: number
  readonly unit: string
  readonly symbol: string
  readonly decimals: number
  readonly finestStep: string
  readonly kerf: string
  readonly keep: string
  readonly oneLot: boolean
  readonly wanted: readonly WantedCut[]
  readonly plan: CutPlan | null
  readonly stock: readonly CutStock[]
  readonly postings: readonly {
    readonly id: number
    readonly label: string
    readonly effectiveOn: string
    readonly who: string
    readonly reversed: boolean
    readonly reversal: boolean
    readonly isReversible: boolean
  }[]
  readonly made: readonly {
    readonly pieceId: number
    readonly label: string
    readonly quantity: string
    readonly note: string
    readonly lot: string | null
    readonly from: string
  }[]
}
export interface CuttingRow {
  readonly id: number
  readonly number: string
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly dueOn: string
  readonly status: string
  readonly lengths: number
  readonly jobs: string
}
