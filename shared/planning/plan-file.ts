import * as z from 'zod'

/*
 * What a file to plan on must look like: the shape of `PlanInput`, nothing beside it.
 * docs/formats/plan-input.schema.json is written from this.
 */

/** Ten years of working days; what takes longer is a typing error. */
const MOST_LEAD_DAYS = 3650
/** Beyond, exact numbers serve nobody, and reckoning with them takes for ever. */
const MOST_DIGITS = 40

const text = z.string({ error: 'must be text' })
const name = text.min(1, { error: 'must not be empty' })
const day = z.iso.date({ error: 'must be a date such as 2026-10-05' }).meta({ id: 'day' })
const flag = z.boolean({ error: 'must be true or false' })
const steps = z
  .int({ error: 'must be a whole number from 0 to 2^53 - 1' })
  .min(0, { error: 'must be a whole number from 0 to 2^53 - 1' })
const atLeastOne = z
  .int({ error: 'must be a whole number from 1 to 2^53 - 1' })
  .min(1, { error: 'must be a whole number from 1 to 2^53 - 1' })
const days = z
  .int({ error: `must be a whole number of days from 0 to ${MOST_LEAD_DAYS}` })
  .min(0, { error: `must be a whole number of days from 0 to ${MOST_LEAD_DAYS}` })
  .max(MOST_LEAD_DAYS, { error: `must be a whole number of days from 0 to ${MOST_LEAD_DAYS}` })
const cost = z.number({ error: 'must be a number, 0 or more' }).min(0, { error: 'must be a number, 0 or more' })
const moreThanNothing = z.number({ error: 'must be a number above 0' }).gt(0, { error: 'must be a number above 0' })
const whole = text
  .regex(/^\d+$/, { error: 'must be a whole number in digits, as text' })
  .max(MOST_DIGITS, { error: `must have at most ${MOST_DIGITS} digits` })
const positive = text
  .regex(/^0*[1-9]\d*$/, { error: 'must be a whole number above 0 in digits, as text' })
  .max(MOST_DIGITS, { error: `must have at most ${MOST_DIGITS} digits` })
const calendar = z.union([name, z.null()], { error: 'must be the name of a calendar, or null for none' })
const list = <T extends z.ZodType>(entry: T): z.ZodArray<T> => z.array(entry, { error: 'must be a list' })
const shape = <T extends z.ZodRawShape>(fields: T) => z.strictObject(fields, { error: OBJECT })
/** An issue of a field that is not known keeps its own sentence. */
const OBJECT = (issue: { readonly code?: string }): string | undefined =>
  issue.code === 'invalid_type' ? 'must be an object' : undefined

const price = shape({ from: steps, price: cost })
const rule = z
  .discriminatedUnion(
    'kind',
    [
      shape({ kind: z.literal('exact') }),
      shape({ kind: z.literal('fixed'), quantity: atLeastOne }),
      shape({ kind: z.literal('cover'), days: days.min(1, { error: 'must be at least 1 day' }) }),
      shape({ kind: z.literal('up to'), reorderPoint: steps, maximum: steps }),
      shape({
        kind: z.literal('economic'),
        orderCost: moreThanNothing.describe('an order'),
        holdingCost: moreThanNothing.describe('a step a year'),
      }),
      shape({
        kind: z.literal('least cost'),
        orderCost: cost.describe('an order'),
        holdingCost: cost.describe('a step a day'),
        tiers: list(price).optional(),
      }),
    ],
    { error: 'must be a lot-sizing rule: exact, fixed, cover, up to, economic or least cost' },
  )
  .describe('default: exact')

