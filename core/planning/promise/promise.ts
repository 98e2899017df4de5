import { toIso } from '../../calendar/days'
import { ok, type Result } from '../../result'
import { BeyondLimit, givenAt, needsOf, type PlanError } from '../compile'
import type { PlanInput, PlanNode } from '../input'
import { NetPlan, sizingOf } from '../netting'
import { splitOrder } from '../sizing'
import { freeAfterPlan } from './free-after-plan'
import { Journal, type FreeStock, type PullIn } from './free-stock'
import { leadDaysOf, LeadTimes } from './lead-times'
import type { Promised, PromiseRequest, SupplyOption } from './supply-option'

/** More ways than this are not followed for one request: what is left then is taken as made from nothing. */
const MOST_VISITS = 20_000

/**
 * The first day on which each request can be met without taking anything from what is promised already: available to
 * promise, and beyond it capable to promise. Requests are met in order; what one takes the next cannot.
 *
 * Units:  whole finest steps; days by the calendars of the snapshot. Errors: those of `plan`.
 * Source: APICS dictionary, available-to-promise (cumulative with look-ahead), capable-to-promise.
 */
export function promise(input: PlanInput, requests: readonly PromiseRequest[]): Result<readonly Promised[], PlanError> {
  const opened = OpenPromises.open(input)
  return opened.ok ? ok(opened.value.answer(requests)) : opened
}

/** A way in which a quantity is there by a day from the start on; null where there is none. */
interface Found {
  readonly on: number | null
  readonly options: readonly SupplyOption[]
}

/**
 * A snapshot that stays open for promises: requests are answered from it as often as wanted, and leave it as it was.
 *
 * What others have ordered is planned first, exactly, in the minimum quantities and multiples of the sources but
 * without safety stock; what that leaves over from a day on is free. The rest comes with open supply that can be pulled
 * in, is bought at its lead time, or made as soon as its components can be there, level by level. What a minimum brings
 * beyond the need is free for the next request.
 */
export class OpenPromises {
  private readonly journal = new Journal()
  private readonly free = new Map<number, FreeStock>()
  private visits = 0

  private readonly times: LeadTimes

  private constructor(private readonly plan: NetPlan) {
    this.times = new LeadTimes(plan.compiled)
  }

  /** Errors: those of `plan`. */
  static open(input: PlanInput): Result<OpenPromises, PlanError> {
    const opened = NetPlan.open({ ...input, nodes: input.nodes.map(withoutRules), fixed: [] })
    return opened.ok ? ok(new OpenPromises(opened.value)) : opened
  }

  answer(requests: readonly PromiseRequest[]): readonly Promised[] {
    const answers = requests.map((request) => this.answerOne(request))
    this.journal.backTo(0)
    return answers
  }

  private answerOne({ id, node, quantity }: PromiseRequest): Promised {
    this.visits = 0
    const index = this.plan.compiled.at.get(node)
    if (index === undefined) {
      return { id, on: null, options: [{ kind: 'none', node, quantity, on: null, reason: 'not held' }] }
    }
    const mark = this.journal.mark()
    const { on: day, options } = quantity > 0 ? this.get(index, quantity) : { on: 0, options: [] }
    if (day === null) {
      this.journal.backTo(mark)
    }
    return { id, on: day === null ? null : this.iso(day), options }
  }

  private iso(day: number): string {
    return toIso(this.plan.compiled.start + day)
  }

  private nodeAt(index: number): PlanNode {
    // As compiled: what runs in a circle has no source there.
    return this.plan.compiled.nodes[index]!
  }

  private freeOf(index: number): FreeStock {
    const known = this.free.get(index)
    if (known !== undefined) {
      return known
    }
    const made = freeAfterPlan(this.plan, index, this.times.soonest(index) ?? Infinity, this.journal)
    this.free.set(index, made)
    return made
  }

