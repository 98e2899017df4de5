import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { toDay, toIso } from '~~/core/calendar/days'
import { lowStock } from '~~/core/planning/low-stock'
import { plan } from '~~/core/planning'
import { anyNetwork } from './random-network'
import { runs } from '~~/tests/property-runs'

describe('what runs low, beside the plan made anew', () => {
  it('300 random networks: every node with an order within the days ahead is told, with all that is to be ordered in them, and no other', () => {
    fc.assert(
      fc.property(anyNetwork, fc.integer({ min: 0, max: 20 }), (given, ahead) => {
        const until = toIso(toDay(given.start) + ahead)
        const found = lowStock(given, until)
        const whole = plan(given)
        if (!found.ok || !whole.ok) {
          throw new Error('refused')
        }
        const expected = new Set(
          whole.value.orders
            .filter((order) => !order.fixed && !order.through && order.release <= until)
            .map((order) => order.node),
        )
        expect(new Set(found.value.filter((match) => match.kind !== null).map((match) => match.node))).toEqual(expected)
        for (const entry of found.value) {
          expect(entry.left).toBeLessThan(Math.max(entry.keep, 1))
        }
        expect(new Set(found.value.map((match) => match.node)).size).toBe(found.value.length)
        for (const entry of found.value.filter((match) => match.kind !== null)) {
          const due = whole.value.orders.filter(
            (order) => order.node === entry.node && !order.fixed && !order.through && order.release <= until,
          )
          expect(entry.quantity).toBe(due.reduce((sum, order) => sum + order.quantity, 0))
        }
      }),
      { numRuns: runs(300) },
    )
  })
})
