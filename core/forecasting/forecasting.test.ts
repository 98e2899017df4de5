import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { chooseMethod } from './choose-method'
import { daysIn, periodOf, periodsBetween } from '../calendar/periods'
import { describeChoice } from './describe-choice'
import { errorDeviation, rangesOf } from './range'
import { forecastItem } from './forecast-item'
import { historyOf } from './history'
import { isIntermittent, METHODS, type MethodName } from './series'
import { measureErrors, naiveScale } from './measures'
import { methodOf, allMethods } from './methods'
import { normalQuantile, normalCdf } from './normal'
import { roundForecasts } from './round-forecast'
import { safetyStock } from './safety-stock'
import { shapeOf } from './shape'
import { spreadTotal } from './spread-total'
import { minimise } from './minimise'
import { backtest, spanOf } from './backtest'
import { ratio, toText } from '../units/exact'

describe('periods', () => {
  it.each([
    ['2026-10-05', 'day', '2026-10-05', '2026-10-05'],
    ['2026-10-05', 'week', '2026-10-05', '2026-10-11'],
    ['2026-10-04', 'week', '2026-09-28', '2026-10-04'],
    ['2024-02-10', 'month', '2024-02-01', '2024-02-29'],
    ['2025-12-31', 'month', '2025-12-01', '2025-12-31'],
  ] as const)('%s lies in the %s from %s to %s', (day, step, first, last) => {
    expect(periodOf(day, step)).toEqual({ first, last })
  })
  it('follow each other without a gap', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3000 }),
        fc.integer({ min: 0, max: 900 }),
        fc.constantFrom('day' as const, 'week' as const, 'month' as const),
        (from, length, step) => {
          const iso = (n: number): string => new Date(Date.UTC(2020, 0, 1) + n * 86_400_000).toISOString().slice(0, 10)
          const periods = periodsBetween(iso(from), iso(from + length), step)
          expect(periods[0]!.first <= iso(from) && periods.at(-1)!.last >= iso(from + length)).toBe(true)
          periods.slice(1).forEach((period, index) => {
            expect(Date.parse(period.first) - Date.parse(periods[index]!.last)).toBe(86_400_000)
          })
          expect(periods.reduce((sum, period) => sum + daysIn(period), 0)).toBe(
            (Date.parse(periods.at(-1)!.last) - Date.parse(periods[0]!.first)) / 86_400_000 + 1,
          )
        },
      ),
    )
  })
})

describe('history', () => {
  const sales = [
    { day: '2026-01-10', quantity: 4 },
    { day: '2026-01-20', quantity: 6 },
    { day: '2026-03-02', quantity: 9 },
    { day: '2026-04-01', quantity: 100 },
  ]
  it('sums by whole periods from the first sale, without the one that is not over', () => {
    const found = historyOf({ sales, step: 'month', upTo: '2026-04-15' })!
    expect(found.periods.map((p) => p.first)).toEqual(['2026-01-01', '2026-02-01', '2026-03-01'])
    expect(found.series.values).toEqual([10, 0, 9])
    expect(found.series.days).toEqual([31, 28, 31])
  })
  it('counts an odd month as what it is said to have been, in the shape of its days', () => {
    const weekly = historyOf({
      sales,
      corrections: [{ first: '2026-01-01', last: '2026-01-31', quantity: 5 }],
      step: 'week',
      upTo: '2026-01-31',
    })!
    // 4 of 10 and 6 of 10 of five; the books still say 4 and 6.
    expect(weekly.series.values).toEqual([2, 0, 3])
    expect(
      historyOf({
        sales,
        corrections: [{ first: '2026-01-01', last: '2026-01-31', quantity: 5 }],
        step: 'month',
        upTo: '2026-01-31',
      })!.series.values,
    ).toEqual([5])
    expect(
      historyOf({
        sales,
        corrections: [{ first: '2026-01-01', last: '2026-01-31', quantity: 5 }],
        step: 'month',
        upTo: '2026-01-31',
      })!.sold,
    ).toEqual([10])
    // A month in which it was out of stock: 28 spread over 28 days.
    expect(
      historyOf({
        sales,
        corrections: [{ first: '2026-02-01', last: '2026-02-28', quantity: 28 }],
        step: 'month',
        upTo: '2026-03-31',
      })!.series.values,
    ).toEqual([10, 28, 9])
  })
  it('borrows a share of another item’s sales up to a day', () => {
    const found = historyOf({
      sales: [{ day: '2026-03-10', quantity: 7 }],
      borrowed: {
        share: 0.75,
        until: '2026-02-28',
        sales: [
          { day: '2026-01-05', quantity: 40 },
          { day: '2026-02-05', quantity: 20 },
          { day: '2026-03-05', quantity: 1000 },
        ],
      },
      step: 'month',
      upTo: '2026-03-31',
    })!
    expect(found.series.values).toEqual([30, 15, 7])
    expect(found.borrowed).toEqual([30, 15, 0])
    expect(found.sold).toEqual([0, 0, 7])
  })
  it('is none where nothing was sold, or only in the period that is not over', () => {
    expect(historyOf({ sales: [], step: 'month', upTo: '2026-03-31' })).toBeNull()
    expect(historyOf({ sales: [{ day: '2026-03-10', quantity: 7 }], step: 'month', upTo: '2026-03-20' })).toBeNull()
  })
  it('loses nothing of what was sold', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ day: fc.integer({ min: 0, max: 364 }), quantity: fc.integer({ min: 1, max: 50 }) }), {
          minLength: 1,
        }),
        fc.constantFrom('day' as const, 'week' as const, 'month' as const),
        (list, step) => {
          const own = list.map(({ day, quantity }) => ({
            day: new Date(Date.UTC(2025, 0, 1) + day * 86_400_000).toISOString().slice(0, 10),
            quantity,
          }))
          const found = historyOf({ sales: own, step, upTo: '2026-02-28' })!
          expect(found.series.values.reduce((a, b) => a + b, 0)).toBe(
            list.reduce((sum, first) => sum + first.quantity, 0),
          )
        },
      ),
    )
  })
})

