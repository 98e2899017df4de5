import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { toDay, toIso } from '../calendar/days'
import type { PlanInput, PlanNode } from './input'
import { consumeForecast, spreadForecast } from './demand'
import { describeMessage, type PlanMessage } from './explain'
import { plan } from './plan'
import { everyDay, isWorking, makeCalendar } from '../calendar/working'
import { runs } from '../../tests/property-runs'

const START = toDay('2026-10-05')
const DAYS = 30
const iso = (offset: number): string => toIso(START + offset)

interface Case {
  readonly lots: readonly (readonly [quantity: number, until: number | null])[]
  readonly safety: number
  readonly demands: readonly (readonly [day: number, quantity: number])[]
  readonly supplies: readonly (readonly [day: number, quantity: number])[]
  readonly leadDays: number
  readonly minimum: number
  readonly multiple: number
}

const anyCase: fc.Arbitrary<Case> = fc.record({
  lots: fc.array(
    fc.tuple(fc.integer({ min: 1, max: 40 }), fc.option(fc.integer({ min: 0, max: DAYS }), { nil: null })),
    { maxLength: 3 },
  ),
  safety: fc.integer({ min: 0, max: 8 }),
  demands: fc.array(fc.tuple(fc.integer({ min: 0, max: DAYS }), fc.integer({ min: 1, max: 20 })), { maxLength: 12 }),
  supplies: fc.array(fc.tuple(fc.integer({ min: 0, max: DAYS }), fc.integer({ min: 1, max: 20 })), { maxLength: 4 }),
  leadDays: fc.integer({ min: 0, max: 10 }),
  minimum: fc.integer({ min: 0, max: 15 }),
  multiple: fc.integer({ min: 1, max: 7 }),
})

function inputOf(c: Case): PlanInput {
  const node: PlanNode = {
    id: 'x',
    safety: c.safety,
    onHand: c.lots.map(([quantity, until], i) => ({
      lot: `L${i}`,
      quantity,
      expiresOn: until === null ? null : iso(until),
    })),
    source: {
      kind: 'buy',
      supplier: 's',
      leadDays: c.leadDays,
      calendar: null,
      minimum: c.minimum,
      multiple: { numerator: String(c.multiple), denominator: '1' },
    },
  }
  return {
    start: iso(0),
    end: iso(DAYS),
    calendars: {},
    nodes: [node],
    demands: c.demands.map(([day, quantity], i) => ({
      id: `d${i}`,
      node: 'x',
      day: iso(day),
      quantity,
      kind: 'sales order',
      label: '',
      priority: 0,
    })),
    supplies: c.supplies.map(([day, quantity], i) => ({
      id: `s${i}`,
      node: 'x',
      day: iso(day),
      quantity,
      kind: 'purchase order',
      label: '',
    })),
  }
}

/** What expires soonest is taken first; what does not expire needs no counting. */
function takeSoonestFirst(lots: readonly { left: number; readonly until: number | null }[], wanted: number): void {
  let open = wanted
  const expiring = lots.filter((lot) => lot.until !== null).sort((a, b) => a.until! - b.until!)
  for (const lot of expiring) {
    const used = Math.min(open, lot.left)
    lot.left -= used
    open -= used
  }
}

/** The slow obvious twin: every day in turn, every lot and every supply looked at each day. */
function obvious(c: Case): {
  balances: number[]
  orders: [day: number, quantity: number][]
  pulled: number[]
  expired: number
} {
  const lots = c.lots.map(([quantity, until]) => ({ left: quantity, until }))
  const supplies = c.supplies.map(([day, quantity], i) => ({ i, day, quantity, here: false }))
  let balance = lots.reduce((sum, lot) => sum + lot.left, 0)
  let expired = 0
  const result = { balances: [] as number[], orders: [] as [number, number][], pulled: [] as number[], expired: 0 }
  for (let day = 0; day <= DAYS; day++) {
    for (const lot of lots.filter(({ until }) => until !== null && until < day)) {
      balance -= lot.left
      expired += lot.left
      lot.left = 0
    }
    for (const s of supplies.filter((entry) => !entry.here && entry.day <= day)) {
      s.here = true
      balance += s.quantity
    }
    const wanted = c.demands.filter(([d]) => d === day).reduce((sum, [, q]) => sum + q, 0)
    balance -= wanted
    for (const s of [...supplies].sort((a, b) => a.day - b.day || (`s${a.i}` < `s${b.i}` ? -1 : 1))) {
      if (balance >= c.safety || s.here || s.day > day + c.leadDays) {
        continue
      }
      s.here = true
      balance += s.quantity
      result.pulled.push(s.i)
    }
    if (balance < c.safety) {
      const least = Math.max(c.safety - balance, c.minimum)
      const quantity = Math.ceil(least / c.multiple) * c.multiple
      result.orders.push([day, quantity])
      balance += quantity
    }
    takeSoonestFirst(lots, wanted)
    result.balances.push(balance)
  }
  return { ...result, expired }
}

