import { ExpiringLots } from './expiring-lots'
import type { Dated, Compiled } from '../compile'
import { exactly, ONE_STEP } from '../compile'
import type { LotRule, Multiple, PlanNode, Source } from '../input'
import { leastCostOrders, type Requirement, splitOrder } from '../sizing'
import { OpenSupply, type Decision, type PullIn, type SupplyListener } from './open-supply'

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
  /** Open supply taken that day before anything is ordered: pulled in to it, or waited for. */
  pulledIn: number
  awaited: number
  net: number
  byRule: number
  parts: number
}

/** Is told what the walk does; the walk itself keeps nothing. */
export interface NetListener extends SupplyListener {
  order(day: number, quantity: number, times: number, facts: OrderFacts): void
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

const NOTHING_COMES = (): number => 0

/**
 * How a node is netted: its rule, the sizes of its orders (null where it has none), and how far open supply is looked
 * for.
 */
interface Terms extends PullIn {
  readonly rule: LotRule
  readonly sizing: ReturnType<typeof sizingOf> | null
}

function termsOf({ input, start, daysOf }: Compiled, node: PlanNode): Terms {
  const { source } = node
  const isPassThrough = source.kind === 'make' && source.isPassThrough === true
  const leadDays = source.kind === 'none' ? 0 : source.leadDays
  const isDated = input.pullIn === false || isPassThrough
  const soonest = source.kind === 'none' ? Infinity : daysOf(source.calendar).forward(start, leadDays) - start
  return {
    rule: isPassThrough || source.kind === 'none' ? EXACT : (node.rule ?? EXACT),
    sizing: source.kind === 'none' ? null : sizingOf(source, node.id),
    window: isDated ? -1 : (node.pullInDays ?? leadDays),
    soonest: isDated ? -1 : soonest,
  }
}

/**
 * Nets one node day by day, supplies before demands, and sizes its planned orders.
 *
 * balance(d) = balance(d−1) + receipts(d) − demands(d) − what expired; where it is below the safety stock (or the
 * reorder point), open supply due later within the pull-in window is taken first (whole, earliest first; see
 * OpenSupply), then an order is planned by the node's rule, minimum, multiple and maximum. What a shortage waits for
 * covers it, though it is not there yet. A node without a source has no orders: its balance goes on below zero. Answers
 * the first day on which it would fall short without orders, or −1.
 * Source: APICS dictionary, material requirements planning; Orlicky, Material Requirements Planning (1975),
 *         gross-to-net logic.
 */
export function netNode(
  compiled: Compiled,
  node: PlanNode,
  flow: Flow,
  supplies: readonly Dated[],
  listener: NetListener,
): number {
  return walkDays({ compiled, node, flow, supplies }, termsOf(compiled, node), listener)
}

/** A node with all that its days are walked on. */
interface Walked {
  readonly compiled: Compiled
  readonly node: PlanNode
  readonly flow: Flow
  readonly supplies: readonly Dated[]
}

function walkDays(walked: Walked, terms: Terms, listener: NetListener): number {
  const { compiled, node, flow, supplies } = walked
  const { span } = compiled
  const { gross, fixed, safety } = flow
  const { rule, sizing } = terms
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
  // Most nodes have none: then nothing is asked of it, day after day.
  const open = supplies.length === 0 ? null : new OpenSupply(supplies, terms, listener, ahead?.decisions)
  let dated = 0
  let firstShortage = -1

  const facts: OrderFacts = { balanceBefore: 0, pulledIn: 0, awaited: 0, net: 0, byRule: 0, parts: 1 }
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
      const coming =
        open === null ? span : Math.min(open.nextDay(span), dated < supplies.length ? supplies[dated]!.at : span)
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
    for (; dated < supplies.length && supplies[dated]!.at <= index; dated++) {
      balanceWithoutOrders += supplies[dated]!.quantity
    }
    let scheduled = open === null ? 0 : open.arrive(index)
    balance = exactly(balance + scheduled + fixed[index]!)
    const before = balance
    balance = exactly(balance - gross[index]!)
    balanceWithoutOrders -= gross[index]!
    const level = upTo ? reorderPoint : safety[index]!
    let pulledIn = 0
    if (open !== null && (ahead || balance + open.awaited < level)) {
      pulledIn = open.pullIn(index, level - balance - open.awaited)
      balance += pulledIn
      scheduled += pulledIn
      open.wait(index, level - balance - open.awaited)
    }
    /** What is there, and what it is waited for. */
    const covered = open === null ? balance : balance + open.awaited
    let net = 0
    let planned = 0
    if (sizing === null) {
      if (covered < level) {
        net = level - covered
        listener.lacking?.(index, covered)
      }
    } else {
      let asked
      if (ahead) {
        asked = ahead.orders[index]!
      } else if (covered < level) {
        asked = askedBy(index, level - covered, covered)
      } else {
        asked = 0
      }
      if (asked > 0) {
        net = ahead ? ahead.nets[index]! : level - covered
        facts.balanceBefore = before
        facts.pulledIn = pulledIn
        facts.awaited = covered - balance
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
        balance = exactly(balance + planned)
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
  function askedBy(day: number, net: number, covered: number): number {
    if (fixedSize !== undefined) {
      return Math.ceil(net / fixedSize) * fixedSize
    }
    if (rule.kind === 'cover') {
      return coveredFrom(day, net, rule.days, covered)
    }
    return rule.kind === 'up to' ? Math.max(rule.maximum, rule.reorderPoint) - covered : net
  }

  /** The most that is missing on a day from here through the days covered, with no further orders. */
  function coveredFrom(day: number, net: number, days: number, covered: number): number {
    let most = net
    let then = covered
    const comingBy = open === null ? NOTHING_COMES : open.ahead()
    const left = lots?.copy()
    left?.use(gross[day]!)
    for (let u = day + 1; u < Math.min(span, day + days); u++) {
      if (left) {
        then -= left.expire(u)
      }
      then += comingBy(u) + fixed[u]! - gross[u]!
      left?.use(gross[u]!)
      if (safety[u]! - then > most) {
        most = safety[u]! - then
      }
    }
    return most
  }

  /**
   * What would be missing day by day if exactly that were ordered, and the orders that meet it at the least cost;
   * supply pulled in on the way stays so.
   */
  function planAhead(
    leastCost: Extract<LotRule, { kind: 'least cost' }>,
    { minimum, multiple }: { minimum: number; multiple: Multiple },
  ): { orders: Float64Array; nets: Float64Array; decisions: readonly Decision[] } {
    const [orders, nets] = [new Float64Array(span), new Float64Array(span)]
    const needs: Requirement[] = []
    const decisions: Decision[] = []
    const exact: Terms = { ...terms, rule: EXACT, sizing: { minimum: 0, multiple: ONE_STEP, maximum: undefined } }
    walkDays(walked, exact, {
      order: (index, quantity) => {
        needs.push({ at: index, quantity })
        nets[index] = quantity
      },
      decided: (decision) => decisions.push(decision),
    })
    for (const order of leastCostOrders(needs, span, { rule: leastCost, minimum, multiple })) {
      orders[order.at] = order.quantity
    }
    return { orders, nets, decisions }
  }
}

/**
 * The number of a rule: the quantity, the days, what it fills up to; the economic quantity: √(2·D·K/h), D the demand of
 * the horizon in a year's measure. F. W. Harris (1913).
 */
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