describe('simple methods, by hand', () => {
  const say = (
    name: MethodName,
    values: number[],
    count: number,
    more: object = {},
    parameters?: Record<string, number>,
  ): number[] => {
    const series = { values, period: 1, ...more }
    const method = methodOf(name)
    return method.apply(series, method.tune(series, parameters)).forecast(count)
  }
  it('average: 30 + 31 days sold 61, so one a day; February has 28', () => {
    expect(say('average', [500, 30, 31], 2, { days: [31, 30, 31], nextDays: [28, 31] }, { days: 61 })).toEqual([28, 31])
  })
  it('moving average of two', () => {
    expect(say('moving average', [1, 5, 9], 2, {}, { periods: 2 })).toEqual([7, 7])
  })
  it('last year with its growth: 20 after 10, so twice as much again', () => {
    expect(say('last year', [2, 8, 4, 16], 3, { period: 2 })).toEqual([8, 32, 16])
    expect(
      say('last year', [2, 8, 4, 16], 2, { period: 2 }, { growth: 1.1 }).map((v) => Math.round(v * 10) / 10),
    ).toEqual([4.4, 17.6])
  })
  it('naive: the last value, or that of a year ago', () => {
    expect(say('naive', [3, 5], 2)).toEqual([5, 5])
    expect(say('naive', [3, 5, 7], 3, { period: 2 })).toEqual([5, 7, 5])
  })
  it('simple smoothing with weight one half: 8, then 6, then 7', () => {
    expect(say('simple smoothing', [8, 4, 8], 1, {}, { alpha: 0.5 })).toEqual([7])
  })
  it('never expect less than nothing', () => {
    expect(say('trend smoothing', [9, 6, 3, 0], 3, {}, { alpha: 1, beta: 1 })).toEqual([0, 0, 0])
  })
  it('forecast a straight line as it goes on', () => {
    expect(say('trend smoothing', [2, 4, 6, 8, 10], 3)).toEqual([12, 14, 16])
  })
})

