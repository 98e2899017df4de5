import { toDay, toIso, type Day } from '../../calendar/days'
import type { Dated, FixedAt } from '../compile'
import { compareIds, wayFrom, type Demand, type LotRule, type PlanNode, type Supply } from '../input'
import type { DayBalance, Flow, NetListener, NetPlan, OrderFacts } from '../netting'
import type { NodePlan, Peg, PlanMessage, PlannedOrder } from './output'
import { pegNode, type Arrival, type Wanted } from './peg-node'
import { adviceOnSupplies } from './advise-supply'
import { beyondLimit } from './beyond-limit'
import { EXACT, sizeOfRule, netNode } from '../netting'
import { NodeLines } from './node-lines'
import { termsOf, type OrderTerms } from './order-terms'
import { idOf } from './order-ids'
import { byProductId, needId, orderId } from './peg-ids'
import { lateSupplies, notNetted, type Wait } from './late-messages'

/** Everything that a plan says of one node. */
export interface ExplainedNode {
  readonly plan: NodePlan
  readonly orders: readonly PlannedOrder[]
  readonly pegs: readonly Peg[]
  readonly messages: readonly PlanMessage[]
}

/**
 * Everything that an open plan says about one node: its lines, its orders with their numbers, who gets what, and what
 * there is to say.
 */
export function explainNode(plan: NetPlan, index: number): ExplainedNode {
  const limit = plan.beyond.get(index)
  if (limit !== undefined) {
    return beyondLimit(plan, index, limit)
  }
  const account = new NodeAccount(plan, index)
  account.demandsAndSupplies()
  account.gather()
  account.fixedOrders()
  account.walk()
  return account.written()
}

const byDayThenId = (a: Demand, b: Demand): number => {
  if (a.day === b.day) {
    return compareIds(a.id, b.id)
  }
  return a.day < b.day ? -1 : 1
}

/** What is told of one node, gathered while its plan is walked through once more. */
class NodeAccount implements NetListener {
  private readonly node: PlanNode
  private readonly start: Day
  private readonly span: number
  private readonly supplies: readonly Dated[]
  private readonly demands: readonly Demand[]
  private readonly messages: PlanMessage[] = []
  private readonly orders: PlannedOrder[] = []
  private readonly wanted: Wanted[] = []
  private readonly arrivals: Arrival[] = []
  private readonly lines: NodeLines
  private readonly flow: Flow
  /** By day, what planned orders of other nodes give it that were netted after it: it lies in a circle with them. */
  private readonly late: Float64Array
  private readonly givenLate: { readonly producer: number; readonly day: number; readonly quantity: number }[] = []
  private readonly waitedFor: Wait[] = []
  private readonly terms: OrderTerms
  private readonly rule: LotRule
  private fixedCount = 0
  private ruleSize: number | undefined
  private short = 0
  private wasLacking = false

  constructor(
    private readonly plan: NetPlan,
    private readonly index: number,
  ) {
    const { compiled } = plan
    this.node = compiled.nodes[index]!
    this.start = compiled.start
    this.span = compiled.span
    this.supplies = compiled.supplies[index]!
    this.demands = [...compiled.demands.rowsOf(index)].sort(byDayThenId)
    this.lines = new NodeLines(this.span)
    const column = (): Float64Array => new Float64Array(this.span)
    this.flow = { gross: column(), fixed: column(), safety: column() }
    this.late = column()
    this.terms = termsOf(plan, this.node)
    this.rule = this.terms.sizing === null || this.terms.isPassThrough ? EXACT : (this.node.rule ?? EXACT)
  }

  private iso(day: number): string {
    return toIso(this.start + day)
  }

  private pastDue(row: Demand | Supply): void {
    if (toDay(row.day) < this.start) {
      this.messages.push({ code: 'past due', node: this.node.id, day: row.day, quantity: row.quantity, ref: row.id })
    }
  }

  demandsAndSupplies(): void {
    const path = this.plan.compiled.loops.get(this.index)
    if (path) {
      this.messages.push({ code: 'loop', node: this.node.id, day: this.iso(0), quantity: 0, path })
    }
    for (const demand of this.demands) {
      this.pastDue(demand)
      const day = Math.max(0, toDay(demand.day) - this.start)
      if (day < this.span) {
        const since = toDay(demand.day) - this.start
        this.wanted.push({ id: demand.id, day, since, quantity: demand.quantity, priority: demand.priority })
      }
    }
    for (const supply of this.supplies) {
      this.pastDue(supply.row)
      this.lines.mark(Math.max(0, supply.at))
    }
  }

