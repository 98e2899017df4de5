import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { toDay, toIso } from '../../calendar/days'
import { describeSupplyOption } from './describe-supply-option'
import { plan } from '..'
import { OpenPromises, promise, type Promised } from '.'
import { demandsAtRisk } from '../what-if'
import type { PlanInput, PlanNode, Source } from '../input'
import { runs } from '../../../tests/property-runs'

const START = '2026-10-05'
const iso = (offset: number): string => toIso(toDay(START) + offset)
const buy = (leadDays: number, calendar: string | null = null): Source => ({
  kind: 'buy',
  supplier: 's',
  minimum: 50,
  multiple: { numerator: '25', denominator: '1' },
  leadDays,
  calendar,
})
const make = (leadDays: number, ...components: [node: string, per: number][]): Source => ({
  kind: 'make',
  structure: 'b',
  leadDays,
  calendar: null,
  components: components.map(([node, per]) => ({
    node,
    numerator: String(per),
    fixedNumerator: '0',
    denominator: '1',
  })),
})
const node = (id: string, source: Source, onHand = 0, safety = 0): PlanNode => ({
  id,
  safety,
  source,
  onHand: onHand > 0 ? [{ lot: null, quantity: onHand, expiresOn: null }] : [],
})
const input = (
  nodes: PlanNode[],
  demands: [node: string, day: number, quantity: number][] = [],
  supplies: [node: string, day: number, quantity: number][] = [],
): PlanInput => ({
  start: START,
  end: iso(200),
  calendars: { week: { weekdays: [true, true, true, true, true, false, false], closed: [] } },
  nodes,
  demands: demands.map(([id, day, quantity], index) => ({
    id: `d${index}`,
    node: id,
    day: iso(day),
    quantity,
    kind: 'sales order',
    label: '',
    priority: 0,
  })),
  supplies: supplies.map(([id, day, quantity], index) => ({
    id: `s${index}`,
    node: id,
    day: iso(day),
    quantity,
    kind: 'purchase order',
    label: `PO-${index}`,
  })),
})
function ask(from: PlanInput, ...asks: [node: string, quantity: number][]): readonly Promised[] {
  const found = promise(
    from,
    asks.map(([id, quantity], index) => ({ id: String(index), node: id, quantity })),
  )
  if (!found.ok) {
    throw new Error(found.error.code)
  }
  return found.value
}