describe('choice', () => {
  const year = [4, 4, 5, 6, 5, 4, 4, 5, 8, 14, 20, 26]
  const seasonal = [...year, ...year.map((v) => v * 1.1), ...year.map((v) => v * 1.2)]
  it('takes a seasonal method where the year repeats, and says against what', () => {
    const choice = chooseMethod({ values: seasonal, period: 12 })!
    expect(['last year', 'seasonal smoothing, multiplied', 'seasonal smoothing, added']).toContain(
      choice.applied.method,
    )
    const [own, naive] = ['', ''].map(
      (_, index) =>
        choice.compared.find((first) => first.method === (index === 0 ? choice.applied.method : 'naive'))!.errors!.rmse,
    )
    expect(own).toBeLessThan(naive!)
    expect(describeChoice(choice, 'month', 'piece')).toMatch(
      /^Forecast .*: forecasting the last 11 months up to 3 months ahead, it was off by [\d.]+ piece a month.*% less than repeating what was sold/,
    )
  })
  it('takes the average where there is too little to test', () => {
    const choice = chooseMethod({ values: [3, 4], period: 12, days: [30, 31], nextDays: [30] })!
    expect(choice).toMatchObject({ reason: 'too short', applied: { method: 'average' } })
    expect(describeChoice(choice, 'month', 'piece')).toBe(
      'Forecast at the average of the last days: there is too little history to test anything better.',
    )
  })
  it('keeps to what a person wants, and still tells how it fared', () => {
    const choice = chooseMethod(
      { values: seasonal, period: 12 },
      { method: 'moving average', parameters: { periods: 3 } },
    )!
    expect(choice).toMatchObject({
      reason: 'wanted',
      applied: { method: 'moving average', parameters: { periods: 3 } },
    })
    expect(describeChoice(choice, 'month', 'piece')).toMatch(
      /because a person chose that.*more than repeating what was sold\.$/,
    )
  })
  it('prefers the simpler of two that are as good: a flat line needs no smoothing', () => {
    const choice = chooseMethod({ values: Array.from({ length: 20 }, () => 7), period: 12 })!
    expect(choice.applied.method).toBe('naive')
    expect(choice.applied.forecast(2)).toEqual([7, 7])
  })
  it('knows what sells now and then, and does not forecast it to nothing', () => {
    const values = [0, 0, 6, 0, 0, 0, 5, 0, 0, 6, 0, 0, 0, 0, 7, 0, 0, 6, 0, 0, 0, 5, 0, 0]
    expect(isIntermittent(values)).toBe(true)
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    const said = chooseMethod({ values, period: 12 })!.applied.forecast(1)[0]!
    expect(said).toBeGreaterThan(mean / 2)
    expect(said).toBeLessThan(mean * 2)
  })
  it('is none where nothing was ever sold', () => {
    expect(chooseMethod({ values: [0, 0, 0], period: 12 })).toBeNull()
  })
  it.each([
    [5, 1, null],
    [6, 1, { origins: 2, ahead: 2 }],
    [60, 12, { origins: 12, ahead: 3 }],
    [30, 12, { origins: 5, ahead: 3 }],
    [26, 12, { origins: 8, ahead: 3 }],
    [130, 52, { origins: 12, ahead: 3 }],
  ] as const)('of %d periods in rounds of %d tests %j', (n, period, span) => {
    expect(spanOf({ values: Array.from({ length: n }, () => 1), period })).toEqual(span)
  })
  it('tests on what it had not seen: what comes last cannot change the weights', () => {
    const first = { values: seasonal, period: 12 }
    const { origins } = spanOf(first)!
    const second = { values: [...seasonal.slice(0, -origins), ...year.slice(-origins).map((v) => v * 9)], period: 12 }
    for (const method of allMethods) {
      const [a, b] = [backtest(method, first, spanOf(first)!), backtest(method, second, spanOf(second)!)]
      expect(a?.parameters).toEqual(b?.parameters)
    }
  })
  it('gives numbers that are finite and not below zero for whatever was sold', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.constant(0),
            fc.integer({ min: 0, max: 500 }),
            fc.constant(5e-324),
            fc.double({ min: 0, max: 50, noNaN: true }),
          ),
          { minLength: 1, maxLength: 70 },
        ),
        fc.constantFrom(1, 4, 12),
        fc.option(fc.constantFrom(...METHODS), { nil: null }),
        (values, period, method) => {
          const choice = chooseMethod({ values, period }, method === null ? null : { method })
          if (choice === null) {
            expect(values.every((v) => v === 0)).toBe(true)
            return
          }
          const sd = errorDeviation(choice.applied, values)
          for (const value of [
            ...choice.applied.forecast(15),
            ...rangesOf(choice.applied, sd, 15).flatMap((r) => Object.values(r)),
          ]) {
            expect(Number.isFinite(value) && value >= 0).toBe(true)
          }
          expect(describeChoice(choice, 'week', 'm')).toMatch(/^Forecast .*\.$/)
        },
      ),
      { numRuns: 400 },
    )
  })
})

