import { expect, it } from 'vitest'
import type { TimelineRow } from '~~/shared/catalogue/answers'
import { balanceWeeks } from './balance-weeks'

const row = (day: string, change: string, balance: string): TimelineRow => ({
  day,
  change,
  balance,
  kind: 'sales order',
  label: `${change} on ${day}`,
  link: '/',
})

it('a balance by weeks: what is overdue counts now, quiet weeks keep what there is, the least day is told', () => {
  const weeks = balanceWeeks(
    [
      row('2026-10-01', '-2', '3'),
      row('2026-10-09', '-4.5', '-1.5'),
      row('2026-10-11', '10', '8.5'),
      row('2026-10-20', '-1', '7.5'),
      row('2026-12-24', '-7', '0.5'),
    ],
    '5',
    '2026-10-07',
    3,
  )
  expect(weeks.map(({ first, last, balance, lowest }) => [first, last, balance, lowest])).toEqual([
    ['2026-10-07', '2026-10-11', '8.5', '-1.5'],
    ['2026-10-12', '2026-10-18', '8.5', '8.5'],
    ['2026-10-19', '2026-10-25', '7.5', '7.5'],
  ])
  expect(weeks[0]!.cell).toMatchObject({ scheduledReceipts: 10, projectedAvailable: 8.5, lowestProjected: -1.5 })
  expect(weeks[0]!.labels).toHaveLength(3)
})
it('with nothing to come it stays what is on hand', () => {
  expect(balanceWeeks([], '4', '2026-10-05', 2).map((week) => week.balance)).toEqual(['4', '4'])
})