  /** What orders of other nodes want of it, and give it. */
  gather(): void {
    // A parent with two lines of the same component asks twice; it is one demand.
    const byOrder = new Map<string, Wanted>()
    this.plan.gather(
      this.index,
      this.flow,
      (order, parent, day, quantity) => {
        const id = needId(idOf(this.plan, parent, order), this.node.id)
        const known = byOrder.get(`${id} ${day}`)
        if (known) {
          known.quantity += quantity
        } else {
          const made = { id, day, since: day, quantity, priority: 0 }
          byOrder.set(`${id} ${day}`, made)
          this.wanted.push(made)
        }
      },
      (order, producer, day, quantity) => {
        this.arrivals.push({ id: byProductId(idOf(this.plan, producer, order), this.node.id), day, quantity })
        if (producer > this.index) {
          this.late[day]! += quantity
          this.givenLate.push({ producer, day, quantity })
        }
      },
    )
    this.messages.push(...notNetted(this.plan.compiled, this.node.id, this.givenLate))
  }

  /** Orders that a person fixed stand before those that are proposed. */
  fixedOrders(): void {
    for (const entry of this.plan.compiled.fixed.get(this.index) ?? []) {
      if (entry.due - this.start < this.span) {
        this.fixedOrder(entry)
      }
    }
    this.fixedCount = this.orders.length
  }

  private fixedOrder(entry: FixedAt): void {
    const { start } = this
    const due = Math.max(0, entry.due - start)
    const from = wayFrom(this.node, entry.supplier)
    const isOwn = from === this.node.source || from.kind === 'none'
    const days = isOwn ? this.terms.days : this.plan.compiled.daysOf(from.calendar)
    const leadDays = isOwn ? this.terms.leadDays : from.leadDays
    const wantedRelease = days ? days.back(entry.due, leadDays) : entry.release
    const lateBy = days && wantedRelease < start ? days.gone(wantedRelease, start) : 0
    this.orders.push({
      id: entry.id,
      node: this.node.id,
      kind: this.terms.kind,
      quantity: entry.quantity,
      due: this.iso(due),
      release: toIso(Math.max(start, entry.release)),
      lateBy,
      promised: lateBy > 0 ? toIso(days!.forward(start, leadDays)) : this.iso(due),
      fixed: true,
      ...(from !== this.node.source && from.kind === 'buy' ? { supplier: from.supplier } : {}),
      why: {
        balanceBefore: 0,
        demandThatDay: this.flow.gross[due]!,
        safety: this.flow.safety[due]!,
        netRequirement: 0,
        rule: 'exact',
        byRule: entry.quantity,
        minimum: this.terms.sizing?.minimum ?? 0,
        multiple: this.terms.multiple,
        times: 1,
        leadDays,
      },
    })
    this.arrivals.push({ id: entry.id, day: due, quantity: entry.quantity })
  }

  walk(): void {
    this.ruleSize = sizeOfRule(this.rule, this.flow.gross, this.span)
    netNode(this.plan.compiled, this.node, this.flow, this.supplies, this)
    for (const supply of this.supplies) {
      if (supply.at < this.span && !this.lines.pulled.has(supply)) {
        this.arrivals.push({ id: supply.row.id, day: Math.max(0, supply.at), quantity: supply.quantity })
      }
    }
  }

