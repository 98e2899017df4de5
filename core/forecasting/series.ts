/** What was asked for, period by period, oldest first; floats, in the item's stock unit. */
export interface Series {
  readonly values: readonly number[]
  /**
   * Periods after which the pattern of a year (or week) begins again: 12 months, 52 weeks, 7 days; 1 where there is
   * none.
   */
  readonly period: number
  /** Days of each period, and of those to come; all are equal where they are left out. */
  readonly days?: readonly number[]
  readonly nextDays?: readonly number[]
}

/** The forecasting methods, from the simplest to the most involved. */
export const METHODS = [
  'naive',
  'average',
  'moving average',
  'last year',
  'simple smoothing',
  'trend smoothing',
  'seasonal smoothing, added',
  'seasonal smoothing, multiplied',
  'intermittent',
] as const
/** One of the forecasting methods. */
export type MethodName = (typeof METHODS)[number]

/** A method's numbers, by their names: smoothing weights, a number of periods or days, a growth. */
export type Parameters = Readonly<Record<string, number>>

/** A method applied to a series: what it would have said of each period before it came, and how it goes on. */
export interface Applied {
  readonly method: MethodName
  readonly parameters: Parameters
  /** One step ahead; null where it could not say anything yet. */
  readonly fitted: readonly (number | null)[]
  /** Expected quantity of the next `count` periods, never below zero. */
  forecast(count: number): number[]
  /** Standard deviation of the error of each of them, as a multiple of that of one step. */
  widening(count: number): number[]
  /** Where it ended, for those who want to look inside. */
  readonly state: Readonly<Record<string, number | readonly number[]>>
}

export interface Method {
  readonly name: MethodName
  /** Fewest periods with which it can begin; infinite where it does not suit the series. */
  needs(series: Series): number
  /** The parameters that fit best; `given` ones are kept. */
  tune(series: Series, given?: Parameters): Parameters
  apply(series: Series, parameters: Parameters): Applied
}

/**
 * Whether sales come now and then only: on average more than 1.32 periods from one to the next.
 *
 * Source: Syntetos, Boylan & Croston, On the categorization of demand patterns, JORS 56 (2005), the cut-off from
 *         memory.
 */
export function isIntermittent(values: readonly number[]): boolean {
  const first = values.findIndex((value) => value > 0)
  const sold = values.filter((value) => value > 0).length
  return first >= 0 && sold > 0 && (values.length - first) / sold > 1.32
}
