import {
  compileInput,
  shaped,
  toDated,
  toFixed,
  type Compiled,
  type Dated,
  type PlanError,
  amountAt,
  BeyondLimit,
  type Limit,
  givenAt,
} from '../compile'
import type { Demand, FixedOrder, PlanInput, PlanNode, Supply } from '../input'
import { ok, type Result } from '../../result'
import { OrderTable } from './order-table'
import { netNode, type Flow, type NetListener } from './net-node'
import type { WorkDays } from '../compile'
import { Heap } from './index-heap'
import { fillSafety } from './safety-line'
import { snapshotOf } from './snapshot-of'

/**
 * What one node is to be from now on; what is left out stays. Its demands, supplies and fixed orders are each given as
 * a whole.
 */
export interface NodeChange {
  readonly node: PlanNode
  readonly demands?: readonly Demand[]
  readonly supplies?: readonly Supply[]
  readonly fixed?: readonly FixedOrder[]
}

/**
 * A plan that stays open: every planned order is known, and a change of one node plans only what it can reach.
 *
 * Nodes are netted by low-level code, each once, on what the orders of its parents ask of it. After a change the node
 * itself is netted again; where its orders come out different, so are its components, and so on down: the same orders
 * as of a plan made anew.
 */
export class NetPlan {
  readonly orders: OrderTable
  /** The first day of the horizon on which a node would fall short without planned orders, or −1. */
  readonly firstShortage: Int32Array
  /** Nodes whose numbers are beyond a limit. */
  readonly beyond = new Map<number, Limit>()
  private readonly flow: Flow
  private leads: Float64Array | null = null
  private node = 0
  private lead = 0
  private days!: WorkDays
  private readonly listener: NetListener

  private constructor(public compiled: Compiled) {
    const { span, nodes } = compiled
    this.orders = new OrderTable(nodes.length)
    this.firstShortage = new Int32Array(nodes.length)
    this.flow = { gross: new Float64Array(span), fixed: new Float64Array(span), safety: new Float64Array(span) }
    this.listener = {
      order: (index, quantity) => this.orders.push(this.node, index, this.releaseOf(index), quantity, -1),
    }
  }

  /** Errors: `end-before-start`; `unknown-node`. */
  static open(input: PlanInput): Result<NetPlan, PlanError> {
    const compiled = compileInput(input)
    if (!compiled.ok) {
      return compiled
    }
    const made = new NetPlan(compiled.value)
    for (let node = 0; node < compiled.value.nodes.length; node++) {
      made.net(node)
      made.orders.end(node)
    }
    made.orders.spare(1 << 18)
    return ok(made)
  }

  private releaseOf(day: number): number {
    const { start } = this.compiled
    return Math.max(0, this.days.back(start + day, this.lead) - start)
  }

  /**
   * Nets a node. What cannot be reckoned with stops that node alone: it has no planned orders, and what asks of it
   * waits in vain.
   */
  private net(position: number): void {
    this.beyond.delete(position)
    try {
      this.netWithin(position)
    } catch (error) {
      if (!(error instanceof BeyondLimit)) {
        throw error
      }
      this.orders.drop(position)
      this.beyond.set(position, error.limit)
      this.firstShortage[position] = -1
    }
  }

  private netWithin(position: number): void {
    const { nodes, supplies, fixed, start, span } = this.compiled
    const node = nodes[position]!
    this.node = position
    this.orders.begin(position)
    const { source } = node
    const isPassThrough = source.kind === 'make' && source.isPassThrough === true
    this.lead = source.kind === 'none' || isPassThrough ? 0 : source.leadDays
    this.days = this.compiled.daysOf(source.kind === 'none' || isPassThrough ? null : source.calendar)
    for (const [index, order] of (fixed.get(position) ?? []).entries()) {
      if (order.due - start < span) {
        this.orders.push(
          position,
          Math.max(0, order.due - start),
          Math.max(0, order.release - start),
          order.quantity,
          index,
        )
      }
    }
    this.gather(position, this.flow)
    this.firstShortage[position] = netNode(this.compiled, node, this.flow, supplies[position]!, this.listener)
  }

