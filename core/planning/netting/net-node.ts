import { ExpiringLots } from './expiring-lots'
import type { Dated, Compiled } from '../compile'
import { ONE_STEP } from '../compile'
import type { LotRule, Multiple, PlanNode, Source } from '../input'
import { leastCostOrders, type Requirement, splitOrder } from '../sizing'

/** What goes in and out of one node by day of the horizon, besides its open supply: filled anew for each node. */
export interface Flow {
  readonly gross: Float64Array
  /** Fixed orders, and by-products of orders of other nodes. */
  readonly fixed: Float64Array
  /** The balance under which something is missing. */
  readonly safety: Float64Array
}

/** What an order was sized from; the same object each time. */
export interface OrderFacts {
  balanceBefore: number
  net: number
  byRule: number
  parts: number
}

/** Is told what the walk does; the walk itself keeps nothing. */
export interface NetListener {
  order(day: number, quantity: number, times: number, facts: OrderFacts): void
  pulled?(day: number, supply: Dated): void
  lost?(day: number, lot: string | null, quantity: number): void
  lacking?(day: number, balance: number): void
  day?(day: number, found: DayBalance): void
}

/** What a day of the walk comes to, in finest steps. */
export interface DayBalance {
  readonly scheduled: number
  readonly net: number
  readonly planned: number
  readonly balance: number
  readonly balanceWithoutOrders: number
}

/** The lot-sizing rule that orders exactly what is missing. */
export const EXACT: LotRule = { kind: 'exact' }

/** How a node's orders are sized; nothing of it where it only hands through. */
export function sizingOf(
  source: Exclude<Source, { kind: 'none' }>,
  own: string,
): { readonly minimum: number; readonly multiple: Multiple; readonly maximum: number | undefined } {
  if (source.kind === 'make' && source.isPassThrough) {
    return { minimum: 0, multiple: ONE_STEP, maximum: undefined }
  }
  const given =
    source.kind === 'break down'
      ? { numerator: String(source.outputs.find((output) => output.node === own)?.quantity ?? 1), denominator: '1' }
      : source.multiple
  return { minimum: source.minimum ?? 0, multiple: given ?? ONE_STEP, maximum: source.maximum }
}

/**
 * Nets one node day by day, supplies before demands, and sizes its planned orders.
 *
 * balance(d) = balance(d−1) + receipts(d) − demands(d) − what expired; where it is below the safety stock (or the reorder point), open supply due later
 * within the pull-in window is taken first (whole, earliest first), then an order is planned by the node's rule, minimum, multiple and maximum.
 * A node without a source has no orders: its balance goes on below zero. Answers the first day on which it would fall short without orders, or −1.
 * Source: APICS dictionary, material requirements planning; Orlicky, Material Requirements Planning (1975), gross-to-net logic.
 */
