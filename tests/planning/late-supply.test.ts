import { describe, expect, it } from 'vitest'
import { plan } from '~~/core/planning'
import { describeMessage, type PlanMessage, type PlanOutput } from '~~/core/planning/explain'
import { demandsAtRisk } from '~~/core/planning/what-if'
import type { PlanInput, Supply } from '~~/core/planning/input'
import { buy, demand, input, make, node, orders, planned, supply } from './snapshots'

/*
 * All expectations by hand: 5 October 2026 is a Monday; eight working days from it is Thursday, the 15th.
 */
const drum = node('drum', 0, buy({ leadDays: 8, calendar: 'week' }))
const wanted = demand('so', 'drum', '2026-10-08', 137)
const ordered = (day: string, quantity: number, earliest?: string): Supply => ({
  ...supply('po', 'drum', day, quantity),
  ...(earliest === undefined ? {} : { earliest }),
})
const lateOnes = (output: PlanOutput): readonly PlanMessage[] => output.messages.filter((m) => m.code === 'late supply')
const balance = (output: PlanOutput, day: string): number | undefined =>
  output.nodes.find((entry) => entry.id === 'drum')!.days.find((entry) => entry.day === day)?.projectedAvailable
const atRisk = (snapshot: PlanInput): string[] => {
  const done = plan(snapshot)
  if (!done.ok) {
    throw new Error(done.error.code)
  }
  return [...demandsAtRisk(snapshot, done.value)]
}

describe('what was ordered late stays late', () => {
  it('before it is ordered: eight working days of lead time for what is needed in three', () => {
    const output = planned([drum], [wanted])
    expect(output.orders[0]).toMatchObject({ due: '2026-10-08', lateBy: 5, promised: '2026-10-15' })
    expect(atRisk(input([drum], [wanted]))).toEqual(['so'])
  })
  it('once it is ordered for the promised day: nothing is bought again, the shortage and who waits stay', () => {
    const supplies = [ordered('2026-10-15', 137, '2026-10-15')]
    const output = planned([drum], [wanted], supplies)
    expect(output.orders).toEqual([])
    expect(lateOnes(output)).toEqual([
      {
        code: 'late supply',
        node: 'drum',
        day: '2026-10-08',
        quantity: 137,
        supply: 'po',
        comes: '2026-10-15',
        waiting: ['so'],
      },
    ])
    expect([balance(output, '2026-10-08'), balance(output, '2026-10-15')]).toEqual([-137, 0])
    expect(output.pegs).toEqual([{ supply: 'po', demand: 'so', quantity: 137 }])
    expect(atRisk(input([drum], [wanted], supplies))).toEqual(['so'])
  })
  it('says so in a sentence', () => {
    const [message] = lateOnes(planned([drum], [wanted], [ordered('2026-10-15', 137, '2026-10-15')]))
    const words = { item: (id: string) => id, quantity: (_: string, n: number) => `${n} L`, day: (d: string) => d }
    expect(describeMessage(message!, { ...words, ref: (id) => id.toUpperCase() })).toBe(
      'PO: 137 L of drum short from 2026-10-08 on; it comes on 2026-10-15, and a new order would not be sooner; SO waits for it.',
    )
  })
  it('open supply that says no earliest day is pulled in to the day of need', () => {
    const output = planned([drum], [wanted], [ordered('2026-10-15', 137)])
    expect(output.messages.map((m) => [m.code, m.day])).toEqual([['pull in', '2026-10-08']])
    expect(lateOnes(output)).toEqual([])
  })
  it('what can come sooner than it is due, but not soon enough, is pulled in as far as it can be', () => {
    const output = planned([drum], [wanted], [ordered('2026-10-15', 137, '2026-10-12')])
    expect(output.orders).toEqual([])
    expect(output.messages.map((m) => [m.code, m.day])).toEqual([
      ['pull in', '2026-10-12'],
      ['late supply', '2026-10-08'],
    ])
    expect([balance(output, '2026-10-08'), balance(output, '2026-10-12')]).toEqual([-137, 0])
  })
  it('what is missing beyond it is ordered, once', () => {
    const more = [wanted, demand('so2', 'drum', '2026-10-09', 63)]
    const output = planned([drum], more, [ordered('2026-10-15', 137, '2026-10-15')])
    expect(orders(output)).toEqual(['buy 63 drum 2026-10-05→2026-10-09'])
    expect(output.orders[0]!.why).toMatchObject({
      balanceBefore: -137,
      awaited: 137,
      demandThatDay: 63,
      netRequirement: 63,
    })
  })
  it('where a new order could be sooner, it is planned as usual', () => {
    const waiting = { ...drum, pullInDays: 60 }
    const output = planned([waiting], [wanted], [ordered('2026-11-20', 137, '2026-11-20')])
    expect(orders(output)).toEqual(['buy 137 drum 2026-10-05→2026-10-08'])
    expect(output.messages.map((m) => m.code)).toEqual(['late order', 'surplus'])
  })
  it('one that can come by the day goes before one that cannot', () => {
    const output = planned(
      [drum],
      [wanted],
      [ordered('2026-10-12', 137, '2026-10-12'), supply('po2', 'drum', '2026-10-13', 137)],
    )
    expect(output.messages.map((m) => [m.code, m.day])).toEqual([
      ['pull in', '2026-10-08'],
      ['surplus', '2026-10-12'],
    ])
  })
  it('where only the safety stock is short until then, nobody waits', () => {
    const output = planned([{ ...drum, safety: 20 }], [], [ordered('2026-10-15', 137, '2026-10-15')])
    expect(output.orders).toEqual([])
    expect(lateOnes(output)).toMatchObject([{ day: '2026-10-05', quantity: 20, waiting: [] }])
  })
})

