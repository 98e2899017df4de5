import type { Dated } from '../compile'
import { netNode, type Flow, type NetPlan } from '../netting'
import { FreeStock, type Journal } from './free-stock'

/**
 * What a node has left over when everything that the open plan serves is kept. `soonest`: the first day on which
 * planned orders of it can be there, level by level; what they bring beyond their need counts from then on, not from
 * the day of need. Days from the start on.
 */
export function freeAfterPlan(plan: NetPlan, index: number, soonest: number, journal: Journal): FreeStock {
  const { compiled } = plan
  const { span, supplies } = compiled
  const balances = new Float64Array(span)
  if (plan.beyond.has(index)) {
    return new FreeStock(balances, [], journal)
  }
  const column = (): Float64Array => new Float64Array(span)
  const flow: Flow = { gross: column(), fixed: column(), safety: column() }
  const given = column()
  plan.gather(index, flow, undefined, (_, producer, day, quantity) => {
    if (producer > index) {
      given[day]! += quantity
    }
  })
  const comes = new Map<Dated, number>()
  netNode(compiled, compiled.nodes[index]!, flow, supplies[index]!, {
    order: () => undefined,
    pulled: (day, supply) => comes.set(supply, day),
    waits: (_, supply, day) => comes.set(supply, day),
    day: (day, { balance, net, planned }) => {
      balances[day]! += balance
      const surplus = planned - net
      for (let at = day; surplus > 0 && at < Math.min(soonest, span); at++) {
        balances[at]! -= surplus
      }
    },
  })
  let late = 0
  for (let day = 0; day < span; day++) {
    late += given[day]!
    balances[day]! += late
  }
  return new FreeStock(
    balances,
    supplies[index]!.map((supply) => ({
      label: supply.row.label,
      quantity: supply.quantity,
      due: Math.max(0, supply.at),
      comes: Math.max(0, comes.get(supply) ?? supply.at),
      // A day that nobody knows is no day to promise.
      earliest: Math.max(0, supply.row.earliest === undefined ? supply.at : supply.earliest),
    })).filter((supply) => supply.comes < span),
    journal,
  )
}