const ordered = {
  leadDays: days.describe('working days of the calendar'),
  calendar,
  minimum: steps.optional(),
  multiple: shape({ numerator: positive, denominator: positive }).optional(),
  maximum: atLeastOne.optional().describe('more is split into several orders'),
}
const component = shape({
  node: name,
  numerator: whole,
  fixedNumerator: whole,
  denominator: positive,
  offsetDays: days.optional().describe('working days after the release'),
})
const source = z
  .discriminatedUnion(
    'kind',
    [
      shape({ kind: z.literal('buy'), supplier: text, ...ordered, prices: list(price).optional() }),
      shape({
        kind: z.literal('make'),
        structure: text,
        components: list(component),
        byProducts: list(component).optional(),
        isPassThrough: flag.optional().describe('a phantom: never an order of its own'),
        ...ordered,
      }),
      shape({
        kind: z.literal('break down'),
        recipe: text,
        from: name,
        take: atLeastOne,
        outputs: list(shape({ node: name, quantity: atLeastOne })),
        ...ordered,
      }),
      shape({
        kind: z.literal('move'),
        from: name,
        ...ordered,
        route: text.optional().describe('the usual way that it is moved along'),
      }),
      shape({
        kind: z.literal('none'),
        reason: z.enum(['no source', 'no BOM', 'no conversion', 'retired', 'loop'], {
          error: 'must be one of: no source, no BOM, no conversion, retired, loop',
        }),
      }),
    ],
    { error: 'must be a source: buy, make, break down, move or none' },
  )
  .meta({ id: 'source' })

const node = shape({
  id: name,
  onHand: list(
    shape({
      lot: z.union([text, z.null()], { error: 'must be text or null' }),
      quantity: steps,
      expiresOn: z.union([day, z.null()], { error: 'must be a date or null' }),
    }),
  ),
  safety: steps,
  seasons: list(shape({ first: day, last: day, safety: steps }))
    .optional()
    .describe('a later one goes before an earlier one'),
  rule: rule.optional(),
  pullInDays: days.optional().describe('calendar days; default: the lead time'),
  source,
  worth: cost.optional().describe('of a step, in minor units of money'),
  others: list(source).optional().describe('where else it could come from, by rank'),
})

const demand = shape({
  id: name,
  node: name,
  day,
  quantity: steps,
  kind: z.enum(['sales order', 'forecast', 'build', 'break-down', 'transfer', 'what-if'], {
    error: 'must be one of: sales order, forecast, build, break-down, transfer, what-if',
  }),
  label: text,
  priority: z.int({ error: 'must be a whole number' }),
  for: list(name).optional().describe('the open supplies that it is needed for: while it waits, they do'),
})
const supply = shape({
  id: name,
  node: name,
  day,
  quantity: steps,
  kind: z.enum(['purchase order', 'build', 'break-down', 'transfer'], {
    error: 'must be one of: purchase order, build, break-down, transfer',
  }),
  label: text,
  earliest: day.optional().describe('the day on which it can come at the soonest; default: any'),
})
const fixed = shape({
  id: name,
  node: name,
  quantity: steps,
  due: day,
  release: day,
  supplier: text.optional().describe('whom it is to be bought from, where that is not the usual one'),
})

export const PlanFile = shape({
  start: day,
  end: day,
  calendars: z
    .record(
      z.string(),
      shape({
        weekdays: z
          .array(flag, { error: 'must be a list of seven, Monday first' })
          .length(7, { error: 'must be a list of seven, Monday first' })
          .refine((worked) => worked.includes(true), { error: 'must have a day that is worked' }),
        closed: list(day),
      }),
      { error: OBJECT },
    )
    .describe('working days by name'),
  nodes: list(node),
  demands: list(demand),
  supplies: list(supply),
  fixed: list(fixed).optional().describe('planned orders that somebody has fixed'),
  pullIn: flag.optional().describe('default: true'),
  keepSafety: flag.optional().describe('default: true'),
  pushOutDays: days.optional().describe('calendar days; default: 7'),
  longestLeadDays: days.optional().describe('working days; default: the days of the horizon'),
}).describe('A snapshot to plan on. Quantities are whole finest steps of each item; dates are ISO 8601.')
