import { describe, expect, it } from 'vitest'
import { applyWhatIf, type WhatIf } from './what-if'
import { costAt, demandsAtRisk, figuresOf, nearTiers } from './figures'
import { plan } from '..'
import { describeMessage, type PlanOutput } from '../explain'
import { NetPlan } from '../netting'
import type { PlanInput, PlanNode, Source } from '../input'

const buy = (more: Partial<Extract<Source, { kind: 'buy' }>> = {}): Source => ({
  kind: 'buy',
  supplier: 'a',
  leadDays: 5,
  calendar: null,
  ...more,
})
const make = (...parts: [node: string, per: number][]): Source => ({
  kind: 'make',
  structure: 'b',
  leadDays: 2,
  calendar: null,
  components: parts.map(([node, per]) => ({ node, numerator: String(per), fixedNumerator: '0', denominator: '1' })),
})
const node = (id: string, source: Source, more: Partial<PlanNode> = {}): PlanNode => ({
  id,
  safety: 0,
  onHand: [],
  source,
  ...more,
})
const input = (
  nodes: PlanNode[],
  demands: [node: string, day: string, quantity: number, kind?: PlanInput['demands'][number]['kind']][],
  more: Partial<PlanInput> = {},
): PlanInput => ({
  start: '2026-10-05',
  end: '2026-12-31',
  calendars: {},
  nodes,
  supplies: [],
  ...more,
  demands: demands.map(([index, day, quantity, kind = 'sales order'], i) => ({
    id: `d${i}`,
    node: index,
    day,
    quantity,
    kind,
    label: `SO-${i}`,
    priority: 0,
  })),
})
const run = (snapshot: PlanInput): PlanOutput => {
  const done = plan(snapshot)
  if (!done.ok) {
    throw new Error(done.error.code)
  }
  return done.value
}
const orders = (snapshot: PlanInput): string[] =>
  run(snapshot).orders.map((o) => `${o.kind} ${o.quantity} ${o.node} ${o.release.slice(5)}→${o.due.slice(5)}`)
const open = (nodes: PlanNode[], ...supplies: [node: string, day: string, quantity: number][]): Partial<PlanInput> => ({
  supplies: supplies.map(([index, day, quantity], i) => ({
    id: `s${i}`,
    node: index,
    day,
    quantity,
    kind: 'purchase order',
    label: `PO-${i}`,
  })),
})

