import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { makeCalendar } from '../calendar/working'
import { toDay, toIso } from '../calendar/days'
import { consumeForecast, spreadForecast } from './demand'
import { describeMessage, reasonsOf, type PlanOutput } from './explain'
import { plan } from './plan'
import type { PlanInput, PlanNode, Source } from './input'
import { buy, demand, input, make, node, orders, planned, supply, times, week } from '../../tests/planning/snapshots'
import { runs } from '../../tests/property-runs'

describe('gross to net', () => {
  it('gross requirements 1 200 against 845 on hand and coming leave 355 (common practice, no source)', () => {
    const output = planned(
      [node('x', 600, buy())],
      [demand('so', 'x', '2026-10-20', 1200)],
      [supply('po', 'x', '2026-10-12', 245)],
    )
    expect(orders(output)).toEqual(['buy 355 x 2026-10-20→2026-10-20'])
    expect(output.orders[0]!.why).toMatchObject({ balanceBefore: 845, demandThatDay: 1200, netRequirement: 355 })
  })
  it('keeps the safety stock, from the start on', () => {
    expect(orders(planned([node('x', 4, buy(), 10)], []))).toEqual(['buy 6 x 2026-10-05→2026-10-05'])
  })
  it.each([
    [5, 0, 1, 5],
    [5, 12, 1, 12],
    [5, 12, 10, 20],
    [21, 0, 10, 30],
  ])('%i needed, minimum %i, multiple %i: %i', (needed, minimum, multiple, quantity) => {
    expect(
      planned([node('x', 0, buy({ minimum, multiple: times(multiple) }))], [demand('so', 'x', '2026-10-20', needed)])
        .orders[0]!.quantity,
    ).toBe(quantity)
  })
  it('a multiple need not fall on a step: 8 m bought by 10 m² at 1.32 m wide, held in cm, is twice 757 19/33 cm, up to 1 516', () => {
    const order = planned([node('x', 0, buy({ multiple: times(25000, 33) }))], [demand('so', 'x', '2026-10-20', 800)])
      .orders[0]!
    expect([order.quantity, order.why.times]).toEqual([1516, 2])
  })
  it('the lead time is in working days; an order that comes too late says by how much', () => {
    const output = planned(
      [node('x', 0, buy({ leadDays: 10, calendar: 'week' }))],
      [demand('a', 'x', '2026-10-08', 1), demand('b', 'x', '2026-10-26', 1)],
    )
    expect(orders(output)).toEqual(['buy 1 x 2026-10-05→2026-10-08', 'buy 1 x 2026-10-12→2026-10-26'])
    // Ten working days before Thursday 8 October is Thursday 24 September, seven working days before Monday the 5th.
    expect(output.orders[0]).toMatchObject({ lateBy: 7, promised: '2026-10-19' })
    expect(output.messages.map((m) => m.code)).toEqual(['late order'])
  })
  // A late order is late by the working days d with release ≤ d < start, at least one, also where the start is a closed
  // day.
  it.each([
    { start: '2026-10-04', leadDays: 1, lateBy: 1, promised: '2026-10-06' },
    { start: '2026-10-03', leadDays: 2, lateBy: 2, promised: '2026-10-07' },
    { start: '2026-10-05', leadDays: 1, lateBy: 1, promised: '2026-10-06' },
  ])(
    'started on $start, what is needed on Monday the 5th and takes $leadDays working days is $lateBy late',
    ({ start, leadDays, ...late }) => {
      const nodes = [node('x', 0, buy({ leadDays, calendar: 'week' }))]
      const output = plan({ ...input(nodes, [demand('so', 'x', '2026-10-05', 1)]), start })
      expect(output.ok && output.value.orders[0]).toMatchObject({ due: '2026-10-05', ...late })
      expect(output.ok && output.value.messages.map((m) => m.code)).toEqual(['late order'])
    },
  )
})

