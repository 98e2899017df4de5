import { orderOfNeed, orderOfSupply } from './peg-ids'
import type { PlanOutput } from './output'

/** One step of the way from a planned order up to what it is for. */
export interface Reason {
  /** The demand's id: a sales order line's, a forecast's, or `order>node` for the need of another planned order. */
  readonly demand: string
  readonly quantity: number
  /** The planned order whose need this is, and its own reasons; absent where the demand comes from outside. */
  readonly order?: string
  readonly reasons: readonly Reason[]
}

/**
 * Follows the pegs of a planned order up to the sales orders and forecasts that are its reason.
 *
 * Quantities are those pegged at each step, in that step's own item. A remainder kept for safety stock has no reason
 * and is not listed.
 */
export function reasonsOf(output: PlanOutput, orderId: string): readonly Reason[] {
  const isOrder = new Set(output.orders.map((order) => order.id))
  const follow = (supply: string): readonly Reason[] =>
    output.pegs
      .filter((peg) => orderOfSupply(peg.supply) === supply)
      .map((peg) => {
        const parent = orderOfNeed(peg.demand)
        return isOrder.has(parent)
          ? { demand: peg.demand, quantity: peg.quantity, order: parent, reasons: follow(parent) }
          : { demand: peg.demand, quantity: peg.quantity, reasons: [] }
      })
  return follow(orderId)
}
