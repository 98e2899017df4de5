import { toIso } from '../../calendar/days'
import type { Compiled, Dated } from '../compile'
import type { PlanNode } from '../input'
import type { PlanMessage } from './output'
import type { NodeLines } from './node-lines'

const PUSH_OUT_DAYS = 7

/**
 * What to do about open supply that nobody needs when it comes: push it out to the day on which the balance would fall
 * under the safety stock without it, or, where it never would, call it a surplus. From the last one to come backwards,
 * each without those already advised upon.
 */
export function adviceOnSupplies(
  { input, start, span }: Compiled,
  node: PlanNode,
  supplies: readonly Dated[],
  lines: NodeLines,
  safety: Float64Array,
): readonly PlanMessage[] {
  const inTime = supplies.filter((supply) => supply.at < span && !lines.pulled.has(supply))
  if (inTime.length === 0) {
    return []
  }
  const slack = Float64Array.from({ length: span }, (_, day) => lines.balance(day) - safety[day]!)
  const messages: PlanMessage[] = []
  for (const entry of inTime.reverse()) {
    const from = Math.max(0, entry.at)
    let until = from
    while (until < span && slack[until]! >= entry.quantity) {
      until++
    }
    const surplus = until === span
    if (!surplus && until - from <= (input.pushOutDays ?? PUSH_OUT_DAYS)) {
      continue
    }
    for (let day = from; day < until; day++) {
      slack[day]! -= entry.quantity
    }
    const about = { node: node.id, quantity: entry.quantity, supply: entry.row.id }
    messages.push(
      surplus
        ? { ...about, code: 'surplus', day: entry.row.day }
        : { ...about, code: 'push out', day: toIso(start + until), from: entry.row.day },
    )
  }
  return messages.reverse()
}