describe('a promise, by hand', () => {
  it('what is free now is there today, though the safety stock is touched', () => {
    expect(ask(input([node('a', buy(5), 10, 8)]), ['a', 10])[0]).toEqual({
      id: '0',
      on: START,
      options: [{ kind: 'free', node: 'a', quantity: 10, on: START }],
    })
  })
  it('what is on hand but wanted later by somebody else is not free', () => {
    // 10 there, 8 of them wanted on day 20: 2 are free, 3 are bought at 5 days.
    expect(ask(input([node('a', buy(5), 10)], [['a', 20, 8]]), ['a', 5])[0]).toMatchObject({
      on: iso(5),
      options: [
        { kind: 'free', quantity: 2 },
        { kind: 'buy', quantity: 3, on: iso(5), leadDays: 5 },
      ],
    })
  })
  it('what comes with an order sooner than it could be bought is promised for that day', () => {
    expect(ask(input([node('a', buy(30), 2)], [], [['a', 9, 40]]), ['a', 12])[0]).toMatchObject({
      on: iso(9),
      options: [
        { kind: 'free', quantity: 2 },
        { kind: 'coming', quantity: 10, on: iso(9), supply: 'PO-0' },
      ],
    })
  })
  it('what comes later than it could be bought is bought', () => {
    expect(ask(input([node('a', buy(3), 2)], [], [['a', 9, 40]]), ['a', 12])[0]).toMatchObject({
      on: iso(3),
      options: [
        { kind: 'free', quantity: 2 },
        { kind: 'buy', quantity: 10 },
      ],
    })
  })
  it('what is built waits for its last component: 6 × 3 = 18, 10 there, 8 bought at 7 days, then 2 days of work', () => {
    expect(ask(input([node('top', make(2, ['part', 3])), node('part', buy(7), 10)]), ['top', 6])[0]).toMatchObject({
      on: iso(9),
      options: [
        {
          kind: 'make',
          quantity: 6,
          begin: iso(7),
          on: iso(9),
          from: [
            { kind: 'free', quantity: 10 },
            { kind: 'buy', quantity: 8, on: iso(7) },
          ],
        },
      ],
    })
  })
  it('components that orders before it will need are not taken from them', () => {
    // An order for 3 tops on day 10 needs 9 of the 10 parts.
    expect(
      ask(input([node('top', make(2, ['part', 3])), node('part', buy(7), 10)], [['top', 10, 3]]), ['top', 2])[0],
    ).toMatchObject({
      on: iso(9),
      options: [
        {
          kind: 'make',
          from: [
            { kind: 'free', quantity: 1 },
            { kind: 'buy', quantity: 5 },
          ],
        },
      ],
    })
  })
  it('working days count: bought on Monday at 5 days of a five-day week is there the next Monday', () => {
    expect(ask(input([node('a', buy(5, 'week'))]), ['a', 1])[0]!.on).toBe(iso(7))
  })
  it('one line takes what the next cannot have', () => {
    const [first, second] = ask(input([node('a', buy(5), 10)]), ['a', 7], ['a', 7])
    expect(first!.on).toBe(START)
    expect(second).toMatchObject({
      on: iso(5),
      options: [
        { kind: 'free', quantity: 3 },
        { kind: 'buy', quantity: 4 },
      ],
    })
  })
  it('bulk goods are broken down: 25 from a drum that gives 10, so 3 drums, 1 there', () => {
    const down: Source = {
      kind: 'break down',
      recipe: 'r',
      from: 'drum',
      take: 1,
      outputs: [{ node: 'tub', quantity: 10 }],
      leadDays: 1,
      calendar: null,
    }
    expect(ask(input([node('tub', down), node('drum', buy(4), 1)]), ['tub', 25])[0]).toMatchObject({
      on: iso(5),
      options: [
        {
          kind: 'break down',
          quantity: 25,
          begin: iso(4),
          from: [
            { kind: 'free', quantity: 1 },
            { kind: 'buy', quantity: 2 },
          ],
        },
      ],
    })
  })
  it('without a way there is no day', () => {
    const found = ask(input([node('top', make(2, ['part', 1])), node('part', { kind: 'none', reason: 'no source' })]), [
      'top',
      1,
    ])[0]!
    expect(found).toMatchObject({
      on: null,
      options: [{ kind: 'make', on: null, from: [{ kind: 'none', reason: 'no source' }] }],
    })
    expect(ask(input([node('a', buy(1))]), ['b', 1])[0]).toMatchObject({
      on: null,
      options: [{ kind: 'none', reason: 'not held' }],
    })
  })
  it('what runs in a circle has no way, and the rest has', () => {
    const circle = input([node('a', make(1, ['b', 1])), node('b', make(1, ['a', 1])), node('c', buy(3))])
    expect(ask(circle, ['a', 1])[0]).toMatchObject({ on: null, options: [{ kind: 'none', reason: 'loop' }] })
    expect(ask(circle, ['c', 1])[0]).toMatchObject({ on: '2026-10-08' })
  })
})

it('each way has its sentence', () => {
  const words = {
    item: (id: string) => id.toUpperCase(),
    quantity: (_: string, steps: number) => `${steps} pc`,
    day: (day: string) => day.slice(5),
  }
  const [made] = ask(
    input(
      [
        node('top', make(2, ['part', 3]), 1),
        node('part', buy(7), 10),
        node('odd', { kind: 'none', reason: 'no source' }),
      ],
      [],
      [['part', 30, 5]],
    ),
    ['top', 7],
  )
  expect(made!.options.map((option) => describeSupplyOption(option, words))).toEqual([
    '1 pc TOP: free now.',
    '6 pc TOP: built from 10-12 on, when all of what it needs is there, ready on 10-14 (2 working days).',
  ])
  expect(
    made!.options
      .flatMap((option) => ('from' in option ? option.from : []))
      .map((option) => describeSupplyOption(option, words)),
  ).toEqual(['10 pc PART: free now.', '8 pc PART: bought today (50 pc at once), here on 10-12 (7 working days).'])
  expect(
    describeSupplyOption({ kind: 'coming', node: 'a', quantity: 2, on: '2026-10-20', supply: 'PO-7' }, words),
  ).toBe('2 pc A: free from 10-20 on, with PO-7.')
  const pulledIn = { kind: 'coming', node: 'a', quantity: 2, on: '2026-10-13', supply: 'PO-7' } as const
  expect(describeSupplyOption({ ...pulledIn, pulledInFrom: '2026-10-20' }, words)).toBe(
    '2 pc A: free from 10-13 on, with PO-7, pulled in from 10-20.',
  )
  expect(
    describeSupplyOption({ kind: 'buy', node: 'a', quantity: 2, ordered: 50, on: '2026-10-20', leadDays: 5 }, words),
  ).toBe('2 pc A: bought today (50 pc at once), here on 10-20 (5 working days).')
  expect(describeSupplyOption({ kind: 'none', node: 'a', quantity: 2, on: null, reason: 'no BOM' }, words)).toBe(
    '2 pc A: there is no way to get it (no BOM).',
  )
  expect(
    describeSupplyOption(
      { kind: 'break down', node: 'a', quantity: 2, on: null, begin: null, leadDays: 1, from: [] },
      words,
    ),
  ).toBe('2 pc A: cannot be broken down; what it needs cannot be got.')
})