  order(due: number, quantity: number, times: number, facts: OrderFacts): void {
    const { node, rule, terms } = this
    const order: PlannedOrder = {
      id: orderId(node.id, this.orders.length - this.fixedCount + 1),
      node: node.id,
      kind: terms.kind,
      quantity,
      ...this.datesOf(due),
      ...(terms.isPassThrough ? { through: true as const } : {}),
      why: {
        balanceBefore: facts.balanceBefore,
        ...(facts.pulledIn === 0 ? {} : { pulledIn: facts.pulledIn }),
        ...(facts.awaited === 0 ? {} : { awaited: facts.awaited }),
        demandThatDay: this.flow.gross[due]!,
        safety: rule.kind === 'up to' ? rule.reorderPoint : this.flow.safety[due]!,
        netRequirement: facts.net,
        rule: rule.kind,
        byRule: facts.byRule,
        ...(this.ruleSize === undefined ? {} : { ruleSize: this.ruleSize }),
        minimum: terms.sizing!.minimum,
        multiple: terms.multiple,
        times,
        ...(facts.parts > 1 ? { split: facts.parts } : {}),
        leadDays: terms.leadDays,
      },
    }
    this.orders.push(order)
    this.arrivals.push({ id: order.id, day: due, quantity })
    if (order.lateBy > 0 && !terms.isPassThrough) {
      const { due: day, lateBy, promised } = order
      this.messages.push({ code: 'late order', node: node.id, day, quantity, order: order.id, lateBy, promised })
    }
  }

  private datesOf(due: number): Pick<PlannedOrder, 'lateBy' | 'promised' | 'release' | 'due'> {
    const { start } = this
    const { leadDays } = this.terms
    const days = this.terms.days!
    const release = days.back(start + due, leadDays)
    const isLate = release < start
    return {
      due: this.iso(due),
      release: toIso(Math.max(start, release)),
      lateBy: isLate ? days.gone(release, start) : 0,
      promised: toIso(isLate ? days.forward(start, leadDays) : start + due),
    }
  }

  pulled(day: number, supply: Dated): void {
    const { id, day: from } = supply.row
    const { quantity } = supply
    if (!this.lines.pulled.has(supply)) {
      this.arrivals.push({ id, day, quantity })
      this.lines.pulled.add(supply)
    }
    this.messages.push({ code: 'pull in', node: this.node.id, day: this.iso(day), quantity, supply: id, from })
  }

  waits(day: number, supply: Dated, comes: number, missing: number): void {
    this.arrivals.push({ id: supply.row.id, day: comes, quantity: supply.quantity })
    this.lines.pulled.add(supply)
    this.lines.mark(day)
    this.waitedFor.push({ day, supply, comes, missing })
  }

  lost(day: number, lot: string | null, quantity: number): void {
    this.lines.mark(day)
    this.messages.push({ code: 'will expire', node: this.node.id, day: this.iso(day - 1), quantity, lot })
  }

  lacking(day: number, balance: number): void {
    const { source } = this.node
    if (source.kind !== 'none') {
      return
    }
    const place = { node: this.node.id, day: this.iso(day) }
    if (balance < this.short) {
      this.messages.push({ code: 'short', ...place, quantity: this.short - balance })
      if (source.reason !== 'loop') {
        this.messages.push({ code: source.reason, ...place, quantity: -balance })
      }
      this.short = balance
    } else if (balance >= 0 && !this.wasLacking) {
      const safety = this.flow.safety[day]!
      this.messages.push({ code: 'below safety', ...place, quantity: safety - balance, safety })
    }
    this.wasLacking = true
  }

  day(day: number, found: DayBalance): void {
    this.lines.set(day, found, this.flow, this.late[day]!)
  }

  written(): ExplainedNode {
    const { plan, index, node, orders, lines, messages } = this
    const { compiled, orders: table } = plan
    for (const [place, order] of orders.entries()) {
      lines.release(table.release[table.first[index]! + place]!, order.quantity)
    }
    const pegs = pegNode(node, this.start, this.wanted, this.arrivals)
    messages.push(...lateSupplies(compiled, node.id, { waits: this.waitedFor, wanted: this.wanted, pegs }))
    messages.push(...adviceOnSupplies(compiled, node, this.supplies, lines, this.flow.safety))
    const longest = compiled.input.longestLeadDays ?? this.span - 1
    const leadDays = this.wanted.length > 0 ? plan.wholeLead(index) : 0
    if (leadDays > longest && this.demands.length > 0) {
      messages.push({ code: 'long lead time', node: node.id, day: this.iso(0), quantity: 0, leadDays, longest })
    }
    return {
      plan: {
        id: node.id,
        level: compiled.levels[index]!,
        onHand: node.onHand.reduce((sum, lot) => sum + lot.quantity, 0),
        safety: node.safety,
        days: lines.written((day) => this.iso(day)),
      },
      orders,
      messages,
      pegs,
    }
  }
}