  /**
   * Fills what goes in and out of a node by day, besides its open supply. `asked` and `given` are told each of what
   * other nodes' orders need of it and give it.
   */
  gather(
    index: number,
    flow: Flow,
    asked?: (order: number, parent: number, day: number, quantity: number) => void,
    given?: (order: number, producer: number, day: number, quantity: number) => void,
  ): void {
    const { compiled, orders } = this
    const { span, start } = compiled
    const { gross, fixed, safety } = flow
    gross.fill(0)
    fixed.fill(0)
    fillSafety(compiled, compiled.nodes[index]!, safety)
    compiled.demands.addTo(gross, index)
    const { links } = compiled
    const { release, quantity: quantities } = orders
    for (let i = links.useFirst[index]!; i < links.useFirst[index + 1]!; i++) {
      const parent = links.parent[i]!
      const first = orders.first[parent]!
      const end = first + orders.count[parent]!
      const [runs, numerator, fixedPart, denominator, offsetDays] = [
        links.runs[i] === 1,
        links.numerator[i]!,
        links.fixed[i]!,
        links.denominator[i]!,
        links.offsetDays[i]!,
      ]
      for (let order = first; order < end; order++) {
        const released = release[order]!
        const day =
          offsetDays === 0 ? released : links.days[links.calendar[i]!]!.forward(start + released, offsetDays) - start
        if (day >= span) {
          continue
        }
        const quantity = amountAt(
          runs,
          numerator,
          fixedPart,
          denominator,
          quantities[order]!,
          links.exact.size > 0 ? links.exact.get(i) : undefined,
        )
        gross[day]! += quantity
        asked?.(order, parent, day, quantity)
      }
    }
    for (const link of compiled.byProductLinks.get(index) ?? []) {
      const { producer } = link
      // What comes after it in the order of netting gives to it only where the lines are written out.
      if (producer > index && given === undefined) {
        continue
      }
      const first = orders.first[producer]!
      for (let order = first; order < first + orders.count[producer]!; order++) {
        const quantity = givenAt(link, quantities[order]!)
        if (producer < index) {
          fixed[orders.due[order]!]! += quantity
        }
        given?.(order, producer, orders.due[order]!, quantity)
      }
    }
    const first = orders.first[index]!
    for (let order = first; order < first + orders.count[index]! && orders.fixed[order]! >= 0; order++) {
      fixed[orders.due[order]!]! += orders.quantity[order]!
    }
  }

  /** The lead time of a node with that of what it is made from, along the longest way, in working days. */
  wholeLead(day: number): number {
    this.leads ??= this.allLeads()
    return this.leads[day]!
  }

  private allLeads(): Float64Array {
    const {
      nodes,
      links: { useFirst, offsetDays, parent: parents },
    } = this.compiled
    const leads = new Float64Array(nodes.length)
    // From the bottom up: each node tells its users how long it takes with all below it.
    for (let index = nodes.length - 1; index >= 0; index--) {
      const { source } = nodes[index]!
      leads[index]! += source.kind === 'none' || (source.kind === 'make' && source.isPassThrough) ? 0 : source.leadDays
      for (let i = useFirst[index]!; i < useFirst[index + 1]!; i++) {
        leads[parents[i]!] = Math.max(leads[parents[i]!]!, leads[index]! - offsetDays[i]!)
      }
    }
    return leads
  }

