import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { toDay, toIso } from '~~/core/calendar/days'
import type { NodePlan, PlanDay } from '~~/core/planning/explain'
import { bucketsOf, cellsOf, drawCell, type BoardCell } from './use-board'
import { lateColumns, toOneScale, type BoardRow } from './use-board-rows'

const plain = (iso: string): string => iso
const day = (iso: string, change: Partial<PlanDay>): PlanDay => ({
  day: iso,
  grossRequirements: 0,
  scheduledReceipts: 0,
  netRequirements: 0,
  plannedReceipts: 0,
  plannedReleases: 0,
  projectedAvailable: 0,
  withoutOrders: 0,
  ...change,
})
const node = (days: PlanDay[], onHand = 0): NodePlan => ({ id: 'x', level: 0, onHand, safety: 0, days })

describe('the columns of the board', () => {
  it('weeks begin on Monday; the first and last may be shorter', () => {
    expect(bucketsOf('2026-10-07', '2026-10-20', 'weeks', plain).map((b) => [b.first, b.last])).toEqual([
      ['2026-10-07', '2026-10-11'],
      ['2026-10-12', '2026-10-18'],
      ['2026-10-19', '2026-10-20'],
    ])
  })
  it('months run over the year’s end', () => {
    expect(bucketsOf('2026-11-20', '2027-01-05', 'months', plain).map((b) => [b.first, b.last])).toEqual([
      ['2026-11-20', '2026-11-30'],
      ['2026-12-01', '2026-12-31'],
      ['2027-01-01', '2027-01-05'],
    ])
  })
  it('every day of the plan lies in exactly one column (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 }),
        fc.integer({ min: 0, max: 120 }),
        fc.constantFrom('days' as const, 'weeks' as const, 'months' as const),
        (from, span, grain) => {
          const start = toDay('2026-10-05') + from
          const buckets = bucketsOf(toIso(start), toIso(start + span), grain, plain)
          for (let d = start; d <= start + span; d++) {
            expect(buckets.filter((b) => b.first <= toIso(d) && toIso(d) <= b.last)).toHaveLength(1)
          }
          expect([buckets[0]!.first, buckets.at(-1)!.last]).toEqual([toIso(start), toIso(start + span)])
        },
      ),
    )
  })
})

describe('the cells of a row', () => {
  const buckets = bucketsOf('2026-10-05', '2026-10-25', 'weeks', plain)
  it('sum what flows and show the balance at the end of each; a quiet week keeps it', () => {
    const cells = cellsOf(
      node(
        [
          day('2026-10-05', { projectedAvailable: 10, withoutOrders: 10 }),
          day('2026-10-06', { grossRequirements: 4, projectedAvailable: 6, withoutOrders: 6 }),
          day('2026-10-08', {
            grossRequirements: 9,
            netRequirements: 3,
            plannedReceipts: 5,
            projectedAvailable: 2,
            withoutOrders: -3,
          }),
          day('2026-10-20', { scheduledReceipts: 8, projectedAvailable: 10, withoutOrders: 5 }),
        ],
        10,
      ),
      buckets,
    )
    expect(
      cells.map((c) => [
        c.grossRequirements,
        c.netRequirements,
        c.plannedReceipts,
        c.scheduledReceipts,
        c.projectedAvailable,
        c.withoutOrders,
        c.lowest,
      ]),
    ).toEqual([
      [13, 3, 5, 0, 2, -3, -3],
      [0, 0, 0, 0, 2, -3, -3],
      [0, 0, 0, 8, 10, 5, 5],
    ])
  })
  it('a row on which nothing happens shows what is on hand', () => {
    expect(cellsOf(node([], 7), buckets).map((c) => c.projectedAvailable)).toEqual([7, 7, 7])
  })
})