  /**
   * Takes what is there, waits for what comes, or gets the rest, whichever is sooner; what is free goes before what is
   * to be got.
   */
  private get(index: number, quantity: number): Found {
    const free = this.freeOf(index)
    const whole = free.firstDay(quantity)
    if (whole === 0) {
      free.add(0, -quantity)
      return { on: 0, options: this.freeNow(index, quantity) }
    }
    const pulled = free.pulledIn(quantity, whole ?? Infinity, this.windowOf(index))
    const coming = pulled?.day ?? whole
    const mark = this.journal.mark()
    const fetched = this.fetch(index, quantity)
    if (coming === null || (fetched.on !== null && fetched.on < coming)) {
      return fetched
    }
    this.journal.backTo(mark)
    const now = Math.min(quantity, free.from(0))
    if (pulled) {
      free.pullIn(pulled)
    }
    const option = this.comingWith(index, { quantity: quantity - now, day: coming, pulled })
    free.add(coming, -quantity)
    return { on: coming, options: [...this.freeNow(index, now), option] }
  }

  private windowOf(index: number): number {
    const { source, pullInDays } = this.nodeAt(index)
    return this.plan.compiled.input.pullIn === false || source.kind === 'none' ? -1 : (pullInDays ?? leadDaysOf(source))
  }

  private freeNow(index: number, quantity: number): readonly SupplyOption[] {
    return quantity > 0 ? [{ kind: 'free', node: this.nodeAt(index).id, quantity, on: this.iso(0) }] : []
  }

  private comingWith(index: number, with_: { quantity: number; day: number; pulled: PullIn | null }): SupplyOption {
    const { quantity, day, pulled } = with_
    const free = this.freeOf(index)
    const one = pulled?.supplies.length === 1 ? pulled.supplies[0]! : null
    const supply = pulled === null ? free.whatComes(day) : one
    return {
      kind: 'coming',
      node: this.nodeAt(index).id,
      quantity,
      on: this.iso(day),
      supply: supply?.label ?? null,
      ...(one === null ? {} : { pulledInFrom: this.iso(one.comes) }),
    }
  }

  /** What is free now, and the rest got; what comes free while it is got is taken before more is got. */
  private fetch(index: number, quantity: number): Found {
    const mark = this.journal.mark()
    const free = this.freeOf(index)
    const now = Math.min(quantity, free.from(0))
    free.add(0, -now)
    const got = this.produce(index, quantity - now)
    const meanwhile = got.on === null ? 0 : free.from(got.on) - got.surplus
    if (meanwhile <= 0) {
      return { on: got.on, options: [...this.freeNow(index, now), ...got.options] }
    }
    this.journal.backTo(mark)
    free.add(0, -now)
    const day = free.firstDay(meanwhile)!
    const option = this.comingWith(index, { quantity: meanwhile, day, pulled: null })
    free.add(day, -meanwhile)
    const rest = this.produce(index, quantity - now - meanwhile)
    return {
      on: rest.on === null ? null : Math.max(day, rest.on),
      options: [...this.freeNow(index, now), option, ...rest.options],
    }
  }

  /**
   * Buys, makes, breaks down or moves so much, in whole orders; `surplus`: what they bring beyond it, which is free
   * from then on.
   */
  private produce(index: number, quantity: number): Found & { readonly surplus: number } {
    this.visits++
    try {
      return this.produceWithin(index, quantity)
    } catch (error) {
      if (!(error instanceof BeyondLimit)) {
        throw error
      }
      return { ...withoutWay(this.nodeAt(index).id, quantity, 'beyond limit'), surplus: 0 }
    }
  }