  /**
   * Takes changes in, and nets again what they reach. `reached`: the numbers of the nodes whose orders or lines may be
   * others now, in netting order.
   *
   * A change of what a node is made of opens the plan anew, and reaches every node. Errors: `unknown-node`.
   */
  change(
    changes: readonly NodeChange[],
  ): Result<{ readonly plan: NetPlan; readonly reached: readonly number[] }, PlanError> {
    const { compiled } = this
    const known = changes.map((change) => ({ ...change, at: compiled.at.get(change.node.id) ?? -1 }))
    if (known.some(({ at: index, node }) => index < 0 || !sameParts(compiled.nodes[index]!, node))) {
      return this.reopen(changes)
    }
    // The lists are the plan's own: copying a hundred thousand entries would take longer than the change.
    const nodes = compiled.nodes as PlanNode[]
    const supplies = compiled.supplies as (readonly Dated[])[]
    const fixed = compiled.fixed as Map<number, ReturnType<typeof toFixed>>
    const wanted = new Map<number, readonly Demand[]>()
    for (const change of known) {
      nodes[change.at] = shaped(change.node)
      if (change.demands) {
        wanted.set(change.at, change.demands)
      }
      if (change.supplies) {
        supplies[change.at] = toDated(change.supplies, compiled.start)
      }
      if (change.fixed) {
        fixed.set(change.at, toFixed(change.fixed))
      }
    }
    const own: { demands: Compiled['demands'] } = compiled
    own.demands = compiled.demands.with(wanted)
    this.leads = null
    return ok({ plan: this, reached: this.netAgain(known.map((change) => change.at)) })
  }

  private netAgain(changed: readonly number[]): readonly number[] {
    const {
      links: { part, partFirst },
      receivers,
    } = this.compiled
    const waiting = new Heap(changed)
    const reached = new Set<number>()
    for (let index = waiting.take(); index !== undefined; index = waiting.take()) {
      if (reached.has(index)) {
        continue
      }
      reached.add(index)
      const [first, count] = [this.orders.first[index]!, this.orders.count[index]!]
      this.net(index)
      if (this.orders.sameAs(index, first, count)) {
        this.orders.restore(index, first, count)
        continue
      }
      this.orders.settle(index, first)
      for (let i = partFirst[index]!; i < partFirst[index + 1]!; i++) {
        waiting.add(part[i]!)
      }
      for (const target of receivers.get(index) ?? []) {
        if (target > index) {
          waiting.add(target)
        } else {
          reached.add(target)
        }
      }
    }
    return [...reached].sort((a, b) => a - b)
  }

  private reopen(changes: readonly NodeChange[]): Result<{ plan: NetPlan; reached: readonly number[] }, PlanError> {
    const by = new Map(changes.map((change) => [change.node.id, change]))
    const now = this.snapshot()
    const kept = <T extends { readonly node: string }>(
      rows: readonly T[],
      pick: (change: NodeChange) => readonly T[] | undefined,
    ): T[] => [
      ...rows.filter((row) => by.get(row.node) === undefined || pick(by.get(row.node)!) === undefined),
      ...changes.flatMap((change) => pick(change) ?? []),
    ]
    const opened = NetPlan.open({
      ...now,
      nodes: [
        ...now.nodes.map((node) => by.get(node.id)?.node ?? node),
        ...changes.filter((change) => !this.compiled.at.has(change.node.id)).map((change) => change.node),
      ],
      demands: kept(now.demands, (change) => change.demands),
      supplies: kept(now.supplies, (change) => change.supplies),
      fixed: kept(now.fixed ?? [], (change) => change.fixed),
    })
    return opened.ok
      ? ok({ plan: opened.value, reached: opened.value.compiled.nodes.map((_, index) => index) })
      : opened
  }

  /** The snapshot with every change that was taken in. */
  snapshot(): PlanInput {
    return snapshotOf(this.compiled)
  }
}

function sameParts(before: PlanNode, after: PlanNode): boolean {
  if (before.source.kind !== after.source.kind) {
    return false
  }
  if (before.source.kind === 'none' || before.source.kind === 'buy') {
    return true
  }
  const settingsOf = (source: PlanNode['source']): string =>
    JSON.stringify({ ...source, leadDays: 0, minimum: 0, maximum: 0, multiple: 0 })
  return settingsOf(before.source) === settingsOf(after.source)
}
