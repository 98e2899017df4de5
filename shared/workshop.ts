import { z } from 'zod'
import { Day, Id, Key, LotNumber, OptionalDay, Typed, Unit, Version } from './primitives'

export const NewBuild = z.object({ key: Key, itemId: Id, quantity: Typed, unit: Unit, dueOn: Day })
export const CompleteBuild = z.object({ key: Key, version: Version, binId: Id, lot: LotNumber, expiresOn: OptionalDay.default(null) })
export const NewBreakDown = z.object({ key: Key, itemId: Id, recipeId: Id.optional(), times: z.coerce.number('Give how many times.').int('Give a whole number of times.').min(1, 'At least once.').max(100_000, 'That is too often.'), dueOn: Day })
export const CompleteBreakDown = z.object({ key: Key, version: Version, binId: Id })
export const CancelJob = z.object({ version: Version })
export type CompleteBuild = z.infer<typeof CompleteBuild>
