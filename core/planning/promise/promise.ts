import { everyDay, forward, makeCalendar, type WorkingCalendar } from '../../calendar/working'
import { toDay, toIso, type Day } from '../../calendar/days'
import { ok, type Result } from '../../result'
import type { PlanInput, PlanNode } from '../input'
import { ONE_STEP, type PlanError, needsOf } from '../compile'
import { NetPlan } from '../netting'
import { writePlan } from '..'

/** So much of a node, wanted by somebody; `id` comes back with the answer. */
export interface PromiseRequest {
  readonly id: string
  readonly node: string
  readonly quantity: number
}

/**
 * How a quantity can be there: what is free now or comes free by a day (`supply`: what brings it, where one thing does), what is bought
 * or made for it, and what that rests on. `on`: the day; null where there is no way.
 */
export type SupplyOption =
  | { readonly kind: 'free'; readonly node: string; readonly quantity: number; readonly on: string }
  | {
      readonly kind: 'coming'
      readonly node: string
      readonly quantity: number
      readonly on: string
      readonly supply: string | null
    }
  | {
      readonly kind: 'buy'
      readonly node: string
      readonly quantity: number
      readonly on: string
      readonly leadDays: number
    }
  | {
      readonly kind: 'make' | 'break down' | 'move'
      readonly node: string
      readonly quantity: number
      readonly on: string | null
      readonly begin: string | null
      readonly leadDays: number
      readonly from: readonly SupplyOption[]
    }
  | {
      readonly kind: 'none'
      readonly node: string
      readonly quantity: number
      readonly on: null
      readonly reason: string
    }

export interface Promised {
  readonly id: string
  readonly on: string | null
  readonly options: readonly SupplyOption[]
}

/**
 * The first day on which each ask can be met without taking anything from what is promised already: available to promise, and beyond
 * it capable to promise.
 *
 * What others have ordered is planned first, exactly, without minimum quantities or safety stock; what that leaves over from a day on
 * is free. The rest is bought at its lead time, or made as soon as its components can be there, level by level. Asks are met in order;
 * what one takes the next cannot.
 *
 * Units:  whole finest steps; days by the calendars of the snapshot. Errors: those of `plan`.
 * Source: APICS dictionary, available-to-promise (cumulative with look-ahead), capable-to-promise.
 */