describe('an item from its days', () => {
  it('forecasts three months that begin after a gap', () => {
    const sales = periodsBetween('2023-01-15', '2026-08-20', 'month').map((p, index) => ({
      day: p.last,
      quantity: 10 + (index % 12),
    }))
    const found = forecastItem({
      history: historyOf({ sales, step: 'month', upTo: '2026-08-31' }),
      step: 'month',
      periods: periodsBetween('2026-10-01', '2026-12-31', 'month'),
      symbol: 'piece',
      wanted: { method: 'naive' },
    })!
    // September 2025 is left out; October to December 2025 sold 19, 20, 21.
    expect(found.expected).toEqual([19, 20, 21])
    expect(found.ranges[0]!.low80).toBeLessThanOrEqual(19)
    expect(
      forecastItem({
        history: null,
        step: 'month',
        periods: periodsBetween('2026-10-01', '2026-12-31', 'month'),
        symbol: 'piece',
        wanted: null,
      }),
    ).toBeNull()
  })
})

describe('ranges', () => {
  it('of a repeated value: once, then √2 times as wide in the second round', () => {
    const applied = methodOf('naive').apply({ values: [10, 12, 11, 30], period: 1 }, {})
    const [first, second] = rangesOf(applied, 5, 2)
    expect(first!.high80).toBeCloseTo(30 + 1.281552 * 5, 4)
    expect(first!.low95).toBeCloseTo(30 - 1.959964 * 5, 4)
    expect(second!.high80).toBeCloseTo(30 + 1.281552 * 5 * Math.SQRT2, 4)
  })
  // Simple smoothing: variance σ²(1 + (h − 1)α²), Hyndman & Athanasopoulos, from memory.
  it('of simple smoothing widen by its weight', () => {
    const widening = methodOf('simple smoothing')
      .apply({ values: [1, 2, 3], period: 1 }, { alpha: 0.3 })
      .widening(3)
    expect(widening.map((w) => Math.round(w * w * 1e6) / 1e6)).toEqual([1, 1.09, 1.18])
  })
  it('hold about as many as they say, where the model is right', () => {
    // A level that walks, seen with noise, is what simple smoothing is made for.
    let [seed, inside, all] = [7, 0, 0]
    const noise = (): number => {
      let sum = 0
      for (let i = 0; i < 12; i++) {
        seed = (seed * 48271) % 2147483647
        sum += seed / 2147483647
      }
      return sum - 6
    }
    for (let run = 0; run < 300; run++) {
      const values: number[] = []
      let level = 500
      for (let t = 0; t < 61; t++) {
        const e = noise() * 10
        values.push(level + e)
        level += 0.4 * e
      }
      const method = methodOf('simple smoothing')
      const known = { values: values.slice(0, 60), period: 1 }
      const applied = method.apply(known, method.tune(known))
      const [range] = rangesOf(applied, errorDeviation(applied, known.values), 1)
      all++
      if (values[60]! >= range!.low80 && values[60]! <= range!.high80) {
        inside++
      }
    }
    expect(inside / all).toBeGreaterThan(0.73)
    expect(inside / all).toBeLessThan(0.87)
  })
})

it('error measures by hand', () => {
  const errors = measureErrors([10, 0, 4], [12, 1, 2], 2)
  expect(errors).toMatchObject({ count: 3, bias: 1 / 3, mae: 5 / 3, mase: 5 / 6 })
  expect(errors.rmse).toBeCloseTo(Math.sqrt(3), 12)
  expect(errors.mape).toBeCloseTo(((0.2 + 0.5) / 2) * 100, 12)
  expect(measureErrors([0, 0], [1, 1], null)).toMatchObject({ mape: null, mase: null })
  expect(naiveScale([1, 4, 2], 1)).toBe(2.5)
  expect(naiveScale([1], 1)).toBeNull()
})

it('safety stock: 95 %, 12 a month of 30 days, 15 days → 1.644854 × 12 × √½', () => {
  expect(safetyStock({ deviation: 12, periodDays: 30, leadDays: 15, service: 0.95 })).toBeCloseTo(
    1.644854 * 12 * Math.SQRT1_2,
    5,
  )
  expect(safetyStock({ deviation: 12, periodDays: 30, leadDays: 0, service: 0.95 })).toBe(0)
})

