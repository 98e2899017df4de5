import * as z from 'zod'
import { METHODS, type ErrorMeasures, type MethodName, type Parameters, type Range } from '~~/core/forecasting'
import { STEPS, type Period, type Step } from '~~/core/calendar/periods'
import { toDay } from '~~/core/calendar/days'
import { Day, Decimal, Id, Note, Text, Version } from '../primitives'

/** More periods than these are no forecast any more. */
const MOST = { day: 366, week: 157, month: 60 } as const
const DAYS = { day: 1, week: 7, month: 28 } as const

const Span = { firstOn: Day, lastOn: Day, step: z.enum(STEPS, 'Choose day, week or month.') }
const rightWay = (span: { firstOn: string; lastOn: string; step: Step }, context: z.RefinementCtx): void => {
  if (span.lastOn < span.firstOn) {
    context.addIssue({ code: 'custom', path: ['lastOn'], message: 'The forecast ends before it begins.' })
  } else if ((toDay(span.lastOn) - toDay(span.firstOn)) / DAYS[span.step] > MOST[span.step]) {
    context.addIssue({
      code: 'custom',
      path: ['lastOn'],
      message: `That is more than ${MOST[span.step]} ${span.step}s. Choose a longer step, or end sooner.`,
    })
  }
}

export const NewForecast = z.object({ name: Text('a name', 80), note: Note, ...Span }).superRefine(rightWay)
export type NewForecast = z.output<typeof NewForecast>
/** A copy, moved by whole periods and multiplied: a what-if. */
export const CopyForecast = z.object({
  name: Text('a name', 80),
  shift: z.number('Give whole periods.').int('Give whole periods.').min(-500).max(500).default(0),
  percent: Decimal('a percentage').default('100'),
})

/** An empty quantity takes the cell out of the forecast. */
export const ForecastEdit = z.object({
  version: Version,
  name: Text('a name', 80).optional(),
  note: Note.optional(),
  cells: z
    .array(z.object({ itemId: Id, startsOn: Day, quantity: z.string('Type a quantity.').trim() }))
    .max(50_000)
    .default([]),
  /** Items whose rows go. */
  without: z.array(Id).default([]),
})
export type ForecastEdit = z.output<typeof ForecastEdit>

const Method = z.enum(METHODS, 'Choose a method.')
const finite = z.number().refine(Number.isFinite)
const Measures = z.object({
  count: finite,
  bias: finite,
  mae: finite,
  rmse: finite,
  mape: finite.nullable(),
  mase: finite.nullable(),
})
export const ComputedItem = z.object({
  itemId: Id,
  wanted: z.object({ method: Method, parameters: z.record(z.string(), finite).optional() }).nullable(),
  method: Method,
  parameters: z.record(z.string(), finite),
  reason: z.enum(['best', 'simpler', 'wanted', 'too short']),
  sentence: z.string().max(600),
  deviation: finite,
  compared: z.array(z.object({ method: Method, errors: Measures.nullable() })),
  expected: z.array(finite.min(0)).max(400),
  ranges: z.array(z.object({ low80: finite, high80: finite, low95: finite, high95: finite })).max(400),
})
export type ComputedItem = z.output<typeof ComputedItem>
/** `over`: cells typed by hand are replaced too. */
export const ForecastComputed = z.object({
  version: Version,
  over: z.boolean().default(false),
  items: z.array(ComputedItem).min(1).max(20_000),
})

/** What a method came to for an item, as it is kept. */
export interface ForecastResult {
  readonly method: MethodName
  readonly parameters: Parameters
  readonly reason: 'best' | 'simpler' | 'wanted' | 'too short'
  readonly sentence: string
  readonly deviation: number
  readonly compared: readonly { readonly method: MethodName; readonly errors: ErrorMeasures | null }[]
  readonly ranges: readonly Range[]
  readonly madeOn: string
}

export interface ForecastRow {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly step: string
  readonly groupId: number
  readonly group: string
  readonly method: MethodName | null
  readonly parameters: Parameters | null
  readonly result: ForecastResult | null
  /** By first day: what counts, and what the method said (null: never computed). */
  readonly cells: Readonly<Record<string, { readonly quantity: string; readonly computed: string | null }>>
}
export interface ForecastAnswer {
  readonly id: number
  readonly name: string
  readonly note: string
  readonly step: Step
  readonly firstOn: string
  readonly lastOn: string
  readonly version: number
  readonly periods: readonly Period[]
  readonly rows: readonly ForecastRow[]
}
export interface ForecastHead {
  readonly id: number
  readonly name: string
  readonly note: string
  readonly step: Step
  readonly firstOn: string
  readonly lastOn: string
  readonly items: number
}

/** Whose history is asked for: items, a group with those below it, or everything that is held. */
export const SeriesQuery = z.object({
  step: z.enum(STEPS),
  itemIds: z.array(Id).max(20_000).optional(),
  groupId: Id.nullable().optional(),
})
/** The history of an item as core takes it. */
export interface ItemSeries {
  readonly itemId: number
  readonly code: string
  readonly symbol: string
  readonly name: string
  readonly history: {
    readonly periods: readonly Period[]
    readonly sold: readonly number[]
    readonly borrowed: readonly number[]
    readonly series: { readonly values: readonly number[]; readonly period: number; readonly days: readonly number[] }
  } | null
}