export function promise(input: PlanInput, asks: readonly PromiseRequest[]): Result<readonly Promised[], PlanError> {
  const opened = NetPlan.open({ ...input, nodes: input.nodes.map(withoutRules), fixed: [] })
  if (!opened.ok) {
    return opened
  }
  // As compiled: what runs in a circle has no source there.
  const nodes = new Map(opened.value.compiled.nodes.map((node) => [node.id, node]))
  const start = toDay(input.start)
  const calendars = new Map(Object.entries(input.calendars).map(([id, c]) => [id, makeCalendar(c.weekdays, c.closed)]))
  const calendarOf = (id: string | null): WorkingCalendar => (id !== null && calendars.get(id)) || everyDay
  const left = new Map(
    writePlan(opened.value).nodes.map(({ id, onHand, days }): [string, Free] => [
      id,
      new Free(
        start,
        days.length > 0
          ? [
              { day: start, balance: onHand },
              ...days.map((d) => ({ day: toDay(d.day), balance: d.projectedAvailable })),
            ]
          : [{ day: start, balance: onHand }],
      ),
    ]),
  )
  const supplies = new Map<string, string[]>()
  for (const supply of input.supplies) {
    const key = `${supply.node} ${supply.day}`
    supplies.set(key, [...(supplies.get(key) ?? []), supply.label])
  }

  const freeNow = (node: PlanNode, quantity: number): SupplyOption[] =>
    quantity > 0 ? [{ kind: 'free', node: node.id, quantity, on: input.start }] : []
  /** Takes what is there, then gets the rest; undone by the caller where another way is better. */
  function get(node: PlanNode, quantity: number): { on: Day | null; options: SupplyOption[] } {
    const free = left.get(node.id)!
    const whole = free.firstDay(quantity)
    const fetch = (): { on: Day | null; options: SupplyOption[] } => {
      const now = Math.min(quantity, free.at(start))
      if (now > 0) {
        free.take(start, now)
      }
      const rest = produce(node, quantity - now)
      const available = rest.on === null ? null : Math.max(start, rest.on)
      return { on: available, options: [...freeNow(node, now), ...rest.options] }
    }
    if (whole === start) {
      free.take(start, quantity)
      return { on: start, options: [{ kind: 'free', node: node.id, quantity, on: input.start }] }
    }
    const kept = [...left].map(([id, entry]): [string, Free] => [id, entry.copy()])
    const fetched = fetch()
    if (whole === null || (fetched.on !== null && fetched.on < whole)) {
      return fetched
    }
    for (const [id, entry] of kept) {
      left.set(id, entry)
    }
    const [now, brings] = [
      Math.min(quantity, left.get(node.id)!.at(start)),
      supplies.get(`${node.id} ${toIso(whole)}`) ?? [],
    ]
    left.get(node.id)!.take(whole, quantity)
    return {
      on: whole,
      options: [
        ...freeNow(node, now),
        {
          kind: 'coming',
          node: node.id,
          quantity: quantity - now,
          on: toIso(whole),
          supply: brings.length === 1 ? brings[0]! : null,
        },
      ],
    }
  }

  function produce(node: PlanNode, quantity: number): { on: Day | null; options: SupplyOption[] } {
    const { source } = node
    if (source.kind === 'none') {
      return { on: null, options: [{ kind: 'none', node: node.id, quantity, on: null, reason: source.reason }] }
    }
    const calendar = calendarOf(source.calendar)
    if (source.kind === 'buy') {
      const available = forward(calendar, start, source.leadDays)
      return {
        on: available,
        options: [{ kind: 'buy', node: node.id, quantity, on: toIso(available), leadDays: source.leadDays }],
      }
    }
    const leadDays = source.kind === 'make' && source.isPassThrough ? 0 : source.leadDays
    const parts = needsOf(node, quantity).map((need) => get(nodes.get(need.node)!, need.quantity))
    const ready = parts.reduce<Day | null>(
      (latest, part) => (latest === null || part.on === null ? null : Math.max(latest, part.on)),
      start,
    )
    const entry = ready === null ? null : forward(calendar, ready, leadDays)
    return {
      on: entry,
      options: [
        {
          kind: source.kind,
          node: node.id,
          quantity,
          on: entry === null ? null : toIso(entry),
          begin: ready === null ? null : toIso(ready),
          leadDays,
          from: parts.flatMap((part) => part.options),
        },
      ],
    }
  }

  return ok(
    asks.map(({ id, node, quantity }) => {
      const known = nodes.get(node)
      if (!known) {
        return { id, on: null, options: [{ kind: 'none' as const, node, quantity, on: null, reason: 'not held' }] }
      }
      const { on: available, options } = quantity > 0 ? get(known, quantity) : { on: start, options: [] }
      return { id, on: available === null ? null : toIso(available), options }
    }),
  )
}

/** As the promises made so far need it: no safety stock, no minimum. */
const withoutRules = ({ id, onHand, source }: PlanNode): PlanNode => ({
  id,
  onHand,
  safety: 0,
  source: source.kind === 'none' ? source : { ...source, minimum: 0, multiple: ONE_STEP, maximum: undefined },
})

/** What is left over of a node from each day on, when everything that is promised is kept. */
class Free {
  readonly #days: { day: Day; balance: number }[]
  constructor(
    readonly start: Day,
    days: readonly { readonly day: Day; readonly balance: number }[],
  ) {
    this.#days = days.map((day) => ({ ...day }))
  }
  copy(): Free {
    return new Free(this.start, this.#days)
  }
  /** The least balance from a day on. */
  at(day: Day): number {
    let least = Infinity
    for (let i = this.#days.length - 1; i >= 0; i--) {
      least = Math.min(least, this.#days[i]!.balance)
      if (this.#days[i]!.day <= day) {
        break
      }
    }
    return Math.max(0, least)
  }

  firstDay(quantity: number): Day | null {
    return this.#days.map((d) => d.day).find((day) => this.at(day) >= quantity) ?? null
  }
  take(from: Day, quantity: number): void {
    if (!this.#days.some((d) => d.day === from)) {
      const before = this.#days.findLast((d) => d.day < from)
      this.#days.splice(this.#days.findIndex((d) => d === before) + 1, 0, { day: from, balance: before?.balance ?? 0 })
    }
    for (const day of this.#days) {
      if (day.day >= from) {
        day.balance -= quantity
      }
    }
  }
}
