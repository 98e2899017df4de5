import * as z from 'zod'
import { Day, Decimal, Id, Key, Note, Text, Version } from '../primitives'
import { ALL_OF_IT, DEMAND_RULES } from './words'

const days = (what: string, most = 730) =>
  z.coerce
    .number(`Give ${what}.`)
    .int('Give whole days.')
    .min(0, 'Give no days below zero.')
    .max(most, 'That is too many days.')

/** What counts in a plan, and how. An empty list of sites is all of them. */
export const PlanScope = z
  .object({
    sites: z.array(Id).max(200).default([]),
    /** Whether all of them plan as one stock; else only those that a way of no days joins do. */
    sitesAsOne: z.boolean().default(false),
    purchases: z.boolean().default(true),
    builds: z.boolean().default(true),
    transfers: z.boolean().default(true),
    items: z.enum(['all', 'groups', 'product'], 'Choose which items are planned.').default('all'),
    of: z.array(Id).max(200).default([]),
    makingHeedsCalendar: z.boolean().default(true),
    buyingHeedsCalendar: z.boolean().default(true),
    keepSafety: z.boolean().default(true),
    pullIn: z.boolean().default(true),
    backDays: days('days').default(0),
    aheadDays: days('days').default(0),
    longestLeadDays: z.union([z.literal('').transform(() => null), z.null(), days('working days')]).default(null),
  })
  .superRefine((scope, context) => {
    if (scope.items !== 'all' && scope.of.length === 0) {
      context.addIssue({
        code: 'custom',
        path: ['of'],
        message: scope.items === 'groups' ? 'Choose at least one group.' : 'Choose the product.',
      })
    }
  })
export type PlanScope = z.output<typeof PlanScope>

const Percent = z.coerce
  .number('Give per cent.')
  .min(-100, 'Nothing is left below −100 %.')
  .max(10_000, 'That is more than a hundredfold.')
const optionalId = z.union([z.literal('').transform(() => null), z.null(), Id]).default(null)
/** One change that a plan tries out; what it is about is an item, a group of items, a supplier, or everything. */
export const WhatIfEdit = z.discriminatedUnion(
  'kind',
  [
    z.object({ kind: z.literal('demand'), percent: Percent, itemId: optionalId, groupId: optionalId }),
    z.object({
      kind: z.literal('more demand'),
      itemId: Id,
      quantity: Decimal('a quantity').refine((text) => /[1-9]/.test(text), 'Give a quantity above zero.'),
      day: Day,
    }),
    z.object({ kind: z.literal('lead time'), days: days('working days'), itemId: optionalId, supplierId: optionalId }),
    z.object({ kind: z.literal('supplier out'), supplierId: Id }),
    z.object({ kind: z.literal('price'), percent: Percent, itemId: optionalId, supplierId: optionalId }),
    z.object({
      kind: z.literal('batch'),
      itemId: Id,
      quantity: Decimal('a quantity').refine((text) => /[1-9]/.test(text), 'Give a quantity above zero.'),
    }),
  ],
  'Choose what is to change.',
)
export type WhatIfEdit = z.output<typeof WhatIfEdit>

const PlanFields = z.object({
  name: Text('a name', 80),
  note: Note,
  endsOn: Day,
  forecastFalls: z.enum(['first day', 'spread'], 'Choose where in its week a forecast falls.').default('first day'),
  demandRule: z.enum(DEMAND_RULES, 'Choose how orders and forecast are joined.').default('larger'),
  forecastIds: z.array(Id).max(20).default([]),
  scope: PlanScope.default(ALL_OF_IT),
  changes: z.array(WhatIfEdit).max(100).default([]),
})
type Fields = z.output<typeof PlanFields>
const sound = (
  { demandRule, forecastIds }: Pick<Fields, 'demandRule' | 'forecastIds'>,
  context: z.RefinementCtx,
): void => {
  if (demandRule === 'forecast only' && forecastIds.length === 0) {
    context.addIssue({
      code: 'custom',
      path: ['forecastIds'],
      message: 'Nothing would be planned: choose a forecast, or let orders count.',
    })
  }
}
export const NewPlan = PlanFields.extend({
  kind: z.enum(['trial', 'working'], 'Choose trial or working.'),
}).superRefine(sound)
export type NewPlan = z.infer<typeof NewPlan>
export const PlanEdit = PlanFields.extend({ key: Key, version: Version }).superRefine(sound)
export type PlanEdit = z.output<typeof PlanEdit>
export const PlanCopy = z.object({ key: Key, name: Text('a name', 80) })
export const ComparePlans = z.object({
  plans: z
    .string()
    .regex(/^\d+(,\d+){1,3}$/, 'Choose two to four plans.')
    .transform((text) => text.split(',').map(Number)),
})
export const Release = z.object({
  key: Key,
  version: Version,
  orders: z.array(Id).min(1, 'Choose at least one planned order.'),
})
export const WhyParams = z.object({ id: Id, order: Id })
export const MadeOfQuery = z.object({
  node: z.string().regex(/^\d+(@\d+)?$/, 'There is no such item.'),
  first: Day,
  last: Day,
})
/** A planned order as somebody wants it: it stays so when the plan is computed again. `free`: it may change again. */
export const OrderEdit = z.object({
  key: Key,
  version: Version,
  free: z.boolean().default(false),
  quantity: Decimal('a quantity').refine((text) => /[1-9]/.test(text), 'Give a quantity above zero.'),
  dueOn: Day,
  supplierId: optionalId,
})
export type OrderEdit = z.output<typeof OrderEdit>
/** A message acted on: the open order that it names comes on another day. */
export const MoveSupply = z.object({
  key: Key,
  version: Version,
  supply: z.string().regex(/^(purchase|build|transfer):\d+$/, 'This cannot be moved from here.'),
  dueOn: Day,
})
/** How the computing of a plan stands. */
export interface PlanRun {
  readonly version: number
  readonly hasResult: boolean
  readonly state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'
  readonly phase: string
  readonly percent: number
  readonly problem: string
}