  private produceWithin(index: number, quantity: number): Found & { readonly surplus: number } {
    const node = this.nodeAt(index)
    const { source } = node
    if (source.kind === 'none') {
      return { ...withoutWay(node.id, quantity, source.reason), surplus: 0 }
    }
    const orders = ordersOf(node, quantity)
    const ordered = orders.reduce((sum, order) => sum + order, 0)
    const surplus = ordered - quantity
    const leadDays = leadDaysOf(source)
    const told = { node: node.id, quantity, leadDays, ...(surplus > 0 ? { ordered } : {}) }
    if (source.kind === 'buy') {
      const on = this.times.after(source, 0)
      this.freeOf(index).add(on, surplus)
      return { on, surplus, options: [{ kind: 'buy', ...told, on: this.iso(on) }] }
    }
    const { begin, from } = this.parts(node, orders)
    const on = begin === null ? null : this.times.after(source, begin)
    if (on !== null) {
      this.freeOf(index).add(on, surplus)
      this.giveOthers(index, orders, on)
    }
    const days = { on: on === null ? null : this.iso(on), begin: begin === null ? null : this.iso(begin) }
    return { on, surplus, options: [{ kind: source.kind, ...told, ...days, from }] }
  }

  /** Gets what orders of a node need; `begin`: when all of it is there. */
  private parts(
    node: PlanNode,
    orders: readonly number[],
  ): { readonly begin: number | null; readonly from: readonly SupplyOption[] } {
    const index = this.plan.compiled.at.get(node.id)!
    if (this.visits > MOST_VISITS) {
      return { begin: this.times.beginFromNothing(index), from: [] }
    }
    let begin: number | null = 0
    const from: SupplyOption[] = []
    for (const need of sumOf(orders.flatMap((order) => needsOf(node, order)))) {
      const part = this.get(this.plan.compiled.at.get(need.node)!, need.quantity)
      from.push(...part.options)
      begin =
        begin === null || part.on === null
          ? null
          : Math.max(begin, this.times.beginFor(node.source, part.on, need.offsetDays))
    }
    return { begin, from }
  }

  /** What orders of a node give besides is free from the day on which they are done. */
  private giveOthers(index: number, orders: readonly number[], on: number): void {
    const { receivers, byProductLinks } = this.plan.compiled
    for (const receiver of receivers.get(index) ?? []) {
      for (const link of byProductLinks.get(receiver)!.filter(({ producer }) => producer === index)) {
        this.freeOf(receiver).add(
          on,
          orders.reduce((sum, order) => sum + givenAt(link, order), 0),
        )
      }
    }
  }
}

const withoutWay = (node: string, quantity: number, reason: string): Found => ({
  on: null,
  options: [{ kind: 'none', node, quantity, on: null, reason }],
})

/**
 * The orders that bring so much of a node: by its fixed quantity, at least the minimum, up to the multiple, split at
 * the maximum.
 */
function ordersOf({ id, source, rule }: PlanNode, quantity: number): readonly number[] {
  if (source.kind === 'none') {
    return []
  }
  const { minimum, multiple, maximum } = sizingOf(source, id)
  const size = rule?.kind === 'fixed' ? Math.max(1, rule.quantity) : 1
  return splitOrder(Math.ceil(quantity / size) * size, minimum, multiple, maximum).map((order) => order.quantity)
}

/** One need for each component and day of need. */
function sumOf(needs: ReturnType<typeof needsOf>): ReturnType<typeof needsOf> {
  const sums = new Map<string, { node: string; quantity: number; offsetDays: number }>()
  for (const need of needs) {
    const key = `${need.offsetDays} ${need.node}`
    const known = sums.get(key)
    sums.set(key, { ...need, quantity: need.quantity + (known?.quantity ?? 0) })
  }
  return [...sums.values()]
}

/**
 * As promises need it: no safety stock, and of the rules only the fixed quantity; what is planned ahead for other
 * reasons is nobody's yet.
 */
const withoutRules = ({ id, onHand, source, rule, pullInDays }: PlanNode): PlanNode => ({
  id,
  onHand,
  safety: 0,
  source,
  ...(pullInDays === undefined ? {} : { pullInDays }),
  ...(rule?.kind === 'fixed' ? { rule } : {}),
})
