import { minimise } from './minimise'
import type { Applied, Method, MethodName } from './series'

/** How a smoothing begins: from which period on it forecasts, and with what. */
export interface Start {
  readonly at: number
  readonly level: number
  readonly trend: number
  readonly season: readonly number[]
}
/** What a smoothing goes over, and how. */
interface Walk {
  readonly shape: SmoothingKind
  readonly values: readonly number[]
  readonly period: number
  readonly start: Start
}
type Season = 'none' | 'added' | 'multiplied'
interface SmoothingKind {
  readonly name: MethodName
  readonly trend: boolean
  readonly season: Season
}

/**
 * Exponential smoothing: simple, with a trend (Holt), with trend and season (Holt & Winters, season added or
 * multiplied).
 *
 * Starting values are those of R's `HoltWinters`: simple begins with the first value; with a trend, at the third period
 * with the second value and the step to it; with a season, after one round, from the classical decomposition of the
 * first two rounds.
 *
 * Units:  `alpha`, `beta`, `gamma` weigh what is new, from 0 to 1; `beta` weighs the change of the level.
 * Source: Holt (1957), Winters (1960); R Core Team, stats::HoltWinters.
 */
export const SMOOTHING: readonly Method[] = (
  [
    { name: 'simple smoothing', trend: false, season: 'none' },
    { name: 'trend smoothing', trend: true, season: 'none' },
    { name: 'seasonal smoothing, added', trend: true, season: 'added' },
    { name: 'seasonal smoothing, multiplied', trend: true, season: 'multiplied' },
  ] satisfies SmoothingKind[]
).map(methodOf)

const STARTS = {
  none: [[0.3]],
  trend: [
    [0.3, 0.1],
    [0.7, 0.3],
  ],
  season: [
    [0.3, 0.1, 0.1],
    [0.2, 0.05, 0.6],
    [0.5, 0.05, 0.9],
  ],
}

function methodOf(shape: SmoothingKind): Method {
  return {
    name: shape.name,
    needs({ values, period }) {
      if (shape.season === 'none') {
        return shape.trend ? 4 : 3
      }
      // A season is divided by: periods with next to nothing in them make it run away.
      const least =
        shape.season === 'multiplied'
          ? (values.reduce((sum, value) => sum + value, 0) / values.length) * 1e-3
          : -Infinity
      return period < 2 || values.some((value) => value <= least) ? Infinity : 2 * period + 1
    },
    tune({ values, period }, given = {}) {
      if (given.alpha !== undefined) {
        return given
      }
      const start = startOf(shape, values, period)
      let starts
      if (shape.season !== 'none') {
        starts = STARTS.season
      } else if (shape.trend) {
        starts = STARTS.trend
      } else {
        starts = STARTS.none
      }
      const [alpha, beta, gamma] = minimise((x) => run({ shape, values, period, start }, x, null).sse, starts).x
      return { alpha: alpha!, ...(shape.trend && { beta: beta! }), ...(shape.season !== 'none' && { gamma: gamma! }) }
    },
    apply({ values, period }, parameters) {
      const fitted = Array.from<number | null>({ length: values.length }).fill(null)
      const weights = [parameters.alpha ?? 0, parameters.beta ?? 0, parameters.gamma ?? 0]
      const end = run({ shape, values, period, start: startOf(shape, values, period) }, weights, fitted)
      const expected = (ahead: number): number => {
        const base = end.level + (shape.trend ? ahead * end.trend : 0)
        const season = shape.season === 'none' ? 0 : end.season[(ahead - 1) % period]!
        return Math.max(0, shape.season === 'multiplied' ? base * season : base + season)
      }
      return {
        method: shape.name,
        parameters,
        fitted,
        state: {
          level: end.level,
          ...(shape.trend && { trend: end.trend }),
          ...(shape.season !== 'none' && { season: end.season }),
          sse: end.sse,
        },
        forecast: (count) => Array.from({ length: count }, (_, i) => expected(i + 1)),
        widening: (count) => widening(shape, weights, period, count),
      } satisfies Applied
    },
  }
}

