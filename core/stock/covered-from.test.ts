import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, ZERO } from '../units/exact'
import { coveredFrom, type DatedChange } from './covered-from'

const change = (id: string, day: number, quantity: number): DatedChange => ({
  id,
  day: `2026-10-${String(day).padStart(2, '0')}`,
  quantity: ratio(quantity),
})
const days = (onHand: number, ...changes: DatedChange[]): [string, string | null][] => [
  ...coveredFrom(ratio(onHand), changes),
]

describe('from which day on a demand is covered', () => {
  it('its own day where there is enough, else the arrival that completes it', () => {
    expect(days(2, change('a', 8, -3), change('b', 10, -3), change('in', 9, 4))).toEqual([
      ['a', '2026-10-09'],
      ['b', '2026-10-10'],
    ])
  })
  it('never, where all that comes does not suffice; the earlier demand comes first', () => {
    expect(days(0, change('late', 12, -2), change('soon', 8, -3), change('in', 9, 4))).toEqual([
      ['soon', '2026-10-09'],
      ['late', null],
    ])
  })
  it('an arrival that is moved later makes late what it served', () => {
    const orders = [change('a', 8, -2), change('b', 14, -2)]
    expect(days(2, ...orders, change('in', 10, 2))).toEqual([
      ['a', '2026-10-08'],
      ['b', '2026-10-14'],
    ])
    expect(days(2, ...orders, change('in', 16, 2))).toEqual([
      ['a', '2026-10-08'],
      ['b', '2026-10-16'],
    ])
  })

  const changes = fc
    .array(fc.tuple(fc.integer({ min: 1, max: 28 }), fc.integer({ min: -9, max: 9 })), { maxLength: 14 })
    .map((rows) => rows.map(([day, quantity], at) => change(`c${String(at).padStart(2, '0')}`, day, quantity)))
  it('agrees with a look at every day: the first one by which all that is wanted up to it has come (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 12 }), changes, (onHand, rows) => {
        const order = (a: DatedChange, b: DatedChange): number => (`${a.day}${a.id}` < `${b.day}${b.id}` ? -1 : 1)
        const demands = rows.filter((row) => row.quantity.compare(ZERO) < 0).sort(order)
        const covered = coveredFrom(ratio(onHand), rows)
        let wanted = 0
        for (const demand of demands) {
          wanted -= Number(demand.quantity)
          const by = (day: string): number =>
            onHand +
            rows.reduce(
              (sum, row) => sum + (row.quantity.compare(ZERO) > 0 && row.day <= day ? Number(row.quantity) : 0),
              0,
            )
          let first: string | null = null
          for (let day = 28; day >= 1; day--) {
            const iso = change('', day, 0).day
            if (iso >= demand.day && by(iso) >= wanted) {
              first = iso
            }
          }
          expect(covered.get(demand.id)).toBe(first)
        }
      }),
    )
  })
})