describe('what if', () => {
  const base = input(
    [
      node('x', buy({ prices: [{ from: 0, price: 100 }] }), { others: [buy({ supplier: 'b', leadDays: 9 })] }),
      node('y', buy({ supplier: 'b' })),
    ],
    [
      ['x', '2026-10-20', 10],
      ['y', '2026-10-20', 4, 'forecast'],
      ['y', '2026-10-21', 3, 'build'],
    ],
  )
  it.each<[string, WhatIf, string[]]>([
    [
      'demand of all a quarter more: 12.5 is 13, 5 forecast, 3 of a build stay',
      { kind: 'demand', nodes: null, percent: 25 },
      ['buy 13 x 10-15→10-20', 'buy 5 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
    [
      'no demand for one',
      { kind: 'demand', nodes: ['x'], percent: -100 },
      ['buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
    [
      'somebody wants 6 more',
      { kind: 'more demand', nodes: ['x'], quantity: 6, day: '2026-10-20' },
      ['buy 16 x 10-15→10-20', 'buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
    [
      'another lead time of an item',
      { kind: 'lead time', nodes: ['x'], supplier: null, days: 8 },
      ['buy 10 x 10-12→10-20', 'buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
    [
      'another lead time of a supplier',
      { kind: 'lead time', nodes: null, supplier: 'b', days: 1 },
      ['buy 10 x 10-15→10-20', 'buy 4 y 10-19→10-20', 'buy 3 y 10-20→10-21'],
    ],
    [
      'a supplier who fails: the next by rank, or nobody',
      { kind: 'supplier out', supplier: 'a' },
      ['buy 10 x 10-11→10-20', 'buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
    [
      'larger steps',
      { kind: 'batch', nodes: ['x'], multiple: { numerator: '8', denominator: '1' } },
      ['buy 16 x 10-15→10-20', 'buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'],
    ],
  ])('%s', (_, change, expected) => {
    expect(orders(applyWhatIf(base, [change]))).toEqual(expected)
    expect(orders(base)).toEqual(['buy 10 x 10-15→10-20', 'buy 4 y 10-15→10-20', 'buy 3 y 10-16→10-21'])
  })
  it('changes add up in their order; prices change what is spent, and nothing else', () => {
    const changed = applyWhatIf(base, [
      { kind: 'price', nodes: null, supplier: 'a', percent: 10 },
      { kind: 'demand', nodes: ['x'], percent: 100 },
    ])
    expect(figuresOf(changed, run(changed)).spend).toEqual([
      { week: '2026-10-12', supplier: 'a', amount: 2200 },
      { week: '2026-10-12', supplier: 'b', amount: 0 },
    ])
    expect(
      run(
        applyWhatIf(base, [
          { kind: 'supplier out', supplier: 'a' },
          { kind: 'supplier out', supplier: 'b' },
        ]),
      ).messages.map((m) => m.code),
    ).toEqual(['short', 'no source', 'short', 'no source', 'short', 'no source'])
  })
})

describe('an order that is fixed at another supplier', () => {
  it('is as late as that one makes it, costs their price, and is told with their name; a supplier who does not have it is the usual one', () => {
    const x = node('x', buy({ prices: [{ from: 0, price: 100 }] }), {
      others: [buy({ supplier: 'b', leadDays: 9, prices: [{ from: 0, price: 70 }] })],
    })
    const fixed = (supplier?: string): PlanInput =>
      input([x], [['x', '2026-10-12', 10]], {
        fixed: [{ id: 'f', node: 'x', quantity: 10, due: '2026-10-12', release: '2026-10-05', supplier }],
      })
    // Seven days are left until it is due: the usual supplier takes five, the other nine.
    const describeLine = (snapshot: PlanInput): unknown[] =>
      run(snapshot).orders.map((o) => [o.lateBy, o.promised, o.why.leadDays, o.supplier])
    expect(describeLine(fixed())).toEqual([[0, '2026-10-12', 5, undefined]])
    expect(describeLine(fixed('b'))).toEqual([[2, '2026-10-14', 9, 'b']])
    expect(describeLine(fixed('gone'))).toEqual([[0, '2026-10-12', 5, undefined]])
    expect(figuresOf(fixed('b'), run(fixed('b'))).spend).toEqual([{ week: '2026-10-05', supplier: 'b', amount: 700 }])
    const opened = NetPlan.open(fixed('b'))
    expect(opened.ok && opened.value.snapshot().fixed).toEqual(fixed('b').fixed)
  })
})

describe('what a plan comes to', () => {
  it('is counted and summed: two holes, one late, spend by week, stock by week', () => {
    const snapshot = input(
      [
        node('p', make(['c', 2]), { worth: 500 }),
        node('c', buy({ leadDays: 10, prices: [{ from: 0, price: 30 }], minimum: 30 }), { worth: 30 }),
      ],
      [
        ['p', '2026-10-12', 4],
        ['p', '2026-11-12', 6],
      ],
    )
    const output = run(snapshot)
    // 8 of c are needed on 10 October: ordered today, there on the 15th. 30 are bought, 22 left, 12 used in November,
    // 10 left.
    const figures = figuresOf(snapshot, output)
    expect(figures).toMatchObject({
      holes: 2,
      firstShortage: '2026-10-10',
      short: 0,
      orders: { buy: 1, make: 2, breakDown: 0, move: 0 },
      late: 1,
      lines: 2,
      inTime: 1,
      spend: [{ week: '2026-10-05', supplier: 'a', amount: 900 }],
    })
    expect(figures.stock.slice(0, 2)).toEqual([
      { week: '2026-10-05', amount: 660 },
      { week: '2026-10-12', amount: 660 },
    ])
    expect(figures.stock.at(-1)).toEqual({ week: '2026-12-28', amount: 300 })
    // The first demand waits; the second is served from what came late but long before.
    expect([...demandsAtRisk(snapshot, output)]).toEqual(['d0'])
    expect(figuresOf(snapshot, output, new Set(['c']))).toMatchObject({
      holes: 1,
      orders: { buy: 1, make: 0 },
      lines: 0,
    })
  })
  it('what nothing supplies waits, and so does what is made of it', () => {
    const snapshot = input(
      [node('p', make(['c', 1])), node('c', { kind: 'none', reason: 'no source' })],
      [['p', '2026-10-20', 1]],
    )
    expect([...demandsAtRisk(snapshot, run(snapshot))]).toEqual(['d0'])
  })
  it.each([
    [9, 90],
    [10, 80],
    [99, 792],
    [100, 700],
  ])('%i at 10, from 10 on at 8, from 100 on at 7, cost %i', (quantity, cost) => {
    expect(
      costAt(
        [
          { from: 0, price: 10 },
          { from: 10, price: 8 },
          { from: 100, price: 7 },
        ],
        quantity,
      ),
    ).toBe(cost)
  })
  it('a price tier that is missed by little is told with what it saves', () => {
    const prices = [
      { from: 0, price: 10 },
      { from: 10, price: 8 },
    ]
    const near = (quantity: number, multiple = 1): unknown[] => {
      const snapshot = input(
        [node('x', buy({ prices, multiple: { numerator: String(multiple), denominator: '1' } }))],
        [['x', '2026-10-20', quantity]],
      )
      return nearTiers(snapshot, run(snapshot)).map((tier) => [tier.quantity, tier.upTo, tier.costNow, tier.costThen])
    }
    expect([near(9), near(8), near(7), near(10), near(9, 3)]).toEqual([
      [[9, 10, 90, 80]],
      [[8, 10, 80, 80]],
      [],
      [],
      [[9, 12, 90, 96]],
    ])
  })
})

describe('messages that advise', () => {
  const describeLine = (snapshot: PlanInput): string[] =>
    run(snapshot).messages.map((m) => `${m.code} ${m.quantity} ${m.day}`)
  it('an order that nobody needs for long is pushed out to the day before which it would be missed', () => {
    const nodes = [node('x', buy(), { onHand: [{ lot: null, quantity: 5, expiresOn: null }] })]
    expect(
      describeLine(
        input(
          nodes,
          [
            ['x', '2026-10-08', 3],
            ['x', '2026-11-10', 9],
          ],
          open(nodes, ['x', '2026-10-12', 8]),
        ),
      ),
    ).toEqual(['push out 8 2026-11-10'])
    // Within a week it is left; where the safety stock wants it, too.
    expect(
      describeLine(
        input(
          nodes,
          [
            ['x', '2026-10-08', 3],
            ['x', '2026-10-18', 9],
          ],
          open(nodes, ['x', '2026-10-12', 8]),
        ),
      ),
    ).toEqual([])
    expect(
      describeLine(
        input(
          [{ ...nodes[0]!, safety: 4 }],
          [
            ['x', '2026-10-08', 1],
            ['x', '2026-10-14', 1],
            ['x', '2026-11-10', 9],
          ],
          open(nodes, ['x', '2026-10-12', 8]),
        ),
      ),
    ).toEqual([])
  })
  it('of two orders too many only so many are advised upon as can go together', () => {
    const nodes = [node('x', buy())]
    expect(
      describeLine(input(nodes, [['x', '2026-10-20', 5]], open(nodes, ['x', '2026-10-18', 5], ['x', '2026-10-19', 5]))),
    ).toEqual(['surplus 5 2026-10-19'])
  })
  it('what is below its safety stock without being short, and what takes longer than the plan looks', () => {
    expect(
      describeLine(
        input(
          [
            node(
              'x',
              { kind: 'none', reason: 'no source' },
              { safety: 4, onHand: [{ lot: null, quantity: 3, expiresOn: null }] },
            ),
          ],
          [],
        ),
      ),
    ).toEqual(['below safety 1 2026-10-05'])
    const long = run(input([node('p', make(['c', 1])), node('c', buy({ leadDays: 100 }))], [['p', '2026-12-30', 1]]))
    expect(long.messages.find((m) => m.code === 'long lead time')).toMatchObject({
      node: 'p',
      leadDays: 102,
      longest: 87,
    })
  })
  it('a loop is told with its path, and the rest is planned', () => {
    const output = run(
      input(
        [
          node('a', make(['b', 1])),
          node('b', make(['a', 1], ['c', 1])),
          node('c', buy()),
          node('top', make(['a', 1], ['c', 2])),
        ],
        [['top', '2026-10-20', 3]],
      ),
    )
    expect(output.messages.filter((m) => m.code === 'loop')).toMatchObject([
      { node: 'b', path: ['a', 'b', 'a'] },
      { node: 'a', path: ['a', 'b', 'a'] },
    ])
    expect(output.orders.map((o) => `${o.quantity} ${o.node}`)).toEqual(['3 top', '6 c'])
    const words = {
      item: (id: string) => id.toUpperCase(),
      quantity: (_: string, q: number) => `${q}`,
      day: (iso: string) => iso,
      ref: (id: string) => id,
    }
    expect(
      describeMessage(
        output.messages.find((m) => m.code === 'loop')!,
        words,
      ),
    ).toBe('B: its bills run in a circle (A → B → A), so none of it is planned. Take one of these components out.')
  })
})

describe('a plan that stays open', () => {
  it('nets only what a change reaches: a component more than its parent, and back to what it was', () => {
    const opened = NetPlan.open(
      input(
        [node('p', make(['c', 2])), node('c', buy()), node('z', buy())],
        [
          ['p', '2026-10-20', 4],
          ['z', '2026-10-20', 1],
        ],
      ),
    )
    if (!opened.ok) {
      throw new Error(opened.error.code)
    }
    const { compiled } = opened.value
    const p = compiled.nodes[compiled.at.get('p')!]!
    const named = (reached: readonly number[]): string[] => reached.map((index) => compiled.nodes[index]!.id)
    const more = opened.value.change([{ node: { ...p, safety: 3 } }])
    expect(more.ok && named(more.value.reached)).toEqual(['p', 'c'])
    const c = compiled.nodes[compiled.at.get('c')!]!
    const own = opened.value.change([{ node: { ...c, safety: 0 } }])
    expect(own.ok && named(own.value.reached)).toEqual(['c'])
    const second = opened.value.change([{ node: { ...p, source: make(['z', 1]) } }])
    expect(second.ok && second.value.reached.length).toBe(3)
    expect(opened.value.change([{ node: { ...p, source: make(['ghost', 1]) } }])).toEqual({
      ok: false,
      error: { code: 'unknown-node', node: 'ghost', by: 'p' },
    })
  })
})
