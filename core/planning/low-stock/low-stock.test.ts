import { describe, expect, it } from 'vitest'
import { lowStock } from './low-stock'
import type { PlanInput, PlanNode, Source } from '../input'

const week = { weekdays: [true, true, true, true, true, false, false], closed: [] }
const buy = (leadDays: number): Source => ({ kind: 'buy', supplier: 's', leadDays, calendar: 'week' })
const node = (id: string, onHand: number, safety: number, source: Source, more: Partial<PlanNode> = {}): PlanNode => ({
  id,
  safety,
  onHand: [{ lot: null, quantity: onHand, expiresOn: null }],
  source,
  ...more,
})
const input = (
  nodes: PlanNode[],
  wanted: [string, string, number][],
  supplies: PlanInput['supplies'] = [],
): PlanInput => ({
  start: '2026-10-05',
  end: '2026-12-31',
  calendars: { week },
  nodes,
  supplies,
  demands: wanted.map(([id, day, quantity], index) => ({
    id: `d${index}`,
    node: id,
    day,
    quantity,
    kind: 'sales order',
    label: '',
    priority: 0,
  })),
})
const describeLine = (given: PlanInput, until = '2026-10-12'): string[] => {
  const found = lowStock(given, until)
  return found.ok
    ? found.value.map(
        (match) =>
          `${match.node} ${match.left}/${match.keep} on ${match.lowOn}, ${match.kind ?? 'nothing'} ${match.quantity} by ${match.orderBy}${match.lateBy > 0 ? `, ${match.lateBy} late` : ''}`,
      )
    : [found.error.code]
}

describe('what runs low ahead of its lead time', () => {
  // 20 there, 8 to keep, 15 wanted on Monday 19 October: 5 are left. Five working days before that, the lead time, is
  // Monday 12 October.
  const lath = (onHand: number): PlanInput => input([node('lath', onHand, 8, buy(5))], [['lath', '2026-10-19', 15]])
  it('is told when its last day to order comes within what is looked at, and not before', () => {
    expect(describeLine(lath(20))).toEqual(['lath 5/8 on 2026-10-19, buy 3 by 2026-10-12'])
    expect(describeLine(lath(20), '2026-10-11')).toEqual([])
    expect(describeLine(lath(23))).toEqual([])
  })
  it('past the last day it says by how many working days: 30 of lead time, 10 until then', () => {
    expect(describeLine(input([node('lath', 20, 8, buy(30))], [['lath', '2026-10-19', 15]]), '2026-10-05')).toEqual([
      'lath 5/8 on 2026-10-19, buy 3 by 2026-09-07, 20 late',
    ])
  })
  it('what is ordered counts, though not where it comes too late to be pulled in', () => {
    const coming = (day: string): PlanInput['supplies'] => [
      { id: 'p', node: 'lath', day, quantity: 10, kind: 'purchase order', label: 'PO' },
    ]
    expect(describeLine({ ...lath(20), supplies: coming('2026-10-16') })).toEqual([])
    expect(describeLine({ ...lath(20), pullIn: false, supplies: coming('2026-10-26') })).toEqual([
      'lath 5/8 on 2026-10-19, buy 3 by 2026-10-12',
    ])
  })
  it('a part is low because of what is to be built from it; what nothing supplies is told by its day; what is handed through is not', () => {
    const made: Source = {
      kind: 'make',
      structure: 'b',
      leadDays: 2,
      calendar: 'week',
      components: [{ node: 'lath', numerator: '4', fixedNumerator: '0', denominator: '1' }],
    }
    expect(
      describeLine(input([node('frame', 0, 0, made), node('lath', 10, 0, buy(3))], [['frame', '2026-10-14', 5]])),
    ).toEqual(['lath -10/0 on 2026-10-12, buy 10 by 2026-10-07', 'frame -5/0 on 2026-10-14, make 5 by 2026-10-12'])
    expect(describeLine(input([node('odd', 2, 5, { kind: 'none', reason: 'no source' })], []))).toEqual([
      'odd 2/5 on 2026-10-05, nothing 3 by 2026-10-05',
    ])
    expect(
      describeLine(
        input(
          [node('set', 0, 0, { ...made, isPassThrough: true }), node('lath', 100, 0, buy(3))],
          [['set', '2026-10-07', 5]],
        ),
      ),
    ).toEqual([])
  })
  it('a site that is filled up is told at its reorder point', () => {
    expect(
      describeLine(
        input(
          [
            node(
              'kit@3',
              5,
              4,
              { kind: 'move', from: 'kit', leadDays: 2, calendar: 'week' },
              { rule: { kind: 'up to', reorderPoint: 6, maximum: 12 } },
            ),
            node('kit', 50, 0, buy(5)),
          ],
          [],
        ),
      ),
    ).toEqual(['kit@3 5/6 on 2026-10-05, move 7 by 2026-10-01, 2 late'])
  })
})
