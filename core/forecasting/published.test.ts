import { describe, expect, it } from 'vitest'
import { measureErrors, naiveScale } from './measures'
import { methodOf } from './methods'
import { normalQuantile } from './normal'
import type { MethodName } from './series'
import published from './published.json'

// Computed by R 4.2.2 (stats, forecast 8.20) on published series; the file says how, and where the series come from.
const { AirPassengers: air, Nile: nile, intermittent } = published
const monthly = { values: air.values, period: 12 }
const yearly = { values: nile.values, period: 1 }
const near = (own: number, theirs: number): void => {
  expect(Math.abs(own - theirs)).toBeLessThanOrEqual(1e-6 * Math.max(1e-3, Math.abs(theirs)))
}
const nearAll = (own: readonly number[], theirs: readonly number[]): void => {
  expect(own.length).toBe(theirs.length)
  theirs.forEach((value, index) => {
    near(own[index]!, value)
  })
}

describe('with R’s weights and starting rules, level, trend, season and forecasts are R’s', () => {
  it.each([
    ['seasonal smoothing, added', air.additive],
    ['seasonal smoothing, multiplied', air.multiplicative],
  ] as const)('%s on the airline passengers', (name, r) => {
    const applied = methodOf(name).apply(monthly, { alpha: r.alpha, beta: r.beta, gamma: r.gamma })
    near(applied.state.level as number, r.finalLevel)
    near(applied.state.trend as number, r.finalTrend)
    nearAll(applied.state.season as number[], r.finalSeason)
    near(applied.state.sse as number, r.sse)
    nearAll(applied.forecast(12), r.forecast12)
  })
  it('simple and trend smoothing on the Nile', () => {
    const simple = methodOf('simple smoothing').apply(yearly, { alpha: nile.ses.alpha })
    near(simple.state.level as number, nile.ses.finalLevel)
    near(simple.state.sse as number, nile.ses.sse)
    const trend = methodOf('trend smoothing').apply(yearly, { alpha: nile.holt.alpha, beta: nile.holt.beta })
    near(trend.state.level as number, nile.holt.finalLevel)
    near(trend.state.trend as number, nile.holt.finalTrend)
    near(trend.state.sse as number, nile.holt.sse)
    nearAll(trend.forecast(5), nile.holt.forecast5)
  })
  it('the seasonal naive method, and its error measures over 1960', () => {
    expect(methodOf('naive').apply(monthly, {}).forecast(12)).toEqual(air.seasonalNaive.forecast12)
    const [training, test] = [air.values.slice(0, -12), air.values.slice(-12)]
    const errors = measureErrors(
      test,
      methodOf('naive').apply({ values: training, period: 12 }, {}).forecast(12),
      naiveScale(training, 12),
    )
    near(errors.mae, air.accuracy.MAE)
    near(errors.rmse, air.accuracy.RMSE)
    near(errors.mape!, air.accuracy.MAPE)
    near(errors.mase!, air.accuracy.MASE)
  })
  it.each(intermittent)('Croston’s method with weight $alpha', ({ alpha, series, forecastPerPeriod }) => {
    near(methodOf('intermittent').apply({ values: series, period: 1 }, { alpha }).forecast(1)[0]!, forecastPerPeriod)
  })
})

describe('our own search for the weights ends no more than 0.1 % above R’s sum of squares', () => {
  const sse = (name: MethodName, series: typeof monthly): number =>
    methodOf(name).apply(series, methodOf(name).tune(series)).state.sse as number
  it.each([
    ['seasonal smoothing, added', monthly, air.additive.sse],
    ['seasonal smoothing, multiplied', monthly, air.multiplicative.sse],
    ['simple smoothing', yearly, nile.ses.sse],
    ['trend smoothing', yearly, nile.holt.sse],
  ] as const)('%s', (name, series, theirs) => {
    expect(sse(name, series)).toBeLessThanOrEqual(theirs * 1.001)
  })
})

// Standard normal distribution tables.
it.each([
  [0.9, 1.281552],
  [0.95, 1.644854],
  [0.975, 1.959964],
  [0.99, 2.326348],
  [0.5, 0],
  [0.01, -2.326348],
])('the normal quantile at %d is %d', (p, z) => {
  expect(normalQuantile(p)).toBeCloseTo(z, 6)
})
