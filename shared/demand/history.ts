import * as z from 'zod'
import { STEPS } from '~~/core/calendar/periods'
import { Day, Decimal, Id, Note } from '../primitives'

const Choice = z
  .union([Id, z.literal('').transform(() => null)])
  .nullable()
  .default(null)
/** Sales of an item, a group or everything, to one customer or all, from one site or all. */
export const HistoryQuery = z.object({
  itemId: Choice,
  groupId: Choice,
  customerId: Choice,
  siteId: Choice,
  step: z.enum(STEPS).default('month'),
})
export type HistoryQuery = z.output<typeof HistoryQuery>

export const NewCorrection = z
  .object({ itemId: Id, firstOn: Day, lastOn: Day, quantity: Decimal('a quantity'), reason: Note })
  .refine((c) => c.lastOn >= c.firstOn, { path: ['lastOn'], error: 'It ends before it begins.' })
export const NewBorrowing = z.object({
  itemId: Id,
  fromItemId: Id,
  percent: Decimal('a percentage').refine(
    (text) => Number(text) > 0 && Number(text) <= 1000,
    'Give a percentage between 0 and 1 000.',
  ),
  untilOn: Day,
})

/**
 * A period's sales: units where they can be added, money in minor units. `cost` is null where it is not known of all of
 * it.
 */
export interface SoldPeriod {
  readonly first: string
  readonly last: string
  readonly quantity: string | null
  readonly value: string
  readonly cost: string | null
}
export interface HistoryAnswer {
  readonly periods: readonly SoldPeriod[]
  readonly symbol: string | null
  readonly corrections: readonly {
    readonly id: number
    readonly firstOn: string
    readonly lastOn: string
    readonly quantity: string
    readonly reason: string
    readonly who: string
  }[]
  readonly borrowing: {
    readonly fromItemId: number
    readonly code: string
    readonly percent: string
    readonly untilOn: string
  } | null
  readonly lentTo: readonly {
    readonly itemId: number
    readonly code: string
    readonly percent: string
    readonly untilOn: string
  }[]
}