describe('dependent demand', () => {
  it('a book of 12 g glue, ledger in g: 24 books minus 4 on hand need 240 g on the release day', () => {
    const output = planned(
      [
        node(
          'book',
          4,
          make(
            [
              ['glue', '12'],
              ['board', '2'],
            ],
            3,
          ),
        ),
        node('glue', 100, buy()),
        node('board', 0, buy()),
      ],
      [demand('so', 'book', '2026-10-20', 24)],
    )
    expect(orders(output)).toEqual([
      'make 20 book 2026-10-17→2026-10-20',
      'buy 40 board 2026-10-17→2026-10-17',
      'buy 140 glue 2026-10-17→2026-10-17',
    ])
  })
  it('rounds up once for the whole order: 24 × 0.4 is 10 steps, not 24', () => {
    expect(
      orders(
        planned([node('p', 0, make([['c', '2', '5']])), node('c', 0, buy())], [demand('so', 'p', '2026-10-20', 24)]),
      )[1],
    ).toBe('buy 10 c 2026-10-20→2026-10-20')
  })
  it('a component of two parents is netted once, after both', () => {
    const output = planned(
      [
        node('c', 5, buy()),
        node(
          'a',
          0,
          make([
            ['c', '1'],
            ['b', '1'],
          ]),
        ),
        node('b', 0, make([['c', '2']])),
      ],
      [demand('so', 'a', '2026-10-20', 10)],
    )
    expect(orders(output)).toContain('buy 25 c 2026-10-20→2026-10-20')
  })
  it('a break-down takes whole bulk units: 250 tubs of 200 a drum are 2 drums, 150 tubs left', () => {
    const tub: Source = {
      kind: 'break down',
      recipe: 'r',
      from: 'drum',
      take: 1,
      outputs: [{ node: 'tub', quantity: 200 }],
      leadDays: 0,
      calendar: null,
    }
    const output = planned([node('tub', 0, tub), node('drum', 1, buy())], [demand('so', 'tub', '2026-10-20', 250)])
    expect(orders(output)).toEqual(['break down 400 tub 2026-10-20→2026-10-20', 'buy 1 drum 2026-10-20→2026-10-20'])
    expect(output.nodes.find((n) => n.id === 'tub')!.days.at(-1)!.projectedAvailable).toBe(150)
  })
})

describe('open supply, expiry, missing sources', () => {
  it('pulls in a purchase order instead of planning a new one', () => {
    const output = planned(
      [node('x', 0, buy({ leadDays: 7 }))],
      [demand('so', 'x', '2026-10-20', 5)],
      [supply('po', 'x', '2026-10-25', 8)],
    )
    expect(output.orders).toEqual([])
    expect(output.messages).toEqual([
      { code: 'pull in', node: 'x', day: '2026-10-20', quantity: 8, supply: 'po', from: '2026-10-25' },
    ])
  })
  it('does not pull in from beyond the lead time, and calls what nobody needs a surplus', () => {
    const output = planned(
      [node('x', 0, buy({ leadDays: 3 }))],
      [demand('so', 'x', '2026-10-20', 5)],
      [supply('po', 'x', '2026-10-25', 8)],
    )
    expect(output.orders.map((o) => o.quantity)).toEqual([5])
    expect(output.messages.map((m) => m.code)).toEqual(['surplus'])
  })
  it('a lot counts up to and on its expiry date', () => {
    const glue: PlanNode = {
      id: 'g',
      safety: 0,
      source: buy(),
      onHand: [
        { lot: 'L1', quantity: 10, expiresOn: '2026-10-20' },
        { lot: 'L2', quantity: 4, expiresOn: null },
      ],
    }
    const output = planned([glue], [demand('a', 'g', '2026-10-20', 6), demand('b', 'g', '2026-10-21', 5)])
    expect(output.messages).toEqual([{ code: 'will expire', node: 'g', day: '2026-10-20', quantity: 4, lot: 'L1' }])
    expect(orders(output)).toEqual(['buy 1 g 2026-10-21→2026-10-21'])
  })
  it('what was due before the start counts on the start day', () => {
    const output = planned([node('x', 0, buy())], [demand('so', 'x', '2026-09-01', 3)])
    expect(output.messages.map((m) => m.code)).toEqual(['past due'])
    expect(output.orders[0]!.due).toBe('2026-10-05')
  })
  it('an item without a source is reported; the rest is planned', () => {
    const output = planned(
      [
        node(
          'a',
          0,
          make([
            ['b', '1'],
            ['c', '1'],
          ]),
        ),
        node('b', 0, { kind: 'none', reason: 'no source' }),
        node('c', 0, buy()),
      ],
      [demand('so', 'a', '2026-10-20', 2)],
    )
    expect(output.messages.map((m) => [m.code, m.node, m.quantity])).toEqual([
      ['short', 'b', 2],
      ['no source', 'b', 2],
    ])
    expect(orders(output)).toContain('buy 2 c 2026-10-20→2026-10-20')
  })
  it.each([
    ['end-before-start', { end: '2026-10-01' }],
    ['unknown-node', { demands: [demand('so', 'ghost', '2026-10-20', 1)] }],
  ] as const)('refuses with %s', (code, change) => {
    const result = plan({ ...input([node('a', 0, buy())], []), ...change })
    expect(result.ok ? 'ok' : result.error.code).toBe(code)
  })
  it('says each message in a sentence', () => {
    const words = {
      item: () => 'Glue',
      quantity: (_: string, q: number) => `${q} kg`,
      day: (iso: string) => iso,
      ref: (id: string) => id,
    }
    expect(
      describeMessage(
        {
          code: 'late order',
          node: 'g',
          day: '2026-10-08',
          quantity: 3,
          order: 'o',
          lateBy: 1,
          promised: '2026-10-09',
        },
        words,
      ),
    ).toBe(
      'Glue: 3 kg needed on 2026-10-08 can be there on 2026-10-09 at the earliest, 1 working day of lead time too late.',
    )
    expect(
      describeMessage(
        { code: 'pull in', node: 'g', day: '2026-10-08', quantity: 3, supply: 'PO-1', from: '2026-10-20' },
        words,
      ),
    ).toBe('PO-1: pull in 3 kg of Glue from 2026-10-20 to 2026-10-08.')
  })
})

