import { toDay } from '../calendar'
import type { PlanNode } from './input'
import type { OpenSupply, TimedDemand } from './net-node'
import type { Peg } from './output'

/**
 * Hands every supply of one node to its demands: demands by date, priority, entry; on hand first (soonest expiry first, only up to
 * and on its expiry), then arrivals by date.
 *
 * What a demand cannot get stays unpegged: it is the shortage.
 */
export function pegNode(node: PlanNode, demands: readonly TimedDemand[], arrivals: readonly OpenSupply[]): readonly Peg[] {
  const never = Number.MAX_SAFE_INTEGER
  const onHand = node.onHand
    .map(lot => ({ id: `on hand:${node.id}:${lot.lot ?? ''}`, left: lot.quantity, until: lot.expiresOn === null ? never : toDay(lot.expiresOn), day: -never }))
    .sort((a, b) => a.until - b.until || (a.id < b.id ? -1 : 1))
  const coming = [...arrivals].sort((a, b) => a.day - b.day).map(supply => ({ id: supply.id, left: supply.quantity, until: never, day: supply.day }))
  const supplies = [...onHand, ...coming]
  const pegs: Peg[] = []
  const inOrder = [...demands].sort((a, b) => a.day - b.day || a.priority - b.priority || (a.id < b.id ? -1 : 1))
  for (const demand of inOrder) {
    let open = demand.quantity
    for (const supply of supplies) {
      if (open === 0) break
      if (supply.left === 0 || supply.day > demand.day || supply.until < demand.day) continue
      const quantity = Math.min(open, supply.left)
      supply.left -= quantity
      open -= quantity
      pegs.push({ supply: supply.id, demand: demand.id, quantity })
    }
  }
  return pegs
}