describe('minimum quantities, and what is on order already', () => {
  const tub = (leadDays: number): Source => ({
    kind: 'break down',
    recipe: 'r',
    from: 'drum',
    take: 1,
    outputs: [
      { node: 'tub', quantity: 200 },
      { node: 'lid', quantity: 7 },
    ],
    leadDays,
    calendar: null,
  })
  const ordered = (earliest: number): PlanInput => {
    const from = input([node('tub', tub(1)), node('drum', buy(8)), node('lid', buy(40))], [], [['drum', 15, 1]])
    return { ...from, supplies: from.supplies.map((supply) => ({ ...supply, earliest: iso(earliest) })) }
  }

  it('3 tubs come from the drum on order, pulled in to when it can be there; no second drum is bought', () => {
    expect(ask(ordered(8), ['tub', 3])[0]).toEqual({
      id: '0',
      on: iso(9),
      options: [
        {
          kind: 'break down',
          node: 'tub',
          quantity: 3,
          ordered: 200,
          leadDays: 1,
          begin: iso(8),
          on: iso(9),
          from: [{ kind: 'coming', node: 'drum', quantity: 1, on: iso(8), supply: 'PO-0', pulledInFrom: iso(15) }],
        },
      ],
    })
  })
  it('a drum that the supplier cannot bring sooner is waited for only where a new one is not sooner', () => {
    expect(ask(ordered(15), ['tub', 3])[0]).toMatchObject({ on: iso(9), options: [{ from: [{ kind: 'buy' }] }] })
  })
  it('what the drum gives besides is free for the next: 197 tubs and 7 lids', () => {
    const [, tubs, lids, more] = ask(ordered(8), ['tub', 3], ['tub', 197], ['lid', 7], ['lid', 1])
    expect(tubs).toMatchObject({ on: iso(9), options: [{ kind: 'coming', quantity: 197 }] })
    expect(lids).toMatchObject({ on: iso(9), options: [{ kind: 'coming', quantity: 7 }] })
    expect(more).toMatchObject({ on: iso(40), options: [{ kind: 'buy', quantity: 1, ordered: 50 }] })
  })
  it('a build of at least 10 needs the components of 10: 30, of which 12 are there', () => {
    const least = { ...make(2, ['part', 3]), minimum: 10 } as Source
    expect(ask(input([node('top', least), node('part', buy(7), 12)]), ['top', 4], ['top', 6])).toMatchObject([
      {
        on: iso(9),
        options: [
          {
            kind: 'make',
            quantity: 4,
            ordered: 10,
            from: [
              { kind: 'free', quantity: 12 },
              { kind: 'buy', quantity: 18, ordered: 50 },
            ],
          },
        ],
      },
      { on: iso(9), options: [{ kind: 'coming', quantity: 6 }] },
    ])
  })
  it('what others must build more than they need is free when it can be there, not on their day', () => {
    // Wanted on day 3: 2, built in tens from parts that take 7 days and 2 of work: the other 8 are there on day 9.
    const least = { ...make(2, ['part', 1]), minimum: 10 } as Source
    expect(ask(input([node('top', least), node('part', buy(7))], [['top', 3, 2]]), ['top', 8])[0]).toMatchObject({
      on: iso(9),
      options: [{ kind: 'coming', quantity: 8, supply: null }],
    })
  })
  it('what comes free while the rest is bought is taken first', () => {
    const from = input([node('a', buy(10), 2)], [], [['a', 4, 5]])
    expect(ask(from, ['a', 12])[0]).toMatchObject({
      on: iso(10),
      options: [
        { kind: 'free', quantity: 2 },
        { kind: 'coming', quantity: 5, on: iso(4), supply: 'PO-0' },
        { kind: 'buy', quantity: 5, ordered: 50 },
      ],
    })
  })
  it('what cannot be had takes nothing from the next', () => {
    const nodes = [
      node('top', make(1, ['part', 1], ['gone', 1])),
      node('part', buy(5), 10),
      node('gone', { kind: 'none', reason: 'retired' }),
    ]
    expect(ask(input(nodes), ['top', 10], ['part', 10])).toMatchObject([{ on: null }, { on: START }])
  })
  it('an open snapshot answers the same as often as it is asked', () => {
    const opened = OpenPromises.open(ordered(8))
    const requests = [{ id: 'a', node: 'tub', quantity: 3 }]
    const answers = opened.ok ? [1, 2, 3].map(() => JSON.stringify(opened.value.answer(requests))) : []
    expect(new Set(answers).size).toBe(1)
  })
  it('millions of ways through twenty levels end: what is beyond is taken as made from nothing', () => {
    const levels = 20
    const nodes = Array.from({ length: levels }, (_, level) =>
      [0, 1].map((side) => node(`${level}.${side}`, make(1, [`${level + 1}.0`, 1], [`${level + 1}.1`, 1]))),
    ).flat()
    const deep = input([...nodes, node(`${levels}.0`, buy(3)), node(`${levels}.1`, buy(5))])
    expect(ask(deep, ['0.0', 1])[0]!.on).toBe(iso(25))
  })
})