describe('forecast', () => {
  const days = (quantity: number): number[] =>
    spreadForecast(quantity, toDay('2026-10-05'), toDay('2026-10-11'), makeCalendar(week.weekdays, [])).map(
      (p) => p.quantity,
    )
  it.each([
    [12, [3, 3, 2, 2, 2]],
    [3, [1, 1, 1]],
    [0, []],
  ])('%i over a working week is %j', (quantity, expected) => {
    expect(days(quantity)).toEqual(expected)
  })
  const periods = ['2026-10-05', '2026-10-12', '2026-10-19'].map((iso) => ({
    first: toDay(iso),
    last: toDay(iso) + 6,
    quantity: 10,
  }))
  const left = (
    quantity: number,
    back: number,
    ahead: number,
    rule: 'larger' | 'both' | 'orders only' = 'larger',
  ): number[] =>
    consumeForecast(periods, [{ day: toDay('2026-10-14'), quantity }], rule, back, ahead).map((p) => p.quantity)
  it.each<[number, number, number, number[]]>([
    [8, 0, 0, [10, 2, 10]],
    [14, 0, 0, [10, 0, 10]],
    [14, 7, 7, [6, 0, 10]],
    [24, 7, 7, [0, 0, 6]],
    [14, 0, 7, [10, 0, 6]],
  ])('an order of %i with %i days back and %i ahead leaves %j', (q, back, ahead, expected) => {
    expect(left(q, back, ahead)).toEqual(expected)
  })
  it('*both* leaves the forecast, *orders only* drops it', () => {
    expect([left(8, 0, 0, 'both'), left(8, 0, 0, 'orders only')]).toEqual([
      [10, 10, 10],
      [0, 0, 0],
    ])
  })
})

describe('pegging', () => {
  it('follows a bought component up to the customer’s order', () => {
    const output = planned(
      [node('a', 0, make([['b', '3']])), node('b', 2, buy())],
      [demand('SO-1', 'a', '2026-10-20', 2)],
    )
    const order = output.orders.find((o) => o.node === 'b')!
    expect(reasonsOf(output, order.id)).toEqual([
      {
        demand: 'planned:a:1>b',
        quantity: 4,
        order: 'planned:a:1',
        reasons: [{ demand: 'SO-1', quantity: 2, reasons: [] }],
      },
    ])
  })
})

const network = fc
  .record({
    onHand: fc.array(fc.nat(30), { minLength: 5, maxLength: 5 }),
    edges: fc.array(fc.tuple(fc.nat(4), fc.nat(4), fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 3 })), {
      maxLength: 8,
    }),
    demands: fc.array(fc.tuple(fc.nat(4), fc.nat(60), fc.integer({ min: 1, max: 40 })), { maxLength: 12 }),
    multiple: fc.integer({ min: 1, max: 6 }),
  })
  .map(({ onHand, edges, demands, multiple }) => {
    const below = (i: number): [string, string, string][] => [
      ...new Map(
        edges
          .filter(([a, b]) => a === i && b > i)
          .map(([, b, n, d]) => [`n${b}`, [`n${b}`, `${n}`, `${d}`] as [string, string, string]]),
      ).values(),
    ]
    const nodes = onHand.map((q, i) =>
      node(`n${i}`, q, below(i).length > 0 ? make(below(i), 2) : buy({ leadDays: 5, multiple: times(multiple) })),
    )
    return input(
      nodes,
      demands.map(([i, day, quantity], index) =>
        demand(`d${index}`, `n${i}`, toIso(toDay('2026-10-05') + day), quantity),
      ),
    )
  })

describe('what must hold (properties)', () => {
  const run = (data: PlanInput): PlanOutput => {
    const r = plan(data)
    if (!r.ok) {
      throw new Error(r.error.code)
    }
    return r.value
  }
  it('no hole is left, every demand is pegged in full, no supply more than once', () => {
    fc.assert(
      fc.property(network, (data) => {
        const output = run(data)
        expect(output.nodes.every((n) => n.days.every((d) => d.projectedAvailable >= 0))).toBe(true)
        const sum = (key: 'supply' | 'demand', id: string): number =>
          output.pegs.filter((p) => p[key] === id).reduce((t, p) => t + p.quantity, 0)
        for (const d of data.demands) {
          expect(sum('demand', d.id)).toBe(d.quantity)
        }
        for (const order of output.orders) {
          expect(sum('supply', order.id)).toBeLessThanOrEqual(order.quantity)
        }
      }),
      { numRuns: runs(200) },
    )
  })
  it('the order of the input rows does not matter', () => {
    fc.assert(
      fc.property(network, (data) => {
        expect(run({ ...data, nodes: [...data.nodes].reverse(), demands: [...data.demands].reverse() })).toEqual(
          run(data),
        )
      }),
      { numRuns: runs(100) },
    )
  })
})
