import Fraction from 'fraction.js'
import type { LotRule, PlanInput, PlanNode } from '~~/core/planning/input'
import { cheapest } from './cheapest'

/**
 * The plan once more, as the rules say it and with no cleverness: every day of every node in turn, everything looked at
 * again each day, amounts as fractions, days as dates counted one by one. It shares nothing with the engine but the
 * shape of the snapshot.
 */
export interface NaiveOrder {
  readonly id: string
  readonly node: string
  readonly due: string
  readonly release: string
  readonly quantity: number
  readonly late: boolean
}
export interface NaivePlan {
  readonly orders: readonly NaiveOrder[]
  readonly balances: ReadonlyMap<string, ReadonlyMap<string, number>>
  readonly pulled: readonly string[]
  /** Open supply that a shortage waits for: until when, from when on. */
  readonly waits: readonly string[]
  readonly expired: ReadonlyMap<string, number>
}

const MS = 86_400_000
const next = (day: string, by = 1): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + by * MS).toISOString().slice(0, 10)

/** Numbers in text compared as numbers. */
const asNumbers = new Intl.Collator('en', { numeric: true })

export function naivePlan(input: PlanInput): NaivePlan {
  const days: string[] = []
  for (let day = input.start; day <= input.end; day = next(day)) {
    days.push(day)
  }
  const works = (calendar: string | null, day: string): boolean => {
    const own = calendar === null ? undefined : input.calendars[calendar]
    return (
      own === undefined ||
      (own.weekdays[(new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7]! && !own.closed.includes(day))
    )
  }
  const step = (calendar: string | null, day: string, count: number, direction: 1 | -1): string => {
    let index = day
    while (!works(calendar, index)) {
      index = next(index, direction)
    }
    for (let left = count; left > 0; left--) {
      index = next(index, direction)
      while (!works(calendar, index)) {
        index = next(index, direction)
      }
    }
    return index
  }

  const nodes = new Map(input.nodes.map((node) => [node.id, node]))
  const children = (node: PlanNode): string[] => {
    if (node.source.kind === 'make') {
      return node.source.components.map((c) => c.node)
    }
    if (node.source.kind === 'break down' || node.source.kind === 'move') {
      return [node.source.from]
    }
    return []
  }
  const gifts = ({ id, source }: PlanNode): string[] => {
    if (source.kind === 'make') {
      return (source.byProducts ?? []).map((b) => b.node)
    }
    return source.kind === 'break down' ? source.outputs.map((o) => o.node).filter((other) => other !== id) : []
  }
  const reaches = (from: string, to: string, seen = new Set<string>()): boolean => {
    if (from === to) {
      return true
    }
    if (seen.has(from)) {
      return false
    }
    seen.add(from)
    const node = nodes.get(from)!
    return [...children(node), ...gifts(node)].some((other) => reaches(other, to, seen))
  }
  const under = new Map(
    input.nodes.map((node): [string, string[]] => [
      node.id,
      [...children(node), ...gifts(node).filter((other) => !reaches(other, node.id))],
    ]),
  )
  const levelOf = (id: string): number =>
    Math.max(
      0,
      ...input.nodes.filter((above) => under.get(above.id)!.includes(id)).map((above) => levelOf(above.id) + 1),
    )
  const inOrder = [...input.nodes].sort((a, b) => levelOf(a.id) - levelOf(b.id) || asNumbers.compare(a.id, b.id))

  const orders: NaiveOrder[] = []
  const balances = new Map<string, Map<string, number>>()
  const pulled: string[] = []
  const waits: string[] = []
  const expired = new Map<string, number>()
  for (const [place, node] of inOrder.entries()) {
    netOne(node, inOrder.slice(0, place))
  }
  // What was given to a node that had its turn already comes into its balance all the same.
  for (const [place, node] of inOrder.entries()) {
    const line = balances.get(node.id)!
    for (const order of orders) {
      const more = inOrder.findIndex((other) => other.id === order.node) > place ? givenBy(order, node) : 0
      for (const day of days.filter((later) => later >= order.due)) {
        line.set(day, line.get(day)! + more)
      }
    }
  }
  return { orders, balances, pulled, waits, expired }

  /** What an order brings of a node beside its own. */
  function givenBy(order: NaiveOrder, node: PlanNode): number {
    const producer = nodes.get(order.node)!.source
    if (order.node === node.id) {
      return 0
    }
    if (producer.kind === 'break down') {
      const own = producer.outputs.find((output) => output.node === order.node)!.quantity
      return producer.outputs
        .filter((o) => o.node === node.id)
        .reduce((all, o) => all + o.quantity * Math.ceil(order.quantity / own), 0)
    }
    if (producer.kind !== 'make') {
      return 0
    }
    return (producer.byProducts ?? [])
      .filter((b) => b.node === node.id)
      .map((b) => new Fraction(order.quantity).mul(b.numerator).add(b.fixedNumerator).div(b.denominator).floor())
      .reduce((all, given) => all + Number(given.valueOf()), 0)
  }

  function netOne(node: PlanNode, before: readonly PlanNode[]): void {
    const { source } = node
    const through = source.kind === 'make' && source.isPassThrough === true
    const fixed = (input.fixed ?? []).filter((entry) => entry.node === node.id && entry.due <= input.end)
    for (const entry of [...fixed].sort((a, b) => {
      if (a.due < b.due) {
        return -1
      }
      if (a.due > b.due) {
        return 1
      }
      return asNumbers.compare(a.id, b.id)
    })) {
      orders.push({
        id: entry.id,
        node: node.id,
        due: entry.due < input.start ? input.start : entry.due,
        release: entry.release < input.start ? input.start : entry.release,
        quantity: entry.quantity,
        late: false,
      })
    }
    const demandOn = (day: string): number => own(day) + asked(day)
    const own = (day: string): number =>
      input.demands
        .filter((d) => d.node === node.id && (d.day === day || (day === input.start && d.day < day)))
        .reduce((sum, d) => sum + d.quantity, 0)
    const asked = (day: string): number =>
      orders.reduce((sum, order) => {
        const parent = nodes.get(order.node)!.source
        if (parent.kind === 'move' && parent.from === node.id && order.release === day) {
          return sum + order.quantity
        }
        if (parent.kind === 'break down' && parent.from === node.id && order.release === day) {
          return (
            sum + parent.take * Math.ceil(order.quantity / parent.outputs.find((o) => o.node === order.node)!.quantity)
          )
        }
        if (parent.kind !== 'make') {
          return sum
        }
        return parent.components
          .filter(
            (c) =>
              c.node === node.id &&
              (c.offsetDays ? step(parent.calendar, order.release, c.offsetDays, 1) : order.release) === day,
          )
          .reduce(
            (all, c) =>
              all +
              Number(
                new Fraction(order.quantity).mul(c.numerator).add(c.fixedNumerator).div(c.denominator).ceil().valueOf(),
              ),
            sum,
          )
      }, 0)
    const givenOn = (day: string): number =>
      orders
        .filter((order) => order.due === day && before.some((other) => other.id === order.node))
        .reduce((sum, order) => sum + givenBy(order, node), 0) +
      fixed
        .filter((order) => (order.due < input.start ? input.start : order.due) === day)
        .reduce((sum, order) => sum + order.quantity, 0)
    const safetyOn = (day: string): number =>
      input.keepSafety === false || through
        ? 0
        : (node.seasons ?? []).reduce((held, s) => (s.first <= day && day <= s.last ? s.safety : held), node.safety)

    const given = new Map(days.map((day) => [day, givenOn(day)]))
    const wanted = new Map(days.map((day) => [day, demandOn(day)]))
    const rule: LotRule = through || source.kind === 'none' ? { kind: 'exact' } : (node.rule ?? { kind: 'exact' })
    const window =
      input.pullIn === false || through ? null : (node.pullInDays ?? ('leadDays' in source ? source.leadDays : 0))
    const supplies = input.supplies
      .filter((s) => s.node === node.id)
      .sort((a, b) => {
        if (a.day < b.day) {
          return -1
        }
        if (a.day > b.day) {
          return 1
        }
        return asNumbers.compare(a.id, b.id)
      })
    /** The first day on which an order of today could be there; none where nothing can be ordered. */
    const soonest = source.kind === 'none' ? '9999' : step(source.calendar, input.start, source.leadDays, 1)
    const lotsThen = (): { quantity: number; until: string | null }[] =>
      node.onHand
        .map((lot) => ({ quantity: lot.quantity, until: lot.expiresOn }))
        .sort((a, b) => ((a.until ?? '9999') < (b.until ?? '9999') ? -1 : 1))

    /** Walks the days; `decide` says how much is ordered on a day on which so much is missing. */
    const walk = (
      decide: (
        day: string,
        missing: number,
        state: { covered: number; lots: { quantity: number; until: string | null }[]; arrived: ReadonlySet<string> },
      ) => number[],
      replay?: { pulls: ReadonlyMap<string, readonly string[]>; waiting: ReadonlyMap<string, readonly string[]> },
    ) => {
      const lots = lotsThen()
      const arrived = new Set<string>()
      const pulls = new Map<string, string[]>()
      const waiting = new Map<string, string[]>()
      /** What a shortage waits for counts as if it were there. */
      let late: { readonly comes: string; readonly s: (typeof supplies)[number] }[] = []
      const line = new Map<string, number>()
      let balance = lots.reduce((sum, lot) => sum + lot.quantity, 0)
      let gone = 0
      for (const day of days) {
        for (const lot of lots) {
          if (lot.until !== null && lot.until < day) {
            balance -= lot.quantity
            gone += lot.quantity
            lot.quantity = 0
          }
        }
        for (const { s, comes } of late.filter((entry) => entry.comes === day)) {
          balance += s.quantity
          if (comes < s.day) {
            pulls.set(day, [...(pulls.get(day) ?? []), s.id])
          }
        }
        late = late.filter((entry) => entry.comes > day)
        for (const s of supplies) {
          if (!arrived.has(s.id) && s.day <= day) {
            arrived.add(s.id)
            balance += s.quantity
          }
        }
        balance += given.get(day)! - wanted.get(day)!
        const level = rule.kind === 'up to' ? rule.reorderPoint : safetyOn(day)
        const covered = (): number => late.reduce((sum, { s }) => sum + s.quantity, balance)
        const reachable = (): typeof supplies =>
          supplies.filter((s) => !arrived.has(s.id) && window !== null && s.day <= next(day, window))
        for (const s of reachable()) {
          const isPulled = replay
            ? replay.pulls.get(day)?.includes(s.id)
            : covered() < level && (s.earliest ?? day) <= day
          if (isPulled) {
            arrived.add(s.id)
            pulls.set(day, [...(pulls.get(day) ?? []), s.id])
            balance += s.quantity
          }
        }
        for (const s of supplies.filter((entry) => !arrived.has(entry.id) && window !== null)) {
          const canBePulledIn = s.earliest !== undefined && s.earliest < s.day && s.day <= next(day, window!)
          const comes = canBePulledIn ? s.earliest! : s.day
          const isAwaited = replay
            ? replay.waiting.get(day)?.includes(s.id)
            : covered() < level && s.earliest !== undefined && s.earliest > day && soonest >= comes
          if (isAwaited) {
            arrived.add(s.id)
            waiting.set(day, [...(waiting.get(day) ?? []), s.id])
            late.push({ comes, s })
          }
        }
        for (const quantity of decide(day, level - covered(), { covered: covered(), lots, arrived })) {
          balance += quantity
        }
        let open = wanted.get(day)!
        for (const lot of lots) {
          if (lot.until !== null) {
            const used = Math.min(open, lot.quantity)
            lot.quantity -= used
            open -= used
          }
        }
        line.set(day, balance)
      }
      return { line, pulls, waiting, gone }
    }

    if (source.kind === 'none') {
      finish(walk(() => []))
      return
    }
    let multiple
    if (through) {
      multiple = new Fraction(1)
    } else if (source.kind === 'break down') {
      multiple = new Fraction(source.outputs.find((o) => o.node === node.id)!.quantity)
    } else if (source.multiple) {
      multiple = new Fraction(source.multiple.numerator).div(source.multiple.denominator)
    } else {
      multiple = new Fraction(1)
    }
    const minimum = through ? 0 : (source.minimum ?? 0)
    const up = (quantity: number): number => {
      const times = new Fraction(quantity).div(multiple).ceil()
      return Number(multiple.mul(times).ceil().valueOf())
    }
    const sized = (asked: number): number[] => {
      const whole = up(Math.max(asked, minimum))
      if (through || source.maximum === undefined || whole <= source.maximum) {
        return [whole]
      }
      const timesFor = (quantity: number): number => Number(new Fraction(quantity).div(multiple).ceil().valueOf())
      const steps = (times: number): number => Number(multiple.mul(times).ceil().valueOf())
      let most = 0
      while (multiple.mul(most + 1).compare(source.maximum) <= 0) {
        most++
      }
      most = Math.max(most, timesFor(Math.max(1, minimum)))
      const parts: number[] = []
      let rest = timesFor(Math.max(asked, minimum))
      for (; rest >= most; rest -= most) {
        parts.push(steps(most))
      }
      return rest > 0 ? [...parts, steps(minimum > 0 ? Math.max(rest, timesFor(minimum)) : rest)] : parts
    }
    const place = (day: string, parts: readonly number[]): number[] => {
      for (const quantity of parts) {
        const release = through ? day : step(source.calendar, day, source.leadDays, -1)
        orders.push({
          id: `planned:${node.id}:${orders.filter((o) => o.node === node.id).length - fixed.length + 1}`,
          node: node.id,
          due: day,
          release: release < input.start ? input.start : release,
          quantity,
          late: release < input.start,
        })
      }
      return [...parts]
    }
    if (rule.kind === 'least cost') {
      const needs: { day: string; quantity: number }[] = []
      const exact = walk((day, missing) => {
        if (missing > 0) {
          needs.push({ day, quantity: missing })
        }
        return missing > 0 ? [missing] : []
      })
      const plan = cheapest(
        needs.map((need) => ({ at: days.indexOf(need.day), quantity: need.quantity })),
        days.length,
        rule,
        minimum,
        up,
      )
      finish(walk((day) => (plan.has(days.indexOf(day)) ? place(day, sized(plan.get(days.indexOf(day))!)) : []), exact))
      return
    }
    finish(
      walk((day, missing, state) => {
        if (missing <= 0) {
          return []
        }
        const economic =
          rule.kind === 'economic'
            ? Math.max(
                1,
                Math.ceil(
                  Math.sqrt(
                    (2 * (([...wanted.values()].reduce((a, b) => a + b, 0) * 365) / days.length) * rule.orderCost) /
                      rule.holdingCost,
                  ),
                ),
              )
            : 0
        const fixedSize = rule.kind === 'fixed' ? rule.quantity : economic
        if (fixedSize > 0) {
          return place(day, sized(Math.ceil(missing / fixedSize) * fixedSize))
        }
        if (rule.kind === 'up to') {
          return place(day, sized(Math.max(rule.maximum, rule.reorderPoint) - state.covered))
        }
        if (rule.kind !== 'cover') {
          return place(day, sized(missing))
        }
        let most = missing
        let balance = state.covered
        const lots = state.lots.map((lot) => ({ ...lot }))
        const use = (calendarId: string): void => {
          let open = wanted.get(calendarId)!
          for (const lot of lots) {
            if (lot.until !== null) {
              const used = Math.min(open, lot.quantity)
              lot.quantity -= used
              open -= used
            }
          }
        }
        use(day)
        for (const later of days.filter((d) => d > day && d < next(day, rule.days))) {
          for (const lot of lots) {
            if (lot.until !== null && lot.until < later) {
              balance -= lot.quantity
              lot.quantity = 0
            }
          }
          for (const s of supplies) {
            if (!state.arrived.has(s.id) && s.day === later) {
              balance += s.quantity
            }
          }
          balance += given.get(later)! - wanted.get(later)!
          use(later)
          most = Math.max(most, safetyOn(later) - balance)
        }
        return place(day, sized(most))
      }),
    )

    function finish(done: {
      line: Map<string, number>
      pulls: ReadonlyMap<string, readonly string[]>
      waiting: ReadonlyMap<string, readonly string[]>
      gone: number
    }): void {
      balances.set(node.id, done.line)
      expired.set(node.id, done.gone)
      pulled.push(...[...done.pulls].flatMap(([day, ids]) => ids.map((id) => `${id} to ${day}`)))
      waits.push(...[...done.waiting].flatMap(([day, ids]) => ids.map((id) => `${id} from ${day}`)))
    }
  }
}
