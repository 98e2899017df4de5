import { back, forward, toIso, workingDaysBetween, type Day, type WorkingCalendar } from '../calendar'
import type { Multiple, PlanNode, Source } from './input'
import type { Horizon } from './net-node'
import type { PlannedOrder } from './output'

/**
 * Sizes one planned order by the *exact* rule and dates it.
 *
 * Quantity: the net requirement, at least the minimum, up to the order multiple. A break-down's multiple is what one run of its recipe gives.
 * Dates:    released `leadDays` working days before the day of need; where that lies before the start, released on the start, late by the working days between.
 */
export function sizeOrder(node: PlanNode, source: Exclude<Source, { kind: 'none' }>, net: number, day: Day, facts: { balanceBefore: number, demandThatDay: number }, horizon: Horizon, calendar: WorkingCalendar, index: number): PlannedOrder {
  const minimum = source.kind === 'buy' ? source.minimum : 0
  const { quantity, multiple, times } = upToMultiple(Math.max(net, minimum), multipleOf(node, source))
  const wanted = back(calendar, day, source.leadDays)
  const late = wanted < horizon.start
  return {
    id: `planned:${node.id}:${index + 1}`, node: node.id, kind: source.kind, quantity,
    due: toIso(day), release: toIso(late ? horizon.start : wanted),
    lateBy: late ? workingDaysBetween(calendar, wanted, horizon.start) : 0,
    promised: toIso(late ? forward(calendar, horizon.start, source.leadDays) : day),
    why: { ...facts, safety: node.safety, netRequirement: net, rule: 'exact', minimum, multiple, times, leadDays: source.leadDays },
  }
}

function multipleOf(node: PlanNode, source: Exclude<Source, { kind: 'none' }>): Multiple {
  if (source.kind === 'buy') return source.multiple
  const own = source.kind === 'break down' ? source.outputs.find(output => output.node === node.id)!.quantity : 1
  return { numerator: String(own), denominator: '1' }
}

function upToMultiple(needed: number, { numerator, denominator }: Multiple): { quantity: number, multiple: number, times: number } {
  // Below 2^51 the quotient's error cannot reach the next whole number, so plain numbers are exact.
  if (denominator === '1' && needed < 2 ** 51) {
    const multiple = Number(numerator)
    const times = Math.ceil(needed / multiple)
    if (Number.isSafeInteger(times * multiple)) return { quantity: times * multiple, multiple, times }
  }
  const n = BigInt(numerator)
  const d = BigInt(denominator)
  const times = (BigInt(needed) * d + n - 1n) / n
  return { quantity: Number((times * n + d - 1n) / d), multiple: Number(n) / Number(d), times: Number(times) }
}