describe('netting against its slow obvious twin', () => {
  it('gives the same orders, balances, pull-ins and losses (property)', () => {
    fc.assert(
      fc.property(anyCase, (c) => {
        const result = plan(inputOf(c))
        if (!result.ok) {
          throw new Error(result.error.code)
        }
        const referenceModel = obvious(c)
        const { orders, messages, nodes } = result.value
        expect(orders.map((o) => [toDay(o.due) - START, o.quantity])).toEqual(referenceModel.orders)
        expect(messages.flatMap((m) => (m.code === 'pull in' ? [Number(m.supply.slice(1))] : [])).sort()).toEqual(
          [...referenceModel.pulled].sort(),
        )
        expect(messages.reduce((sum, m) => sum + (m.code === 'will expire' ? m.quantity : 0), 0)).toBe(
          referenceModel.expired,
        )
        for (const day of nodes[0]!.days) {
          expect([day.day, day.projectedAvailable]).toEqual([day.day, referenceModel.balances[toDay(day.day) - START]])
        }
      }),
      { numRuns: runs(500) },
    )
  })
  it('what comes in, goes out, expires and stays adds up (property)', () => {
    fc.assert(
      fc.property(anyCase, (c) => {
        const result = plan(inputOf(c))
        if (!result.ok) {
          throw new Error(result.error.code)
        }
        const {
          nodes: [node],
          messages,
        } = result.value
        const sum = (key: 'grossRequirements' | 'scheduledReceipts' | 'plannedReceipts'): number =>
          node!.days.reduce((total, day) => total + day[key], 0)
        const expired = messages.reduce((total, m) => total + (m.code === 'will expire' ? m.quantity : 0), 0)
        expect(node!.days.at(-1)!.projectedAvailable).toBe(
          node!.onHand + sum('scheduledReceipts') + sum('plannedReceipts') - sum('grossRequirements') - expired,
        )
      }),
      { numRuns: runs(300) },
    )
  })
})

describe('forecasts keep their totals', () => {
  const periods = (quantities: readonly number[]) =>
    quantities.map((quantity, i) => ({ first: START + i * 7, last: START + i * 7 + 6, quantity }))
  const total = (list: readonly { quantity: number }[]): number => list.reduce((sum, p) => sum + p.quantity, 0)
  it('spread over working days the whole steps add up, and no two days differ by more than one (property)', () => {
    const office = makeCalendar([true, true, true, true, true, false, false], ['2026-10-12'])
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 10_000 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 13 }),
        (quantity, from, span) => {
          const parts = spreadForecast(quantity, START + from, START + from + span, office)
          expect(total(parts)).toBe(quantity)
          const amounts = parts.map((p) => p.quantity)
          if (amounts.length > 0) {
            expect(Math.max(...amounts) - Math.min(...amounts)).toBeLessThanOrEqual(1)
          }
          if (parts.length > 1) {
            expect(parts.every((p) => isWorking(office, p.day))).toBe(true)
          }
        },
      ),
    )
  })
  it('a week of closed days falls on its first day', () => {
    expect(
      spreadForecast(7, START + 5, START + 6, makeCalendar([true, true, true, true, true, false, false], [])),
    ).toEqual([{ day: START + 5, quantity: 7 }])
    expect(spreadForecast(6, START, START + 2, everyDay)).toEqual([
      { day: START, quantity: 2 },
      { day: START + 1, quantity: 2 },
      { day: START + 2, quantity: 2 },
    ])
  })
  it('orders use up no more than they are, and no more than there is (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(30), { minLength: 1, maxLength: 8 }),
        fc.array(fc.tuple(fc.integer({ min: -10, max: 60 }), fc.integer({ min: 1, max: 40 })), { maxLength: 8 }),
        fc.nat(30),
        fc.nat(30),
        (quantities, orders, back, ahead) => {
          const given = periods(quantities)
          const placed = orders.map(([day, quantity]) => ({ day: START + day, quantity }))
          const left = consumeForecast(given, placed, 'larger', back, ahead)
          expect(left.every((p) => p.quantity >= 0)).toBe(true)
          const used = total(given) - total(left)
          expect(used).toBeGreaterThanOrEqual(0)
          expect(used).toBeLessThanOrEqual(Math.min(total(given), total(placed)))
          const wider = consumeForecast(given, placed, 'larger', back + 7, ahead + 7)
          expect(total(wider)).toBeLessThanOrEqual(total(left))
        },
      ),
    )
  })
})

describe('the sentence of every message', () => {
  const index = { node: 'g', day: '2026-10-08', quantity: 3 }
  const words = {
    item: () => 'GLUE',
    quantity: (_: string, steps: number) => `${steps} kg`,
    day: (text: string) => text.slice(8),
    ref: (id: string) => id.toUpperCase(),
  }
  it.each<[PlanMessage, string]>([
    [{ ...index, code: 'short' }, 'GLUE: 3 kg short on 08.'],
    [
      { ...index, code: 'late order', order: 'o', lateBy: 3, promised: '2026-10-11' },
      'GLUE: 3 kg needed on 08 can be there on 11 at the earliest, 3 working days of lead time too late.',
    ],
    [{ ...index, code: 'pull in', supply: 'po-1', from: '2026-10-20' }, 'PO-1: pull in 3 kg of GLUE from 20 to 08.'],
    [{ ...index, code: 'surplus', supply: 'po-1' }, 'PO-1: nothing in the horizon needs the 3 kg of GLUE due on 08.'],
    [{ ...index, code: 'past due', ref: 'so-1' }, 'SO-1: 3 kg of GLUE was due on 08.'],
    [{ ...index, code: 'will expire', lot: 'L1' }, 'GLUE: 3 kg will expire unused on 08 (lot L1).'],
    [{ ...index, code: 'will expire', lot: null }, 'GLUE: 3 kg will expire unused on 08.'],
    [
      { ...index, code: 'no source' },
      "GLUE: nothing says where it comes from. Give it a supplier's terms on its page.",
    ],
    [{ ...index, code: 'no BOM' }, 'GLUE: it is made, but has no bill of materials. Write one on its page.'],
    [
      { ...index, code: 'no conversion' },
      'GLUE: a unit of its bill or terms cannot be converted. Add a pack or a bridge on the item.',
    ],
    [{ ...index, code: 'retired' }, 'GLUE: it is retired or no longer bought, so nothing is planned for it.'],
  ])('%j', (message, sentence) => {
    expect(describeMessage(message, words)).toBe(sentence)
  })
})
