import { toDay, type Day } from '../calendar'
import type { PlanNode } from './input'

/** On hand by lot, soonest expiry first: what demands use of it, and what nobody used in time. */
export function expiringLots(node: PlanNode, start: Day): { lots: readonly { gone: Day }[], use(quantity: number): void, expire(day: Day): { lot: string | null, quantity: number }[] } {
  const lots = node.onHand.filter(lot => lot.expiresOn !== null)
    .map(lot => ({ lot: lot.lot, quantity: lot.quantity, gone: Math.max(start, toDay(lot.expiresOn!) + 1) })).sort((a, b) => a.gone - b.gone)
  return {
    lots,
    use(quantity) {
      let open = quantity
      for (const lot of lots) {
        const taken = Math.min(open, lot.quantity)
        lot.quantity -= taken
        open -= taken
      }
    },
    expire(day) {
      const gone = lots.filter(lot => lot.gone <= day && lot.quantity > 0)
      return gone.map((lot) => { const lost = { lot: lot.lot, quantity: lot.quantity }; lot.quantity = 0; return lost })
    },
  }
}