it('normal quantiles and probabilities are each other’s inverse', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 1 - 1e-6, noNaN: true }), (p) => {
      expect(Math.abs(normalCdf(normalQuantile(p)) - p)).toBeLessThan(1e-9)
    }),
  )
  expect(() => normalQuantile(0)).toThrow(RangeError)
})

describe('a total is spread', () => {
  it.each([
    [10n, [1, 1, 1], [4n, 3n, 3n]],
    [7n, [0, 0], [4n, 3n]],
    [100n, [1, 2, 1], [25n, 50n, 25n]],
    [5n, [], []],
    [1n, [0.2, 0.5, 0.3], [0n, 1n, 0n]],
  ] as const)('%s by %j', (total, weights, parts) => {
    expect(spreadTotal(total, [...weights])).toEqual(parts)
  })
  it('without loss, each part within one step of its share', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 0n, max: 10_000n }),
        fc.array(fc.integer({ min: 0, max: 100 }), { minLength: 1, maxLength: 20 }),
        (total, weights) => {
          const parts = spreadTotal(total, weights)
          const sum = weights.reduce((a, b) => a + b, 0)
          expect(parts.reduce((a, b) => a + b, 0n)).toBe(total)
          parts.forEach((part, index) => {
            expect(
              Math.abs(Number(part) - Number(total) * (sum === 0 ? 1 / weights.length : weights[index]! / sum)),
            ).toBeLessThan(1 + 1e-6)
          })
        },
      ),
    )
  })
})

it('the shape of a year: the mean of the same months of the last three, nought where nothing is known', () => {
  const periods = periodsBetween('2023-01-01', '2025-12-31', 'month')
  const history = {
    periods,
    series: { values: periods.map(({ first }) => Number(first.slice(5, 7)) + Number(first.slice(0, 4)) - 2023) },
  }
  expect(shapeOf(history, periodsBetween('2026-03-01', '2026-05-31', 'month'), 'month')).toEqual([4, 5, 6])
  expect(shapeOf(null, periodsBetween('2026-03-01', '2026-04-30', 'month'), 'month')).toEqual([0, 0])
  const weeks = periodsBetween('2025-10-06', '2025-10-19', 'week')
  expect(
    shapeOf({ periods: weeks, series: { values: [3, 8] } }, periodsBetween('2026-10-05', '2026-10-18', 'week'), 'week'),
  ).toEqual([3, 8])
})

describe('forecasts become whole finest steps', () => {
  it.each([
    [[0.4, 0.4, 0.4, 0.4, 0.4], '1', ['0', '1', '0', '1', '0']],
    [[2.4999, 2.6], '0.5', ['2.5', '2.5']],
    [[-3, 1], '1', ['0', '1']],
    [[7], '0.001', ['7']],
  ] as const)('%j by %s → %j', (values, step, whole) => {
    expect(roundForecasts([...values], ratio(step)).map(toText)).toEqual(whole)
  })
  it('the running total is never more than half a step off', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 50, noNaN: true }), { minLength: 1, maxLength: 30 }),
        fc.constantFrom('1', '0.25', '5'),
        (values, step) => {
          let [exact, rounded] = [0, 0]
          roundForecasts(values, ratio(step)).forEach((first, index) => {
            exact += values[index]!
            rounded += Number(first.valueOf())
            expect(Math.abs(exact - rounded)).toBeLessThanOrEqual(Number(step) / 2 + 1e-6)
            expect(first.compare(ratio(0))).toBeGreaterThanOrEqual(0)
          })
        },
      ),
    )
  })
  it('what is no number is refused', () => {
    expect(() => roundForecasts([NaN], ratio('1'))).toThrow(RangeError)
  })
})

it('the search finds the bottom of a bowl, and of one that lies in a corner', () => {
  expect(minimise(([a, b]) => (a! - 0.3) ** 2 + 4 * (b! - 0.8) ** 2, [[0.5, 0.1]]).value).toBeLessThan(1e-8)
  expect(minimise(([a, b]) => (a! - 2) ** 2 + (b! + 1) ** 2, [[0.5, 0.5]]).x).toEqual([1, 0])
})
