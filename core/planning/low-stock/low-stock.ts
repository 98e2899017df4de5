import { toDay, toIso } from '../../calendar/days'
import { ok, type Result } from '../../result'
import type { PlanError } from '../compile'
import type { PlanInput } from '../input'
import { NetPlan } from '../netting'
import type { PlannedOrder } from '../explain'
import { explainNode } from '../explain'

/** A node that runs low before more of it could be there, unless it is ordered soon. Quantities in whole finest steps. */
export interface LowStock {
  readonly node: string
  /** How more of it comes; null where nothing says how. */
  readonly kind: PlannedOrder['kind'] | null
  readonly onHand: number
  /** The first day on which it would lie under what is to be kept, and what would be left of it then: below zero where it is wanted and not there. */
  readonly lowOn: string
  readonly left: number
  readonly keep: number
  /** How much the planning rule asks for, the last day to order it, and by how many working days that is over. */
  readonly quantity: number
  readonly orderBy: string
  readonly lateBy: number
  readonly leadDays: number
  /** When it can really be there: the day on which it is low, or as much later as it is late. */
  readonly promisedOn: string
}

/**
 * What runs low ahead of its lead time: whatever has to be ordered up to and on the day `until`, so that it never lies under its safety stock (or reorder
 * point). What is ordered counts; what is only planned does not.
 *
 * Sorted by the last day to order, then by the day on which it is low. Errors: those of a plan.
 */
export function lowStock(input: PlanInput, until: string): Result<readonly LowStock[], PlanError> {
  const opened = NetPlan.open(input)
  if (!opened.ok) {
    return opened
  }
  const plan = opened.value
  const { compiled, orders, firstShortage } = plan
  const limit = toDay(until) - compiled.start
  const found: LowStock[] = []
  for (const [index, node] of compiled.nodes.entries()) {
    const { source } = node
    if (source.kind === 'make' && source.isPassThrough) {
      continue
    }
    const onHand = node.onHand.reduce((sum, lot) => sum + lot.quantity, 0)
    if (source.kind === 'none') {
      if (firstShortage[index]! < 0 || firstShortage[index]! > limit) {
        continue
      }
      const low = explainNode(plan, index).plan.days.find(
        (day) => day.withoutOrders < node.safety || day.withoutOrders < 0,
      )
      if (low) {
        found.push({
          node: node.id,
          kind: null,
          onHand,
          lowOn: low.day,
          left: low.withoutOrders,
          keep: node.safety,
          quantity: Math.max(0, node.safety) - low.withoutOrders,
          orderBy: low.day,
          lateBy: 0,
          leadDays: 0,
          promisedOn: low.day,
        })
      }
      continue
    }
    let least = Infinity
    for (let i = orders.first[index]!; i < orders.first[index]! + orders.count[index]!; i++) {
      if (orders.fixed[i]! < 0) {
        least = Math.min(least, orders.release[i]!)
      }
    }
    if (least > limit) {
      continue
    }
    const order = explainNode(plan, index).orders.find(
      (order) => !order.fixed && toDay(order.release) - compiled.start <= limit,
    )
    if (!order) {
      continue
    }
    const { why } = order
    found.push({
      node: node.id,
      kind: order.kind,
      onHand,
      lowOn: order.due,
      left: why.balanceBefore - why.demandThatDay,
      keep: why.safety,
      quantity: order.quantity,
      orderBy:
        order.lateBy > 0
          ? toIso(compiled.daysOf(source.calendar).back(toDay(order.due), source.leadDays))
          : order.release,
      lateBy: order.lateBy,
      leadDays: why.leadDays,
      promisedOn: order.promised,
    })
  }
  return ok(
    found.sort((a, b) => {
      if (a.orderBy < b.orderBy) {
        return -1
      }
      if (a.orderBy > b.orderBy) {
        return 1
      }
      if (a.lowOn < b.lowOn) {
        return -1
      }
      if (a.lowOn > b.lowOn) {
        return 1
      }
      if (a.node < b.node) {
        return -1
      }
      return 1
    }),
  )
}
