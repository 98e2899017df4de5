import { describe, expect, it } from 'vitest'
import type { PlanNode, Source } from '~~/core/planning/input'
import { describeMessage } from '~~/core/planning/explain'
import { buy, demand, make, node, orders, planned } from './snapshots'

const withGift = (
  source: Source,
  gift: { readonly node: string; readonly numerator: string; readonly denominator: string },
): Source => ({ ...(source as Extract<Source, { kind: 'make' }>), byProducts: [{ ...gift, fixedNumerator: '0' }] })

describe('what orders bring beside is netted', () => {
  it.each(['STRIP', 'ASTRIP'])(
    'whatever the order of ids: cutting ten boards brings ten of %s, and none is bought',
    (strip) => {
      const board = node(
        'BOARD',
        0,
        withGift(make([['SHEET', '1']]), { node: strip, numerator: '1', denominator: '1' }),
      )
      const output = planned(
        [board, node('SHEET', 0, buy()), node(strip, 0, buy())],
        [demand('so', 'BOARD', '2026-10-12', 10), demand('so2', strip, '2026-10-14', 10)],
      )
      expect(orders(output)).toEqual(['make 10 BOARD 2026-10-12→2026-10-12', 'buy 10 SHEET 2026-10-12→2026-10-12'])
      expect(output.messages).toEqual([])
    },
  )
  it('what is given is also there before its own components are ordered', () => {
    const board = node('BOARD', 0, withGift(make([['SHEET', '1']]), { node: 'A', numerator: '1', denominator: '1' }))
    const output = planned(
      [board, node('SHEET', 0, buy()), node('A', 0, make([['B', '2']])), node('B', 0, buy())],
      [demand('so', 'BOARD', '2026-10-12', 6), demand('so2', 'A', '2026-10-14', 10)],
    )
    expect(orders(output)).toContain('make 4 A 2026-10-14→2026-10-14')
    expect(orders(output)).toContain('buy 8 B 2026-10-14→2026-10-14')
  })
  it('in whole steps rounded down, once for an order: 7 × ½ and 3 × ½ bring 3 and 1, and so 6 of 10 are bought', () => {
    const board = node(
      'BOARD',
      0,
      withGift(make([['SHEET', '1']]), { node: 'STRIP', numerator: '1', denominator: '2' }),
    )
    const output = planned(
      [board, node('SHEET', 0, buy()), node('STRIP', 0, buy())],
      [
        demand('so1', 'BOARD', '2026-10-12', 7),
        demand('so2', 'BOARD', '2026-10-13', 3),
        demand('so3', 'STRIP', '2026-10-14', 10),
      ],
    )
    expect(orders(output)).toContain('buy 6 STRIP 2026-10-14→2026-10-14')
  })
})

describe('what comes round in a circle', () => {
  const blank = (own: string, quantity: number): PlanNode =>
    node(own, 0, {
      kind: 'break down',
      recipe: 'r',
      from: 'SHEET',
      take: 1,
      outputs: [
        { node: 'A4', quantity: 4 },
        { node: 'A5', quantity },
      ],
      leadDays: 0,
      calendar: null,
    })
  const output = planned(
    [blank('A4', 2), blank('A5', 2), node('SHEET', 0, buy())],
    [demand('so', 'A4', '2026-10-12', 8), demand('so2', 'A5', '2026-10-13', 10)],
  )
  it('is netted where its receiver comes after, in the order of ids', () => {
    // Two sheets for the A4 bring four A5; the other six take three sheets, which bring twelve A4 that nobody asked
    // for.
    expect(orders(output)).toEqual([
      'break down 8 A4 2026-10-12→2026-10-12',
      'break down 6 A5 2026-10-13→2026-10-13',
      'buy 2 SHEET 2026-10-12→2026-10-12',
      'buy 3 SHEET 2026-10-13→2026-10-13',
    ])
  })
  it('else is in the balance, which adds up, and is told', () => {
    const line = output.nodes.find((entry) => entry.id === 'A4')!
    expect(line.days.at(-1)).toMatchObject({ day: '2026-10-13', plannedReceipts: 12, projectedAvailable: 12 })
    expect(output.messages).toEqual([{ code: 'not netted', node: 'A4', day: '2026-10-13', quantity: 12, by: 'A5' }])
    const words = { item: (id: string) => id, quantity: (_: string, n: number) => `${n} pc`, day: (d: string) => d }
    expect(describeMessage(output.messages[0]!, { ...words, ref: (id) => id })).toBe(
      'A4: 12 pc come from 2026-10-13 on with orders for A5, in a circle with it. They are in its balance, but no order of it is smaller for them.',
    )
  })
})
