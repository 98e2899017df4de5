import * as z from 'zod'
import {
  Day,
  Decimal,
  Id,
  Key,
  LotNumber,
  Note,
  OptionalDay,
  OptionalId,
  Page,
  Typed,
  Unit,
  Version,
} from '../primitives'
import { EffectiveOn, PieceLabel } from '../stock/requests'
import { SCRAP_REASONS } from './words'

export const BUILD_STATES = ['draft', 'ready', 'started', 'done', 'cancelled'] as const
export type BuildState = (typeof BUILD_STATES)[number]
/** A build that something is still to be done about. */
export const OPEN_BUILD: readonly BuildState[] = ['draft', 'ready', 'started']

const Minutes = z.union([z.literal('').transform(() => null), z.null(), Decimal('the minutes')]).default(null)

export const NewBuild = z.object({
  key: Key,
  itemId: Id,
  quantity: Typed,
  unit: Unit,
  dueOn: Day,
  siteId: OptionalId,
  note: Note,
  salesLineId: OptionalId,
})
export const BuildEdit = z.object({
  version: Version,
  quantity: Typed,
  unit: Unit,
  dueOn: Day,
  note: Note,
  /** What this job takes; without it, what the bill says. */
  lines: z
    .array(z.object({ id: OptionalId, itemId: Id, forItemId: OptionalId, quantity: Typed, unit: Unit }))
    .max(2000)
    .optional(),
})
export type BuildEdit = z.output<typeof BuildEdit>
export const SubstituteEdit = z.object({ version: Version, lineId: Id, itemId: Id, quantity: Typed, unit: Unit })
/** Whole: only where everything is there; else what is there is set aside, and the build stays a draft. */
export const ReadyBuild = z.object({ version: Version, whole: z.boolean().default(true) })

const Use = z.object({
  lineId: Id,
  quantity: Typed,
  unit: Unit,
  /** The goods chosen; without it, what is set aside, then the picking order. */
  balanceId: OptionalId,
  /** Why it was spoiled; empty where it went into what was made. */
  scrap: z.union([z.enum(SCRAP_REASONS, 'Choose a reason.'), z.literal('')]).default(''),
})
export const RecordBuild = z.object({
  key: Key,
  version: Version,
  made: Typed,
  unit: Unit,
  binId: Id,
  lot: LotNumber,
  expiresOn: OptionalDay.default(null),
  pieces: z
    .array(z.object({ quantity: Typed, label: PieceLabel }))
    .max(500)
    .default([]),
  /** What was used; a line that is not named is taken by the bill. */
  uses: z.array(Use).max(2000).default([]),
  byProducts: z
    .array(z.object({ itemId: Id, quantity: Typed, unit: Unit }))
    .max(50)
    .default([]),
  minutes: Minutes,
  effectiveOn: EffectiveOn,
  /** Nothing more will come of it. */
  finished: z.boolean().default(false),
  /** Sub-assemblies that are missing are built beside it. */
  withSubAssemblies: z.boolean().default(false),
})
export type RecordBuild = z.output<typeof RecordBuild>
export const CloseBuild = z.object({ key: Key, version: Version })
export const UndoBuild = z.object({ key: Key, version: Version })
export const Unkit = z.object({
  key: Key,
  itemId: Id,
  balanceId: Id,
  quantity: Typed,
  unit: Unit,
  binId: Id,
  /** Parts that come back damaged: kept as damaged goods, or thrown away. */
  damaged: z
    .array(z.object({ itemId: Id, quantity: Typed, unit: Unit, away: z.boolean().default(false) }))
    .max(200)
    .default([]),
})
export type Unkit = z.output<typeof Unkit>
export const NewBreakDown = z.object({
  key: Key,
  itemId: Id,
  recipeId: Id.optional(),
  times: z.coerce
    .number('Give how many times.')
    .int('Give a whole number of times.')
    .min(1, 'At least once.')
    .max(100_000, 'That is too often.'),
  dueOn: Day,
  siteId: OptionalId,
})
export const CompleteBreakDown = z.object({
  key: Key,
  version: Version,
  binId: Id,
  /** The goods chosen; without it, the picking order. */
  balanceId: OptionalId,
  /** The outputs get a lot number of their own, the job's; they always point back to what they came from. */
  ownLots: z.boolean().default(false),
  /** What really came out; what is not named came as the recipe says. */
  outputs: z
    .array(z.object({ itemId: Id, quantity: Typed, unit: Unit }))
    .max(100)
    .default([]),
})
export type CompleteBreakDown = z.output<typeof CompleteBreakDown>
export const CancelJob = z.object({ version: Version })
export const JobQuery = Page.extend({
  state: z.enum(['', 'open', ...BUILD_STATES]).default('open'),
  kind: z.enum(['', 'build', 'kit packing', 'break-down']).default(''),
})
