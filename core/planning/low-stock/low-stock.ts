import { toDay, toIso } from '../../calendar/days'
import { ok, type Result } from '../../result'
import type { PlanError } from '../compile'
import type { PlanInput } from '../input'
import { NetPlan } from '../netting'
import type { PlannedOrder } from '../explain'
import { explainNode } from '../explain'

/**
 * A node that runs low before more of it could be there, unless it is ordered soon. Quantities in whole finest steps.
 */
export interface LowStock {
  readonly node: string
  /** How more of it comes; null where nothing says how. */
  readonly kind: PlannedOrder['kind'] | null
  readonly onHand: number
  /**
   * The first day on which it would lie under what is to be kept, and what would be left of it then: below zero where
   * it is wanted and not there.
   */
  readonly lowOn: string
  readonly left: number
  readonly keep: number
  /**
   * How much the planning rule asks for in all that has to be ordered until then, the last day to order the first of it,
   * and by how many working days that is over.
   */
  readonly quantity: number
  readonly orderBy: string
  readonly lateBy: number
  readonly leadDays: number
  /** When it can really be there: the day on which it is low, or as much later as it is late. */
  readonly promisedOn: string
}

/**
 * What runs low ahead of its lead time: whatever has to be ordered up to and on the day `until`, so that it never lies
 * under its safety stock (or reorder point). What is ordered counts; what is only planned does not. An item is told
 * once: orders that would go out a day apart are one.
 *
 * Sorted by the last day to order, then by the day on which it is low. Errors: those of a plan.
 */
export function lowStock(input: PlanInput, until: string): Result<readonly LowStock[], PlanError> {
  const opened = NetPlan.open(input)
  if (!opened.ok) {
    return opened
  }
  const plan = opened.value
  const limit = toDay(until) - plan.compiled.start
  const found = plan.compiled.nodes.flatMap(({ source }, index) => {
    if (source.kind === 'make' && source.isPassThrough) {
      return []
    }
    const low = source.kind === 'none' ? lowWithoutSource(plan, index, limit) : lowBeforeOrder(plan, index, limit)
    return low ? [low] : []
  })
  return ok(found.sort((a, b) => compare(rankOf(a), rankOf(b))))
}

const rankOf = (low: LowStock): string => [low.orderBy, low.lowOn, low.node].join(' ')

function compare(a: string, b: string): number {
  if (a === b) {
    return 0
  }
  return a < b ? -1 : 1
}

const onHandOf = (plan: NetPlan, index: number): number =>
  plan.compiled.nodes[index]!.onHand.reduce((sum, lot) => sum + lot.quantity, 0)

/** What nobody says how to get is told on the day on which it is low. */
function lowWithoutSource(plan: NetPlan, index: number, limit: number): LowStock | null {
  const { [index]: shortage } = plan.firstShortage
  if (shortage! < 0 || shortage! > limit) {
    return null
  }
  const node = plan.compiled.nodes[index]!
  const low = explainNode(plan, index).plan.days.find((day) => day.withoutOrders < node.safety || day.withoutOrders < 0)
  return low
    ? {
        node: node.id,
        kind: null,
        onHand: onHandOf(plan, index),
        lowOn: low.day,
        left: low.withoutOrders,
        keep: node.safety,
        quantity: Math.max(0, node.safety) - low.withoutOrders,
        orderBy: low.day,
        lateBy: 0,
        leadDays: 0,
        promisedOn: low.day,
      }
    : null
}

/** The first order that has to go out by the limit, for all that has to; null where none does. */
function lowBeforeOrder(plan: NetPlan, index: number, limit: number): LowStock | null {
  if (!isReleasedBy(plan, index, limit)) {
    return null
  }
  const { compiled } = plan
  const { id, source } = compiled.nodes[index]!
  const due = explainNode(plan, index).orders.filter(
    (entry) => !entry.fixed && toDay(entry.release) - compiled.start <= limit,
  )
  const [order] = due
  if (!order || source.kind === 'none') {
    return null
  }
  const { why } = order
  const leadTimeBefore = (day: string): string =>
    toIso(compiled.daysOf(source.calendar).back(toDay(day), source.leadDays))
  return {
    node: id,
    kind: order.kind,
    onHand: onHandOf(plan, index),
    lowOn: order.due,
    left: why.balanceBefore - why.demandThatDay,
    keep: why.safety,
    quantity: due.reduce((sum, entry) => sum + entry.quantity, 0),
    orderBy: order.lateBy > 0 ? leadTimeBefore(order.due) : order.release,
    lateBy: order.lateBy,
    leadDays: why.leadDays,
    promisedOn: order.promised,
  }
}

/** Whether a proposed order of a node goes out by the limit: seen without writing the node out. */
function isReleasedBy({ orders }: NetPlan, index: number, limit: number): boolean {
  const first = orders.first[index]!
  for (let order = first; order < first + orders.count[index]!; order++) {
    if (orders.fixed[order]! < 0 && orders.release[order]! <= limit) {
      return true
    }
  }
  return false
}
