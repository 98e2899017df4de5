import { z } from 'zod'
import { Day, Id, Key, Text, Version } from './primitives'

export const DEMAND_RULES = ['larger', 'both', 'orders only', 'forecast only'] as const
export const NewPlan = z.object({
  name: Text('a name', 80), kind: z.enum(['trial', 'working'], 'Choose trial or working.'), endsOn: Day,
  forecastFalls: z.enum(['first day', 'spread'], 'Choose where in its week a forecast falls.').default('first day'),
  demandRule: z.enum(DEMAND_RULES, 'Choose how orders and forecast are joined.').default('larger'), forecastIds: z.array(Id).max(20).default([]),
})
export type NewPlan = z.infer<typeof NewPlan>
export const Release = z.object({ key: Key, version: Version, orders: z.array(Id).min(1, 'Choose at least one planned order.') })
export const WhyParams = z.object({ id: Id, order: Id })
