import { computed } from 'vue'
import { beforeAll, describe, expect, it } from 'vitest'
import type { HistoryAnswer } from '~~/shared/demand/history'
import { correctionFor, useSalesYears, type SalesMeasure } from './use-sales-years'

beforeAll(() => {
  // What Nuxt would import by itself.
  Object.assign(globalThis, {
    computed,
    useSession: () => ({ today: '2026-03-15' }),
    usePrint: () => ({ amount: (text: string) => text }),
    monthName: (month: number) => `month ${month + 1}`,
  })
})

const period = (first: string, last: string, quantity: string, value: string, cost: string | null) => ({
  first,
  last,
  quantity,
  value,
  cost,
})
const HISTORY: HistoryAnswer = {
  symbol: 'pc',
  periods: [
    period('2025-01-01', '2025-01-31', '10', '20000', '12000'),
    period('2025-02-01', '2025-02-28', '5', '10000', '6000'),
    period('2026-01-01', '2026-01-31', '12', '25000', '15000'),
    period('2026-02-01', '2026-02-28', '4', '8000', null),
    period('2026-03-01', '2026-03-31', '1', '2000', '1200'),
  ],
  corrections: [
    { id: 1, firstOn: '2025-01-01', lastOn: '2025-01-31', quantity: '4', reason: 'one large order', who: 'Ines' },
  ],
  borrowing: null,
  lentTo: [],
}
const years = (measure: SalesMeasure, history: HistoryAnswer = HISTORY) =>
  useSalesYears(
    () => history,
    () => 'month',
    () => measure,
  )

describe('sales, year beside year', () => {
  it('stand in the row of their month and the column of their year', () => {
    const { table, years: columns } = years('quantity')
    expect(columns.value).toEqual(['2025', '2026'])
    expect(table.value.map((row) => [row.name, ...row.cells.map((cell) => cell?.quantity ?? null)])).toEqual([
      ['month 1', '10', '12'],
      ['month 2', '5', '4'],
      ['month 3', null, '1'],
    ])
  })
  it('are summed by year: units as they are, money in major units', () => {
    expect(years('quantity').totals.value).toEqual([15, 17])
    expect(years('value').totals.value).toEqual([300, 350])
  })
  it('are held against the year before like for like: only the months that both have to their ends', () => {
    // 12 + 4 against 10 + 5 in January and February; March is not over, and was not sold in before.
    expect(years('quantity').changes.value).toEqual([null, { percent: 7, periods: 2, isWhole: false }])
    const fromApril = Array.from({ length: 9 }, (_, i) => {
      const month = String(i + 4).padStart(2, '0')
      return period(`2024-${month}-01`, `2024-${month}-28`, '100', '0', null)
    })
    const wholeYear = Array.from({ length: 12 }, (_, i) => {
      const month = String(i + 1).padStart(2, '0')
      return period(`2025-${month}-01`, `2025-${month}-28`, i < 3 ? '60' : '112', '0', null)
    })
    // 12 months of 2025 are 1 188, 32 % above nine months of 2024; of the same nine they are 12 % above.
    expect(years('quantity', { ...HISTORY, periods: [...fromApril, ...wholeYear] }).changes.value).toEqual([
      null,
      { percent: 12, periods: 9, isWhole: false },
    ])
  })
  it('have no margin in a year of which a cost is not known', () => {
    // 200 + 100 − 120 − 60 = 120
    expect(years('margin').totals.value).toEqual([120, null])
  })
  it('are counted in money where several units would be mixed', () => {
    const { shown, figure } = years('quantity', { ...HISTORY, symbol: null })
    expect([shown.value, figure(HISTORY.periods[0]!)]).toEqual(['value', 200])
  })
  it('are drawn as far as months are over', () => {
    const { chart } = years('quantity')
    expect(chart.value.series).toEqual([
      { name: '2025', data: [10, 5, null] },
      { name: '2026', data: [12, 4, null] },
    ])
  })
})

it('a correction counts for the periods that it covers', () => {
  expect(HISTORY.periods.map((row) => correctionFor(HISTORY, row)?.quantity ?? null)).toEqual([
    '4',
    null,
    null,
    null,
    null,
  ])
  expect(correctionFor(null, HISTORY.periods[0]!)).toBeUndefined()
})
