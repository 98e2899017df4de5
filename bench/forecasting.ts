import { forecastItem, historyOf, methodOf, chooseMethod, type DaySale } from '~~/core/forecasting'
import { periodsBetween } from '~~/core/calendar/periods'
import { best, stream, type Figure } from './figure'

const ITEMS = 5000
const MONTHS = 60

/**
 * Best by backtest over all methods for a whole catalogue, as the worker does it: from the days of each item's sales to
 * method, range and sentence.
 */
export async function* run(): AsyncGenerator<Figure> {
  const next = stream(11)
  const months = periodsBetween('2021-10-01', '2026-09-30', 'month')
  const sales = Array.from({ length: ITEMS }, (_, item) => {
    const [level, season, drift, rare] = [5 + next(200), next(80) / 100, (next(200) - 100) / 10_000, item % 5 === 0]
    return months.flatMap((month, index): DaySale[] => {
      if (rare && next(4) > 0) {
        return []
      }
      const mean =
        level * (1 + season * Math.sin((index / 12) * 2 * Math.PI)) * (1 + drift * index) * (0.7 + next(60) / 100)
      return [{ day: month.first, quantity: Math.max(0, Math.round(mean)) }]
    })
  })
  const ahead = periodsBetween('2026-10-01', '2027-03-31', 'month')
  const forecastOne = (own: readonly DaySale[]) =>
    forecastItem({
      history: historyOf({ sales: own, step: 'month', upTo: '2026-09-30' }),
      step: 'month',
      periods: ahead,
      symbol: 'piece',
      wanted: null,
    })
  for (const own of sales.slice(0, 200)) {
    forecastOne(own)
  }
  const all = await best(1, () => {
    for (const own of sales) {
      forecastOne(own)
    }
  })
  const slowest = Math.max(
    ...sales.slice(0, 500).map((own) => {
      const from = performance.now()
      forecastOne(own)
      return performance.now() - from
    }),
  )
  const floor = await best(1, () => {
    for (const own of sales) {
      const values = own.map((sale) => sale.quantity)
      if (values.length > 1) {
        methodOf('naive').apply({ values, period: 12 }, {}).forecast(6)
      }
    }
  })
  const weekly = Array.from({ length: 156 }, (_, index) =>
    Math.round(20 + 10 * Math.sin((index / 52) * 2 * Math.PI) + next(8)),
  )
  const long = await best(5, () => {
    chooseMethod({ values: weekly, period: 52 })
  })
  const figure = (name: string, value: number, unit: string, comparedWith: string, ratio: number): Figure => ({
    bench: 'forecasting',
    figure: name,
    value,
    unit,
    comparedWith,
    ratio,
  })
  yield* [
    figure(
      `best by backtest of ${ITEMS / 1000} 000 items over ${MONTHS} months, all methods`,
      all / 1000,
      's',
      `the 30 s that it may take; repeating last year alone takes ${floor.toFixed(0)} ms`,
      all / 30_000,
    ),
    figure('the slowest of 500 items', slowest, 'ms', 'the 50 ms that it may take', slowest / 50),
    figure('one item over 156 weeks', long, 'ms', 'the 50 ms', long / 50),
  ]
}