/** Where it begins, by the rules of R's `HoltWinters`. */
function startOf(shape: SmoothingKind, values: readonly number[], period: number): Start {
  if (shape.season === 'none') {
    return shape.trend
      ? { at: 2, level: values[1]!, trend: values[1]! - values[0]!, season: [] }
      : { at: 1, level: values[0]!, trend: 0, season: [] }
  }
  const { trend, season } = decompose(values.slice(0, 2 * period), period, shape.season)
  const n = trend.length
  const [meanX, meanY] = [(n + 1) / 2, trend.reduce((a, b) => a + b, 0) / n]
  const slope =
    trend.reduce((sum, y, i) => sum + (i + 1 - meanX) * (y - meanY), 0) /
    trend.reduce((sum, _, i) => sum + (i + 1 - meanX) ** 2, 0)
  return { at: period, level: meanY - slope * meanX, trend: n > 1 ? slope : 0, season }
}

/**
 * Classical decomposition: a centred moving average over one round, and the mean distance (or ratio) to it of each
 * place in the round.
 */
function decompose(values: readonly number[], period: number, season: Season): { trend: number[]; season: number[] } {
  const half = Math.floor(period / 2)
  const trend: number[] = []
  const sums = Array.from({ length: period }, () => ({ sum: 0, count: 0 }))
  for (let t = half; t < values.length - half; t++) {
    let sum = 0
    for (let k = -half; k <= half; k++) {
      sum += values[t + k]! * (period % 2 === 0 && Math.abs(k) === half ? 0.5 : 1)
    }
    const mean = sum / period
    trend.push(mean)
    const place = sums[t % period]!
    place.sum += season === 'multiplied' ? values[t]! / mean : values[t]! - mean
    place.count++
  }
  const figure = sums.map(({ sum, count }) => sum / count)
  const mean = figure.reduce((a, b) => a + b, 0) / period
  return { trend, season: figure.map((value) => (season === 'multiplied' ? value / mean : value - mean)) }
}

/** One walk over the series; `season` at the end is that of the next round, in order. */
function run(
  { shape, values, period, start }: Walk,
  [alpha = 0, beta = 0, gamma = 0]: readonly number[],
  fitted: (number | null)[] | null,
): { level: number; trend: number; season: number[]; sse: number } {
  let { level, trend } = start
  const season = start.season.slice()
  const seasonal = shape.season !== 'none'
  const multiplied = shape.season === 'multiplied'
  let [sse, place] = [0, 0]
  for (let t = start.at; t < values.length; t++) {
    const s = seasonal ? season[place]! : 0
    const base = level + trend
    const expected = multiplied ? base * s : base + s
    const x = values[t]!
    if (fitted) {
      fitted[t] = expected
    }
    sse += (x - expected) ** 2
    const before = level
    level = alpha * (multiplied ? x / s : x - s) + (1 - alpha) * base
    if (shape.trend) {
      trend = beta * (level - before) + (1 - beta) * trend
    }
    if (seasonal) {
      season[place] = gamma * (multiplied ? x / level : x - level) + (1 - gamma) * s
      if (++place === period) {
        place = 0
      }
    }
  }
  const turn = seasonal ? (values.length - start.at) % period : 0
  return {
    level,
    trend,
    season: [...season.slice(turn), ...season.slice(0, turn)],
    sse: Number.isFinite(sse) ? sse : Infinity,
  }
}

/**
 * How the error grows with the distance.
 *
 * Source: Hyndman & Athanasopoulos, Forecasting: Principles and Practice, variances of the forecast of ETS models (from
 *         memory), with their beta = alpha × beta and gamma = gamma × (1 − alpha) of these weights; a multiplied season
 *         is taken as an added one.
 */
function widening(
  shape: SmoothingKind,
  [alpha = 0, beta = 0, gamma = 0]: readonly number[],
  period: number,
  count: number,
): number[] {
  const [b, g] = [shape.trend ? alpha * beta : 0, shape.season === 'none' ? 0 : gamma * (1 - alpha)]
  let sum = 0
  return Array.from({ length: count }, (_, i) => {
    if (i > 0) {
      const c = alpha + b * i + (g > 0 && i % period === 0 ? g : 0)
      sum += c * c
    }
    return Math.sqrt(1 + sum)
  })
}
