import type { Method, Series } from './series'

/**
 * The last value again; with a year behind it, that of the same period a year ago. What every other method is held
 * against.
 */
export const NAIVE: Method = {
  name: 'naive',
  needs: () => 2,
  tune: () => ({}),
  apply({ values, period }, parameters) {
    const back = values.length > period ? period : 1
    return {
      method: 'naive',
      parameters,
      state: { back },
      fitted: values.map((_, t) => (t >= back ? values[t - back]! : null)),
      forecast: (count) => Array.from({ length: count }, (_, i) => values[values.length - back + (i % back)]!),
      widening: (count) => Array.from({ length: count }, (_, i) => Math.sqrt(Math.floor(i / back) + 1)),
    }
  },
}

/**
 * What was sold a day in the last `days` days, for every day to come. The whole periods that make up those days are
 * taken.
 */
export const AVERAGE: Method = {
  name: 'average',
  needs: () => 2,
  tune: (_, given = {}) => ({ days: given.days ?? 90 }),
  apply(series, parameters) {
    const { values } = series
    const dayOf = (t: number): number => series.days?.[t] ?? 1
    // Without lengths every period counts as a day.
    const rate = (end: number): { a: number; over: number } => {
      let [sum, days, over] = [0, 0, 0]
      while (end - over > 0 && (over === 0 || days + dayOf(end - over - 1) / 2 <= parameters.days!)) {
        over++
        sum += values[end - over]!
        days += dayOf(end - over)
      }
      return { a: days > 0 ? sum / days : 0, over }
    }
    const last = rate(values.length)
    return {
      method: 'average',
      parameters,
      state: { aDay: last.a, over: last.over },
      fitted: values.map((_, t) => (t === 0 ? null : rate(t).a * dayOf(t))),
      forecast: (count) =>
        Array.from(
          { length: count },
          (_, i) => last.a * (series.nextDays?.[i] ?? (series.days ? mean(series.days) : 1)),
        ),
      widening: (count) => Array.from<number>({ length: count }).fill(Math.sqrt(1 + 1 / Math.max(1, last.over))),
    }
  },
}

const WINDOWS = [2, 3, 4, 6, 9, 12]

/** The mean of the last periods; how many is chosen by the least squared error. */
export const MOVING_AVERAGE: Method = {
  name: 'moving average',
  needs: () => 3,
  tune({ values }, given = {}) {
    if (given.periods !== undefined) {
      return given
    }
    const windows = WINDOWS.filter((n) => n * 2 <= values.length)
    // All are held against each other over the same periods.
    const from = Math.max(...windows, 1)
    const error = (n: number): number => {
      let sum = 0
      for (let t = from; t < values.length; t++) {
        sum += (values[t]! - meanOf(values, t - n, t)) ** 2
      }
      return sum
    }
    return { periods: windows.reduce((best, n) => (error(n) < error(best) ? n : best), windows[0] ?? 1) }
  },
  apply({ values }, parameters) {
    const n = Math.min(parameters.periods!, values.length)
    const last = meanOf(values, values.length - n, values.length)
    return {
      method: 'moving average',
      parameters,
      state: { mean: last },
      fitted: values.map((_, t) => (t >= n ? meanOf(values, t - n, t) : null)),
      forecast: (count) => Array.from<number>({ length: count }).fill(last),
      widening: (count) => Array.from<number>({ length: count }).fill(Math.sqrt(1 + 1 / n)),
    }
  },
}

/**
 * The same period a year ago, times the growth: given, or the last year over the one before, between a half and double.
 */
export const LAST_YEAR: Method = {
  name: 'last year',
  needs: ({ period }) => (period < 2 ? Infinity : period + 1),
  tune: (series, given = {}) => ({ growth: given.growth ?? growthOf(series) }),
  apply({ values, period }, parameters) {
    const growth = parameters.growth!
    return {
      method: 'last year',
      parameters,
      state: { growth },
      fitted: values.map((_, t) => (t >= period ? values[t - period]! * growth : null)),
      forecast: (count) =>
        Array.from({ length: count }, (_, i) =>
          Math.max(0, values[values.length - period + (i % period)]! * growth ** (Math.floor(i / period) + 1)),
        ),
      widening: (count) => Array.from({ length: count }, (_, i) => Math.sqrt(Math.floor(i / period) + 1)),
    }
  },
}

function growthOf({ values, period }: Series): number {
  if (values.length < 2 * period) {
    return 1
  }
  const [last, before] = [
    sumOf(values, values.length - period, values.length),
    sumOf(values, values.length - 2 * period, values.length - period),
  ]
  return before > 0 ? Math.min(2, Math.max(0.5, last / before)) : 1
}

const sumOf = (values: readonly number[], from: number, to: number): number => {
  let sum = 0
  for (let t = from; t < to; t++) {
    sum += values[t]!
  }
  return sum
}
const meanOf = (values: readonly number[], from: number, to: number): number => sumOf(values, from, to) / (to - from)
const mean = (values: readonly number[]): number => meanOf(values, 0, values.length)