describe('what is late', () => {
  const buckets = bucketsOf('2026-10-05', '2026-10-25', 'weeks', plain)
  const balanceOf = (...balances: number[]): readonly BoardCell[] =>
    cellsOf(
      node(balances.map((projectedAvailable, at) => day(toIso(toDay('2026-10-05') + at), { projectedAvailable }))),
      buckets,
    )
  it('a week in which the balance falls below zero, though it ends with something', () => {
    expect(lateColumns(balanceOf(4, -2, 3), buckets, [])).toEqual([true, false, false])
    expect(lateColumns(balanceOf(4, 0, 3), buckets, [])).toEqual([false, false, false])
  })
  it('the weeks from the day on which an order is wanted to the day before it can be there', () => {
    const lateIn = (dueOn: string, promisedOn: string): readonly boolean[] =>
      lateColumns(balanceOf(1), buckets, [{ dueOn, promisedOn }])
    expect(lateIn('2026-10-09', '2026-10-14')).toEqual([true, true, false])
    // There on Monday: the week that then begins has it all the time.
    expect(lateIn('2026-10-09', '2026-10-12')).toEqual([true, false, false])
    expect(lateIn('2026-10-18', '2026-10-19')).toEqual([false, true, false])
    expect(lateIn('2026-12-01', '2026-12-03')).toEqual([false, false, false])
  })
})

describe('one scale for all rows of a unit', () => {
  const row = (symbol: string, step: string, top: number, bottom: number): BoardRow =>
    ({ item: { symbol, step }, top, bottom }) as BoardRow
  it('is that of the row that needs most room, whatever the finest steps; other units have their own', () => {
    const rows = toOneScale([row('m', '1', 20, -5), row('m', '0.01', 1000, -800), row('pc', '1', 7, -1)])
    expect(rows.map((each) => [each.top, each.bottom])).toEqual([
      [20, -8],
      [2000, -800],
      [7, -1],
    ])
  })
})

describe('the drawing of a cell', () => {
  const cell = (change: Partial<BoardCell>): BoardCell => ({
    grossRequirements: 0,
    scheduledReceipts: 0,
    netRequirements: 0,
    plannedReceipts: 0,
    plannedReleases: 0,
    projectedAvailable: 0,
    withoutOrders: 0,
    lowest: 0,
    lowestProjected: 0,
    ...change,
  })
  const scale = { top: 21, bottom: -21, safety: 0, source: 'buy' }
  const rects = (text: string): Record<string, string>[] =>
    [...text.matchAll(/<rect ([^>]*)\/>/g)].map(([, inside]) =>
      Object.fromEntries([...inside!.matchAll(/([\w-]+)="([^"]*)"/g)].map(([, name, value]) => [name!, value!])),
    )
  it('nothing is a line; what is there is solid, as high as it is much: 21 of 42 to scale are half of 42', () => {
    expect(rects(drawCell(cell({}), scale))).toEqual([])
    expect(rects(drawCell(cell({ projectedAvailable: 21, withoutOrders: 21 }), scale))).toMatchObject([
      { y: '2', height: '21', fill: 'var(--maple)' },
    ])
  })
  it('what rests on planned orders stands on what is real, as an outline', () => {
    expect(rects(drawCell(cell({ projectedAvailable: 14, withoutOrders: 7 }), scale))).toMatchObject([
      { y: '16', height: '7', fill: 'var(--maple)' },
      { y: '9', height: '7', fill: 'none', stroke: 'var(--maple)' },
    ])
  })
  it('a hole hangs below the line, dashed; what comes is willow, what is made slate, planned an outline', () => {
    expect(rects(drawCell(cell({ netRequirements: 10 }), scale))).toMatchObject([
      { y: '23', height: '10', 'stroke-dasharray': '4 2', stroke: 'var(--brick)' },
    ])
    // What is on order but comes too late leaves a hole, though nothing new has to be ordered.
    expect(rects(drawCell(cell({ lowestProjected: -10 }), scale))).toMatchObject([{ y: '23', height: '10' }])
    expect(
      rects(drawCell(cell({ scheduledReceipts: 5, plannedReceipts: 5 }), scale)).map((box) =>
        box.fill === 'none' ? box.stroke : box.fill,
      ),
    ).toEqual(['var(--willow)', 'var(--willow)'])
    expect(
      rects(drawCell(cell({ plannedReceipts: 5 }), { ...scale, source: 'make' })).map((box) => box.stroke),
    ).toEqual(['var(--slate)'])
    expect(
      rects(drawCell(cell({ plannedReceipts: 5 }), { ...scale, source: 'move' })).map((box) => box.stroke),
    ).toEqual(['var(--willow)'])
  })
  it('the safety stock is a dotted line where there is one', () => {
    expect(drawCell(cell({}), { ...scale, safety: 7 })).toContain('M0 16H64')
    expect(drawCell(cell({}), scale)).not.toContain('dasharray')
  })
})