export function netNode(
  compiled: Compiled,
  node: PlanNode,
  flow: Flow,
  supplies: readonly Dated[],
  listener: NetListener,
): number {
  const { span, input } = compiled
  const { gross, fixed, safety } = flow
  const { source } = node
  const isPassThrough = source.kind === 'make' && source.isPassThrough === true
  const rule = isPassThrough || source.kind === 'none' ? EXACT : (node.rule ?? EXACT)
  const window =
    input.pullIn === false || isPassThrough ? -1 : (node.pullInDays ?? ('leadDays' in source ? source.leadDays : 0))
  const sizing = source.kind === 'none' ? null : sizingOf(source, node.id)
  const fixedSize = rule.kind === 'fixed' || rule.kind === 'economic' ? sizeOfRule(rule, gross, span) : undefined
  const ahead = rule.kind === 'least cost' && sizing ? planAhead(rule, sizing) : null
  const lots = ExpiringLots.of(node, compiled.start)
  const upTo = rule.kind === 'up to'
  const reorderPoint = rule.kind === 'up to' ? rule.reorderPoint : 0
  const tellDay = listener.day === undefined ? null : listener
  let balance = 0
  for (const lot of node.onHand) {
    balance += lot.quantity
  }
  let balanceWithoutOrders = balance
  let next = 0
  let dated = 0
  let firstShortage = -1

  const facts: OrderFacts = { balanceBefore: 0, net: 0, byRule: 0, parts: 1 }
  // A multiple that is a whole number of steps below 2^20, without a maximum: plain numbers are exact.
  const whole =
    sizing &&
    sizing.maximum === undefined &&
    sizing.multiple.denominator === '1' &&
    sizing.multiple.numerator.length < 7
      ? Number(sizing.multiple.numerator)
      : 0
  /** Whether days on which nothing comes or goes need no look. */
  const quiet = lots === null && ahead === null && listener.day === undefined && node.seasons === undefined
  const least = Math.max(safety[0]!, reorderPoint)

  for (let index = 0; index < span; index++) {
    if (quiet && index > 0 && balance >= least) {
      const coming = Math.min(
        next < supplies.length ? supplies[next]!.at : span,
        dated < supplies.length ? supplies[dated]!.at : span,
      )
      while (index < coming && gross[index] === 0 && fixed[index] === 0) {
        index++
      }
      if (index >= span) {
        break
      }
    }
    if (lots) {
      const lost = lots.expire(index, listener.lost && ((lot, quantity) => listener.lost!(index, lot, quantity)))
      balance -= lost
      balanceWithoutOrders -= lost
    }
    let scheduled = 0
    for (; dated < supplies.length && supplies[dated]!.at <= index; dated++) {
      balanceWithoutOrders += supplies[dated]!.quantity
    }
    for (; next < supplies.length && supplies[next]!.at <= index; next++) {
      scheduled += supplies[next]!.quantity
    }
    balance += scheduled + fixed[index]!
    const before = balance
    balance -= gross[index]!
    balanceWithoutOrders -= gross[index]!
    const level = upTo ? reorderPoint : safety[index]!
    if (balance < level || ahead) {
      for (
        ;
        next < supplies.length &&
        (ahead ? next < ahead.reached[index]! : balance < level && supplies[next]!.at <= index + window);
        next++
      ) {
        balance += supplies[next]!.quantity
        scheduled += supplies[next]!.quantity
        listener.pulled?.(index, supplies[next]!)
      }
    }
    let net = 0
    let planned = 0
    if (sizing === null) {
      if (balance < level) {
        net = level - balance
        listener.lacking?.(index, balance)
      }
    } else {
      let asked
      if (ahead) {
        asked = ahead.orders[index]!
      } else if (balance < level) {
        asked = askedBy(index, level - balance, balance, next)
      } else {
        asked = 0
      }
      if (asked > 0) {
        net = ahead ? ahead.nets[index]! : level - balance
        facts.balanceBefore = before
        facts.net = net
        facts.byRule = asked
        facts.parts = 1
        if (whole > 0 && asked < 2 ** 51) {
          const times = Math.ceil((asked > sizing.minimum ? asked : sizing.minimum) / whole)
          planned = times * whole
          listener.order(index, planned, times, facts)
        } else {
          const parts = splitOrder(asked, sizing.minimum, sizing.multiple, sizing.maximum)
          facts.parts = parts.length
          for (const part of parts) {
            listener.order(index, part.quantity, part.times, facts)
            planned += part.quantity
          }
        }
        balance += planned
      }
    }
    lots?.use(gross[index]!)
    if (firstShortage < 0 && balanceWithoutOrders < safety[index]!) {
      firstShortage = index
    }
    if (tellDay) {
      tellDay.day!(index, { scheduled, net, planned, balance, balanceWithoutOrders })
    }
  }
  return firstShortage

  // What changes day by day is handed over: a captured number would be boxed at every step.
  function askedBy(day: number, net: number, balance: number, next: number): number {
    if (fixedSize !== undefined) {
      return Math.ceil(net / fixedSize) * fixedSize
    }
    if (rule.kind === 'cover') {
      return coveredFrom(day, net, rule.days, balance, next)
    }
    return rule.kind === 'up to' ? Math.max(rule.maximum, rule.reorderPoint) - balance : net
  }

  /** The most that is missing on a day from here through the days covered, with no further orders. */
  function coveredFrom(day: number, net: number, days: number, balance: number, next: number): number {
    let most = net
    let then = balance
    let coming = next
    const left = lots?.copy()
    left?.use(gross[day]!)
    for (let u = day + 1; u < Math.min(span, day + days); u++) {
      if (left) {
        then -= left.expire(u)
      }
      for (; coming < supplies.length && supplies[coming]!.at <= u; coming++) {
        then += supplies[coming]!.quantity
      }
      then += fixed[u]! - gross[u]!
      left?.use(gross[u]!)
      if (safety[u]! - then > most) {
        most = safety[u]! - then
      }
    }
    return most
  }

  /** What would be missing day by day if exactly that were ordered, and the orders that meet it at the least cost; supply pulled in on the way stays so. */
  function planAhead(
    leastCost: Extract<LotRule, { kind: 'least cost' }>,
    { minimum, multiple }: { minimum: number; multiple: Multiple },
  ): { orders: Float64Array; nets: Float64Array; reached: Int32Array } {
    const [orders, nets, reached] = [new Float64Array(span), new Float64Array(span), new Int32Array(span)]
    const needs: Requirement[] = []
    const exact: PlanNode = {
      ...node,
      rule: EXACT,
      source: { kind: 'buy', supplier: '', leadDays: window, calendar: null },
    }
    let come = 0
    netNode(compiled, exact, flow, supplies, {
      order: (index, quantity) => {
        needs.push({ at: index, quantity })
        nets[index] = quantity
      },
      pulled: (index) => {
        while (come < supplies.length && supplies[come]!.at <= index) {
          come++
        }
        come++
      },
      day: (index) => {
        while (come < supplies.length && supplies[come]!.at <= index) {
          come++
        }
        reached[index] = come
      },
    })
    for (const order of leastCostOrders(needs, span, { rule: leastCost, minimum, multiple })) {
      orders[order.at] = order.quantity
    }
    return { orders, nets, reached }
  }
}

/** The number of a rule: the quantity, the days, what it fills up to; the economic quantity: √(2·D·K/h), D the demand of the horizon in a year's measure. F. W. Harris (1913). */
export function sizeOfRule(rule: LotRule, gross: Float64Array, span: number): number | undefined {
  if (rule.kind === 'fixed') {
    return Math.max(1, rule.quantity)
  }
  if (rule.kind === 'cover') {
    return rule.days
  }
  if (rule.kind === 'up to') {
    return Math.max(rule.maximum, rule.reorderPoint)
  }
  if (rule.kind !== 'economic') {
    return undefined
  }
  let demand = 0
  for (let index = 0; index < span; index++) {
    demand += gross[index]!
  }
  return Math.max(1, Math.ceil(Math.sqrt((2 * ((demand * 365) / span) * rule.orderCost) / rule.holdingCost)))
}