describe('what waits for what is late is late too', () => {
  const lamp = node('lamp', 0, make([['drum', '1']], 2))
  const job: Supply = { ...supply('job', 'lamp', '2026-10-08', 5), kind: 'build' }
  it('an order that is served by an open build, which waits for its component', () => {
    const needs = [
      demand('so', 'lamp', '2026-10-08', 5),
      { ...demand('job>drum', 'drum', '2026-10-06', 5), for: ['job'] },
    ]
    const late = input([lamp, drum], needs, [job, ordered('2026-10-15', 137, '2026-10-15')])
    expect(atRisk(late).sort()).toEqual(['job>drum', 'so'])
    const inTime = input([lamp, drum], needs, [job, ordered('2026-10-06', 137, '2026-10-06')])
    expect(atRisk(inTime)).toEqual([])
  })
  it('a demand on a node that nothing can be ordered for is served by what comes later, late', () => {
    const odd = { ...node('odd', 0, { kind: 'none', reason: 'no source' }) }
    const snapshot = input([odd], [demand('so', 'odd', '2026-10-08', 4)], [supply('po', 'odd', '2026-10-20', 4)])
    expect(atRisk(snapshot)).toEqual(['so'])
  })
})

describe('who is served first', () => {
  it('what comes after two demands goes to the earlier one', () => {
    const odd = node('odd', 0, { kind: 'none', reason: 'no source' })
    const output = planned(
      [odd],
      [demand('first', 'odd', '2026-10-06', 5), demand('second', 'odd', '2026-10-07', 5)],
      [supply('po', 'odd', '2026-10-15', 5)],
    )
    expect(output.pegs).toEqual([{ supply: 'po', demand: 'first', quantity: 5 }])
  })
  it('what is past due before others, though it matters less; then by priority; then by entry, as numbers', () => {
    const shelf = node('x', 3, { kind: 'none', reason: 'no source' })
    const served = (...demands: Parameters<typeof demand>[]): string[] =>
      planned(
        [shelf],
        demands.map((given, i) => ({ ...demand(...given), priority: i })),
      ).pegs.map((peg) => peg.demand)
    expect(served(['today', 'x', '2026-10-05', 3], ['late', 'x', '2026-10-01', 3])).toEqual(['late'])
    expect(served(['b', 'x', '2026-10-05', 3], ['a', 'x', '2026-10-05', 3])).toEqual(['b'])
    const even = ['1000', '999'].map((id) => demand(id, 'x', '2026-10-05', 3))
    expect(planned([shelf], even).pegs.map((peg) => peg.demand)).toEqual(['999'])
  })
})

describe('why, after something was pulled in', () => {
  it('adds up: 10 wanted − 0 there − 4 pulled in = 6 missing', () => {
    const output = planned([drum], [demand('so', 'drum', '2026-10-20', 10)], [ordered('2026-10-22', 4)])
    expect(output.orders[0]!.why).toMatchObject({
      balanceBefore: 0,
      pulledIn: 4,
      demandThatDay: 10,
      netRequirement: 6,
    })
  })
})
