import { toDay, type Day } from '../../calendar/days'
import { compareIds, type PlanNode } from '../input'
import type { Peg } from './output'

/** Days count from the start of the plan. */
export interface Wanted {
  readonly id: string
  readonly day: number
  /** The day on which it was wanted, also where that is past. */
  readonly since: number
  quantity: number
  readonly priority: number
}
export interface Arrival {
  readonly id: string
  readonly day: number
  readonly quantity: number
}

/**
 * Hands every supply of one node to its demands: demands by date (what is past due first), priority, entry; on hand
 * first (soonest expiry first, only up to and on its expiry), then arrivals by date. The earliest demand that is not
 * served yet is served first, also by what comes after it.
 *
 * What a demand cannot get stays unpegged: it is the shortage.
 */
export function pegNode(
  node: PlanNode,
  start: Day,
  demands: readonly Wanted[],
  arrivals: readonly Arrival[],
): readonly Peg[] {
  const never = Number.MAX_SAFE_INTEGER
  const lots = node.onHand
    .map((lot) => ({
      id: `on hand:${node.id}:${lot.lot ?? ''}`,
      left: lot.quantity,
      until: lot.expiresOn === null ? never : toDay(lot.expiresOn) - start,
    }))
    .sort((a, b) => a.until - b.until || compareIds(a.id, b.id))
  const coming = arrivals
    .map((arrival) => ({ ...arrival, left: arrival.quantity }))
    .sort((a, b) => a.day - b.day || compareIds(a.id, b.id))
  const inOrder = [...demands].sort((a, b) => a.since - b.since || a.priority - b.priority || compareIds(a.id, b.id))
  const pegs: Peg[] = []
  // Demands come by date, so what is used up or expired once never serves again: each list is walked once.
  let lot = 0
  let next = 0
  for (const demand of inOrder) {
    let open = demand.quantity
    const serve = (supply: { readonly id: string; left: number }): void => {
      const quantity = Math.min(open, supply.left)
      if (quantity === 0) {
        return
      }
      supply.left -= quantity
      open -= quantity
      pegs.push({ supply: supply.id, demand: demand.id, quantity })
    }
    for (; open > 0 && lot < lots.length; lot++) {
      const here = lots[lot]!
      if (here.until >= demand.day) {
        serve(here)
      }
      if (here.left > 0 && here.until >= demand.day) {
        break
      }
    }
    for (; open > 0 && next < coming.length; next++) {
      serve(coming[next]!)
      if (coming[next]!.left > 0) {
        break
      }
    }
  }
  return pegs
}
