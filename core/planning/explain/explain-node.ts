import { toDay, toIso } from '../../calendar/days'
import { wayFrom, type Demand, type Supply } from '../input'
import type { NetPlan } from '../netting'
import type { NodePlan, Peg, PlanMessage, PlannedOrder } from './output'
import { pegNode, type Arrival, type Wanted } from './peg-node'
import { adviceOnSupplies } from './advise-supply'
import { EXACT, sizeOfRule, sizingOf, netNode } from '../netting'
import { NodeLines } from './node-lines'

export interface ExplainedNode {
  readonly plan: NodePlan
  readonly orders: readonly PlannedOrder[]
  readonly pegs: readonly Peg[]
  readonly messages: readonly PlanMessage[]
}

/** The id of the n-th planned order of a node, from 1. */
export const orderId = (node: string, number: number): string => `planned:${node}:${number}`

/** Everything that an open plan says about one node: its lines, its orders with their numbers, who gets what, and what there is to say. */
export function explainNode(plan: NetPlan, index: number): ExplainedNode {
  const { compiled, orders: table } = plan
  const { start, span, nodes } = compiled
  const node = nodes[index]!
  const { source } = node
  const isPassThrough = source.kind === 'make' && source.isPassThrough === true
  const iso = (day: number): string => toIso(start + day)
  const messages: PlanMessage[] = []
  const wanted: Wanted[] = []
  const arrivals: Arrival[] = []
  const late = new Float64Array(span)
  const pastDue = (row: Demand | Supply): void => {
    if (toDay(row.day) < start) {
      messages.push({ code: 'past due', node: node.id, day: row.day, quantity: row.quantity, ref: row.id })
    }
  }
  if (compiled.loops.has(index)) {
    messages.push({ code: 'loop', node: node.id, day: iso(0), quantity: 0, path: compiled.loops.get(index)! })
  }
  const demands = [...compiled.demands.rowsOf(index)].sort((a, b) => {
    if (a.day === b.day) {
      if (a.id < b.id) {
        return -1
      }
      return 1
    }
    if (a.day < b.day) {
      return -1
    }
    return 1
  })
  const supplies = compiled.supplies[index]!
  for (const demand of demands) {
    pastDue(demand)
    const day = Math.max(0, toDay(demand.day) - start)
    if (day < span) {
      wanted.push({ id: demand.id, day, quantity: demand.quantity, priority: demand.priority })
    }
  }
  for (const supply of supplies) {
    pastDue(supply.row)
  }

  // A parent with two lines of the same component asks twice; it is one demand.
  const byOrder = new Map<string, Wanted>()
  const flow = { gross: new Float64Array(span), fixed: new Float64Array(span), safety: new Float64Array(span) }
  plan.gather(
    index,
    flow,
    (order, parent, day, quantity) => {
      const id = `${idOf(plan, parent, order)}>${node.id}`
      const key = `${id} ${day}`
      const known = byOrder.get(key)
      if (known) {
        known.quantity += quantity
      } else {
        const made = { id, day, quantity, priority: 0 }
        byOrder.set(key, made)
        wanted.push(made)
      }
    },
    (order, producer, day, quantity) => {
      arrivals.push({ id: `${idOf(plan, producer, order)}+${node.id}`, day, quantity })
      if (producer > index) {
        late[day]! += quantity
      }
    },
  )

  const orders: PlannedOrder[] = []
  const days = source.kind === 'none' ? null : compiled.daysOf(isPassThrough ? null : source.calendar)
  const leadDays = source.kind === 'none' || isPassThrough ? 0 : source.leadDays
  const dates = (due: number): Pick<PlannedOrder, 'lateBy' | 'promised' | 'release' | 'due'> => {
    const release = days!.back(start + due, leadDays)
    const isLate = release < start
    return {
      due: iso(due),
      release: toIso(Math.max(start, release)),
      lateBy: isLate ? days!.between(release, start) : 0,
      promised: toIso(isLate ? days!.forward(start, leadDays) : start + due),
    }
  }
  const kind = source.kind === 'none' ? 'buy' : source.kind
  const sizing = source.kind === 'none' ? null : sizingOf(source, node.id)
  const multiple =
    sizing === null ? 1 : Number(BigInt(sizing.multiple.numerator)) / Number(BigInt(sizing.multiple.denominator))
  for (const entry of compiled.fixed.get(index) ?? []) {
    if (entry.due - start >= span) {
      continue
    }
    const due = Math.max(0, entry.due - start)
    const from = wayFrom(node, entry.supplier)
    const [their, lead] =
      from === source || from.kind === 'none' ? [days, leadDays] : [compiled.daysOf(from.calendar), from.leadDays]
    const wantedRelease = their ? their.back(entry.due, lead) : entry.release
    const lateBy = their && wantedRelease < start ? their.between(wantedRelease, start) : 0
    orders.push({
      id: entry.id,
      node: node.id,
      kind,
      quantity: entry.quantity,
      due: iso(due),
      release: toIso(Math.max(start, entry.release)),
      lateBy,
      promised: lateBy > 0 ? toIso(their!.forward(start, lead)) : iso(due),
      fixed: true,
      ...(from !== source && from.kind === 'buy' ? { supplier: from.supplier } : {}),
      why: {
        balanceBefore: 0,
        demandThatDay: flow.gross[due]!,
        safety: flow.safety[due]!,
        netRequirement: 0,
        rule: 'exact',
        byRule: entry.quantity,
        minimum: sizing?.minimum ?? 0,
        multiple,
        times: 1,
        leadDays: lead,
      },
    })
    arrivals.push({ id: entry.id, day: due, quantity: entry.quantity })
  }
  const fixedOrders = orders.length
  const rule = isPassThrough || source.kind === 'none' ? EXACT : (node.rule ?? EXACT)
  const ruleSize = sizeOfRule(rule, flow.gross, span)
  const lines = new NodeLines(span)
  let short = 0
  let listener = false
  for (const supply of supplies) {
    lines.mark(Math.max(0, supply.at))
  }
  netNode(compiled, node, flow, supplies, {
    order(due, quantity, times, facts) {
      const level = rule.kind === 'up to' ? rule.reorderPoint : flow.safety[due]!
      const order: PlannedOrder = {
        id: orderId(node.id, orders.length - fixedOrders + 1),
        node: node.id,
        kind,
        quantity,
        ...dates(due),
        ...(isPassThrough ? { through: true as const } : {}),
        why: {
          balanceBefore: facts.balanceBefore,
          demandThatDay: flow.gross[due]!,
          safety: level,
          netRequirement: facts.net,
          rule: rule.kind,
          byRule: facts.byRule,
          ...(ruleSize === undefined ? {} : { ruleSize }),
          minimum: sizing!.minimum,
          multiple,
          times,
          ...(facts.parts > 1 ? { split: facts.parts } : {}),
          leadDays,
        },
      }
      orders.push(order)
      arrivals.push({ id: order.id, day: due, quantity })
      if (order.lateBy > 0 && !isPassThrough) {
        messages.push({
          code: 'late order',
          node: node.id,
          day: order.due,
          quantity: order.quantity,
          order: order.id,
          lateBy: order.lateBy,
          promised: order.promised,
        })
      }
    },
    pulled(day, supply) {
      arrivals.push({ id: supply.row.id, day, quantity: supply.quantity })
      lines.pulled.add(supply)
      messages.push({
        code: 'pull in',
        node: node.id,
        day: iso(day),
        quantity: supply.quantity,
        supply: supply.row.id,
        from: supply.row.day,
      })
    },
    lost(day, lot, quantity) {
      lines.mark(day)
      messages.push({ code: 'will expire', node: node.id, day: iso(day - 1), quantity, lot })
    },
    lacking(day, balance) {
      if (source.kind !== 'none') {
        return
      }
      if (balance < short) {
        messages.push({ code: 'short', node: node.id, day: iso(day), quantity: short - balance })
        if (source.reason !== 'loop') {
          messages.push({ code: source.reason, node: node.id, day: iso(day), quantity: -balance })
        }
        short = balance
      } else if (balance >= 0 && !listener) {
        messages.push({
          code: 'below safety',
          node: node.id,
          day: iso(day),
          quantity: flow.safety[day]! - balance,
          safety: flow.safety[day]!,
        })
      }
      listener = true
    },
    day(day, scheduled, net, planned, balance, balanceWithoutOrders) {
      lines.set(day, { flow, scheduled, net, planned, balance, balanceWithoutOrders, late })
    },
  })
  for (const supply of supplies) {
    if (supply.at < span && !lines.pulled.has(supply)) {
      arrivals.push({ id: supply.row.id, day: Math.max(0, supply.at), quantity: supply.quantity })
    }
  }
  let onHand = 0
  for (const lot of node.onHand) {
    onHand += lot.quantity
  }
  for (let i = 0; i < orders.length; i++) {
    lines.release(table.release[table.first[index]! + i]!, orders[i]!.quantity)
  }
  messages.push(...adviceOnSupplies(compiled, node, supplies, lines, flow.safety))
  const longest = compiled.input.longestLeadDays ?? span - 1
  const whole = wanted.length > 0 ? plan.wholeLead(index) : 0
  if (whole > longest && demands.length > 0) {
    messages.push({ code: 'long lead time', node: node.id, day: iso(0), quantity: 0, leadDays: whole, longest })
  }
  return {
    plan: { id: node.id, level: compiled.levels[index]!, onHand, safety: node.safety, days: lines.written(iso) },
    orders,
    messages,
    pegs: pegNode(node, start, wanted, arrivals),
  }
}

const idOf = (plan: NetPlan, index: number, order: number): string => {
  const { orders, compiled } = plan
  const fixed = orders.fixed[order]!
  if (fixed >= 0) {
    return compiled.fixed.get(index)![fixed]!.id
  }
  let before = 0
  for (let i = orders.first[index]!; i < orders.first[index]! + orders.count[index]! && orders.fixed[i]! >= 0; i++) {
    before++
  }
  return orderId(compiled.nodes[index]!.id, order - orders.first[index]! - before + 1)
}
