import fc from 'fast-check'
import { expect, it } from 'vitest'
import { NetPlan, type NodeChange } from '~~/core/planning/netting'
import { plan, writePlan } from '~~/core/planning'
import type { PlanInput } from '~~/core/planning/input'
import type { PlanOutput } from '~~/core/planning/explain'
import { naivePlan } from './naive-plan'
import { anyNetwork } from './random-network'
import { runs } from '~~/tests/property-runs'

const planned = (input: PlanInput): PlanOutput => {
  const done = plan(input)
  if (!done.ok) {
    throw new Error(done.error.code)
  }
  return done.value
}

it('the engine and its slow, obvious twin agree on every order, balance, pull-in and loss (1 000 networks of every rule)', () => {
  fc.assert(
    fc.property(anyNetwork, (input) => {
      const output = planned(input)
      const referenceModel = naivePlan(input)
      expect(output.orders.map((o) => `${o.node} ${o.quantity} ${o.release} → ${o.due}`).sort()).toEqual(
        referenceModel.orders.map((o) => `${o.node} ${o.quantity} ${o.release} → ${o.due}`).sort(),
      )
      expect(output.messages.flatMap((m) => (m.code === 'pull in' ? [`${m.supply} to ${m.day}`] : [])).sort()).toEqual(
        [...referenceModel.pulled].sort(),
      )
      expect(
        output.messages.flatMap((m) => (m.code === 'late supply' ? [`${m.supply} from ${m.day}`] : [])).sort(),
      ).toEqual([...referenceModel.waits].sort())
      for (const node of output.nodes) {
        for (const day of node.days) {
          expect([node.id, day.day, day.projectedAvailable]).toEqual([
            node.id,
            day.day,
            referenceModel.balances.get(node.id)!.get(day.day),
          ])
        }
        expect(
          output.messages.reduce(
            (sum, m) => sum + (m.code === 'will expire' && m.node === node.id ? m.quantity : 0),
            0,
          ),
        ).toBe(referenceModel.expired.get(node.id))
      }
    }),
    { numRuns: runs(1000) },
  )
})

it('what must hold of every plan (1 000 networks)', () => {
  fc.assert(
    fc.property(anyNetwork, (input) => {
      const output = planned(input)
      const sourceOf = new Map(input.nodes.map((node) => [node.id, node.source.kind]))
      for (const node of output.nodes) {
        // A hole that an order could fill is filled; one that waits for open supply, or stays, is told.
        for (const { day, projectedAvailable } of node.days.filter((entry) => entry.projectedAvailable < 0)) {
          const told = output.messages.filter((m) => m.node === node.id)
          const waits = told.some((m) => m.code === 'late supply' && m.day <= day && day < m.comes)
          expect([projectedAvailable, waits || (sourceOf.get(node.id) === 'none' && told.length > 0)]).toEqual([
            projectedAvailable,
            true,
          ])
        }
        // What came, went, was lost and is left adds up.
        const sum = (key: 'grossRequirements' | 'scheduledReceipts' | 'plannedReceipts'): number =>
          node.days.reduce((all, day) => all + day[key], 0)
        const lost = output.messages.reduce(
          (all, m) => all + (m.code === 'will expire' && m.node === node.id ? m.quantity : 0),
          0,
        )
        expect(node.days.at(-1)!.projectedAvailable).toBe(
          node.onHand + sum('scheduledReceipts') + sum('plannedReceipts') - sum('grossRequirements') - lost,
        )
      }
      expectPegsToHold(input, output)
    }),
    { numRuns: runs(1000) },
  )
})

/** No supply gives more than it is, and every demand is pegged in full where all can be supplied. */
function expectPegsToHold(input: PlanInput, output: PlanOutput): void {
  const given = new Map<string, number>()
  const had = new Map<string, number>()
  for (const peg of output.pegs) {
    expect(peg.quantity).toBeGreaterThan(0)
    given.set(peg.supply, (given.get(peg.supply) ?? 0) + peg.quantity)
    had.set(peg.demand, (had.get(peg.demand) ?? 0) + peg.quantity)
  }
  for (const order of output.orders) {
    expect(given.get(order.id) ?? 0).toBeLessThanOrEqual(order.quantity)
  }
  for (const supply of input.supplies) {
    expect(given.get(supply.id) ?? 0).toBeLessThanOrEqual(supply.quantity)
  }
  const safe = input.nodes.every((node) => node.source.kind !== 'none')
  if (safe) {
    for (const demand of input.demands) {
      if (demand.day <= input.end) {
        expect(had.get(demand.id)).toBe(demand.quantity)
      }
    }
  }
}

it('the order of the rows does not matter', () => {
  const turned = <T>(list: readonly T[]): T[] => [...list].reverse()
  fc.assert(
    fc.property(anyNetwork, (input) => {
      expect(
        planned({
          ...input,
          nodes: turned(input.nodes),
          demands: turned(input.demands),
          supplies: turned(input.supplies),
          fixed: turned(input.fixed ?? []),
        }),
      ).toEqual(planned(input))
    }),
    { numRuns: runs(300) },
  )
})

const edit = fc.record({
  to: fc.nat(5),
  safety: fc.nat(9),
  lead: fc.nat(7),
  more: fc.nat(12),
  what: fc.constantFrom('safety', 'lead', 'demand', 'supply', 'fixed', 'hand', 'rule', 'source'),
})

it('a change of what is open plans what a new run would, to the last number (1 000 networks, three changes each)', () => {
  fc.assert(
    fc.property(anyNetwork, fc.array(edit, { minLength: 1, maxLength: 3 }), (input, edits) => {
      const opened = NetPlan.open(input)
      if (!opened.ok) {
        throw new Error(opened.error.code)
      }
      let now = opened.value
      for (const edit of edits) {
        const index = now.compiled.at.get(input.nodes[edit.to % input.nodes.length]!.id)!
        const node = now.compiled.nodes[index]!
        const snapshot = now.snapshot()
        const day = input.demands[0]?.day ?? input.start
        const change = ((): NodeChange => {
          switch (edit.what) {
            case 'safety':
              return { node: { ...node, safety: edit.safety } }
            case 'lead':
              return {
                node: node.source.kind === 'none' ? node : { ...node, source: { ...node.source, leadDays: edit.lead } },
              }
            case 'demand':
              return {
                node,
                demands: [
                  ...snapshot.demands.filter((d) => d.node === node.id).slice(1),
                  { id: 'more', node: node.id, day, quantity: edit.more + 1, kind: 'what-if', label: '', priority: 0 },
                ],
              }
            case 'supply':
              return {
                node,
                supplies: [
                  {
                    id: 'other',
                    node: node.id,
                    day,
                    quantity: edit.more + 1,
                    kind: 'transfer',
                    label: '',
                    earliest: input.start,
                  },
                ],
              }
            case 'fixed':
              return {
                node,
                fixed: [{ id: 'mine', node: node.id, due: day, release: input.start, quantity: edit.more + 1 }],
              }
            case 'hand':
              return { node: { ...node, onHand: [{ lot: null, quantity: edit.more, expiresOn: null }] } }
            case 'rule':
              return { node: { ...node, rule: { kind: 'fixed', quantity: edit.more + 1 } } }
            case 'source':
              return {
                node: { ...node, source: { kind: 'buy', supplier: 'other', leadDays: edit.lead, calendar: 'office' } },
              }
          }
        })()
        const done = now.change([change])
        if (!done.ok) {
          throw new Error(done.error.code)
        }
        now = done.value.plan
      }
      expect(writePlan(now)).toEqual(planned(now.snapshot()))
    }),
    { numRuns: runs(1000) },
  )
})
