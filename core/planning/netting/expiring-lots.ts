import { toDay, type Day } from '../../calendar/days'
import type { PlanNode } from '../input'

interface Expiring {
  readonly lot: string | null
  readonly gone: number
  quantity: number
}

/**
 * On hand by lot, soonest expiry first: what demands use of it, and what nobody used in time. `gone`: the day from the
 * start on from which it is lost.
 */
export class ExpiringLots {
  constructor(readonly lots: readonly Expiring[]) {}

  static of(node: PlanNode, start: Day): ExpiringLots | null {
    if (!node.onHand.some((lot) => lot.expiresOn !== null)) {
      return null
    }
    return new ExpiringLots(
      node.onHand
        .filter((lot) => lot.expiresOn !== null)
        .map((lot) => ({ lot: lot.lot, quantity: lot.quantity, gone: Math.max(0, toDay(lot.expiresOn!) + 1 - start) }))
        .sort((a, b) => a.gone - b.gone || ((a.lot ?? '') < (b.lot ?? '') ? -1 : 1)),
    )
  }

  copy(): ExpiringLots {
    return new ExpiringLots(this.lots.map((lot) => ({ ...lot })))
  }

  use(quantity: number): void {
    let open = quantity
    for (const lot of this.lots) {
      const taken = Math.min(open, lot.quantity)
      lot.quantity -= taken
      open -= taken
    }
  }

  /** What is lost by a day; each only once. */
  expire(day: number, listener?: (lot: string | null, quantity: number) => void): number {
    let lost = 0
    for (const lot of this.lots) {
      if (lot.gone > day || lot.quantity === 0) {
        continue
      }
      lost += lot.quantity
      listener?.(lot.lot, lot.quantity)
      lot.quantity = 0
    }
    return lost
  }
}
