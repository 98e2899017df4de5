import { describe, expect, it } from 'vitest'
import { periodsAround } from './date-periods'

const written = (today: string): string[] =>
  periodsAround(today).map(({ name, from, until }) => `${name}: ${from} … ${until}`)

describe('the periods around a day', () => {
  it('in the autumn', () => {
    expect(written('2026-10-05')).toEqual([
      'This month: 2026-10-01 … 2026-10-31',
      'Last month: 2026-09-01 … 2026-09-30',
      'This quarter: 2026-10-01 … 2026-12-31',
      'Last quarter: 2026-07-01 … 2026-09-30',
      'This year: 2026-01-01 … 2026-12-31',
      'Last year: 2025-01-01 … 2025-12-31',
    ])
  })
  it('over the turn of a year, and in the February of a leap year', () => {
    expect(written('2027-01-31').slice(0, 4)).toEqual([
      'This month: 2027-01-01 … 2027-01-31',
      'Last month: 2026-12-01 … 2026-12-31',
      'This quarter: 2027-01-01 … 2027-03-31',
      'Last quarter: 2026-10-01 … 2026-12-31',
    ])
    expect(written('2028-03-01')[1]).toBe('Last month: 2028-02-01 … 2028-02-29')
  })
})