describe('a promise can be kept', () => {
  const amount = fc.integer({ min: 0, max: 30 })
  const someDemands = fc.array(
    fc.tuple(fc.constantFrom('top', 'mid', 'x', 'y'), fc.integer({ min: 0, max: 60 }), fc.integer({ min: 1, max: 15 })),
    { maxLength: 6 },
  )
  const some = (most: number) => fc.integer({ min: 0, max: most })
  it('planned for its day, no demand is late that was not late before (500 networks)', () => {
    fc.assert(
      fc.property(
        fc.tuple(amount, amount, amount, amount),
        fc.record({ x: some(9), y: some(9), make: some(6), least: some(12), size: fc.integer({ min: 1, max: 7 }) }),
        someDemands,
        fc.array(
          fc.record({
            node: fc.constantFrom('mid', 'x', 'y'),
            day: some(40),
            quantity: fc.integer({ min: 1, max: 20 }),
            sooner: some(20),
          }),
          { maxLength: 3 },
        ),
        fc.integer({ min: 1, max: 25 }),
        ([top, mid, x, y], terms, demands, supplies, wanted) => {
          const bought = (leadDays: number): Source => ({
            ...(buy(leadDays) as Extract<Source, { kind: 'buy' }>),
            minimum: terms.least,
            multiple: { numerator: String(terms.size), denominator: '1' },
          })
          const from = input(
            [
              node('top', { ...make(terms.make, ['mid', 1], ['x', 2]), minimum: terms.least } as Source, top),
              node('mid', { ...make(2, ['x', 1], ['y', 3]), minimum: terms.size } as Source, mid),
              node('x', bought(terms.x), x),
              node('y', bought(terms.y), y),
            ],
            demands,
            supplies.map((supply) => [supply.node, supply.day, supply.quantity]),
          )
          const network = {
            ...from,
            supplies: from.supplies.map((supply, index) => ({
              ...supply,
              earliest: iso(Math.max(0, supplies[index]!.day - supplies[index]!.sooner)),
            })),
          }
          const [{ on: day }] = ask(network, ['top', wanted]) as [Promised]
          const joined = {
            ...network,
            demands: [
              ...network.demands,
              {
                id: 'new',
                node: 'top',
                day: day!,
                quantity: wanted,
                kind: 'sales order' as const,
                label: '',
                priority: 9,
              },
            ],
          }
          const before = lateIn(network)
          expect([...lateIn(joined)].filter((id) => !before.has(id))).toEqual([])
        },
      ),
      { numRuns: runs(500) },
    )
  })
})

/** The demands that cannot be met on their day. */
function lateIn(from: PlanInput): ReadonlySet<string> {
  const found = plan(from)
  if (!found.ok) {
    throw new Error(found.error.code)
  }
  return demandsAtRisk(from, found.value)
}
