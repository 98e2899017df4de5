import fc from 'fast-check'
import { expect, it } from 'vitest'
import { applyWhatIf, LivePlan, type WhatIf } from '~~/core/planning/what-if'
import { plan } from '~~/core/planning'
import type { PlanInput } from '~~/core/planning/input'
import { anyNetwork } from './random-network'
import { runs } from '~~/tests/property-runs'

const whatIf = (input: PlanInput): fc.Arbitrary<WhatIf> => {
  const some = fc.oneof(fc.constant(null), fc.subarray(input.nodes.map((node) => node.id)))
  return fc.oneof(
    fc.record({ kind: fc.constant('demand' as const), nodes: some, percent: fc.integer({ min: -100, max: 200 }) }),
    fc.record({
      kind: fc.constant('more demand' as const),
      nodes: fc.subarray(input.nodes.map((node) => node.id)),
      quantity: fc.integer({ min: 1, max: 9 }),
      day: fc.constant(input.end),
    }),
    fc.record({ kind: fc.constant('lead time' as const), nodes: some, supplier: fc.constant(null), days: fc.nat(6) }),
    fc.record({
      kind: fc.constant('batch' as const),
      nodes: fc.subarray(input.nodes.map((node) => node.id)),
      multiple: fc.record({
        numerator: fc.integer({ min: 1, max: 9 }).map(String),
        denominator: fc.constantFrom('1', '2'),
      }),
    }),
    fc.record({ kind: fc.constant('supplier out' as const), supplier: fc.constant('s') }),
  )
}

it('what is tried on an open plan, one after the other and back, says what a plan made anew says; nodes that are not named as reached keep their lines (150 random networks)', () => {
  fc.assert(
    fc.property(
      anyNetwork.chain((input) =>
        fc.tuple(
          fc.constant(input),
          fc.array(fc.array(whatIf(input), { maxLength: 2 }), { minLength: 1, maxLength: 4 }),
        ),
      ),
      ([input, trials]) => {
        const live = LivePlan.open(input)
        if (!live.ok) {
          throw new Error(live.error.code)
        }
        let lines = new Map(live.value.output().nodes.map((node) => [node.id, node]))
        for (const changes of [...trials, []]) {
          const now = applyWhatIf(input, changes)
          const reached = live.value.turnInto(now)
          const anew = plan(now)
          expect(reached.ok && live.value.output()).toEqual(anew.ok && anew.value)
          for (const node of live.value.output().nodes) {
            if (reached.ok && !reached.value.includes(node.id)) {
              expect(node).toEqual(lines.get(node.id))
            }
          }
          lines = new Map(live.value.output().nodes.map((node) => [node.id, node]))
        }
      },
    ),
    { numRuns: runs(150) },
  )
})

it('one changed row of one item nets only what is made of it and what it is made of; rows that are the same in other objects change nothing', () => {
  const make = (node: string) => ({
    kind: 'make' as const,
    structure: 'b',
    leadDays: 1,
    calendar: null,
    components: [{ node, numerator: '1', fixedNumerator: '0', denominator: '1' }],
  })
  const buy = { kind: 'buy' as const, supplier: 's', leadDays: 1, calendar: null }
  const input: PlanInput = {
    start: '2026-10-05',
    end: '2026-10-30',
    calendars: {},
    supplies: [],
    nodes: [
      ['top', make('part')],
      ['part', buy],
      ...Array.from({ length: 8 }, (_, index) => [`other${index}`, buy] as const),
    ].map(([id, source]) => ({ id: id as string, onHand: [], safety: 0, source: source as typeof buy })),
    demands: ['top', 'other1'].map((node) => ({
      id: `d ${node}`,
      node,
      day: '2026-10-20',
      quantity: 5,
      kind: 'sales order',
      label: '',
      priority: 0,
    })),
  }
  const live = LivePlan.open(input)
  if (!live.ok) {
    throw new Error(live.error.code)
  }
  const turned = (input: PlanInput): readonly string[] => {
    const done = live.value.turnInto(input)
    return done.ok ? done.value : []
  }
  expect(turned({ ...input, demands: input.demands.map((row) => ({ ...row })) })).toEqual([])
  expect(turned(applyWhatIf(input, [{ kind: 'demand', nodes: ['top'], percent: 20 }]))).toEqual(['top', 'part'])
  expect(live.value.linesOf('part')!.days.find((day) => day.grossRequirements > 0)!.grossRequirements).toBe(6)
  expect(turned(input)).toEqual(['top', 'part'])
  expect(live.value.linesOf('nobody')).toBeNull()
  expect(live.value.turnInto({ ...input, end: '2026-10-01' })).toEqual({
    ok: false,
    error: { code: 'end-before-start', start: '2026-10-05', end: '2026-10-01' },
  })
  expect(turned({ ...input, end: '2026-10-31' })).toHaveLength(10)
})
