import { printDay, toDay, toIso } from '~~/core/calendar/days'
import { nearTiers } from '~~/core/planning/what-if'
import { NetPlan } from '~~/core/planning/netting'
import { explainNode } from '~~/core/planning/explain'
import { grouped } from '~~/core/units/quantity'
import { ratio, toText } from '~~/core/units/exact'
import { db } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { itemOf } from '~~/shared/planning/node-id'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { loadPlan } from './stored-plan'
import type { NearTier } from '../../../shared/planning/answers'

export interface Part {
  readonly line: 'wanted' | 'coming' | 'planned' | 'released' | 'lost'
  readonly day: string
  readonly label: string
  readonly quantity: string
  readonly itemId: number | null
}

const VERB = { buy: 'Buy', make: 'Build', 'break down': 'Break down for', move: 'Move' } as const

/** What the figures of an item within some days are made of: who wants it, what comes, what is planned and released. */
export async function madeOf(
  planId: number,
  node: string,
  first: string,
  last: string,
): Promise<{ code: string; name: string; symbol: string; parts: Part[]; before: string; after: string }> {
  const { input } = await loadPlan(db, planId)
  const items = await loadMeasuredItems(db, 'all')
  const item = items.get(itemOf(node))
  const opened = NetPlan.open(input)
  const index = opened.ok ? opened.value.compiled.at.get(node) : undefined
  if (!item || !opened.ok || index === undefined) {
    throw new Refusal('not-found', 'This plan has no such item.')
  }
  const { compiled, orders } = opened.value
  const { start, span } = compiled
  const parts: Part[] = []
  const within = (day: string): boolean => day >= first && day <= last
  const clamp = (day: string): string => (day < input.start ? input.start : day)
  for (const demand of compiled.demands.rowsOf(index)) {
    if (within(clamp(demand.day))) {
      parts.push({
        line: 'wanted',
        day: demand.day,
        label: demand.label,
        quantity: print(item, demand.quantity),
        itemId: null,
      })
    }
  }
  const flow = { gross: new Float64Array(span), fixed: new Float64Array(span), safety: new Float64Array(span) }
  const named = (parent: number, quantity: number): string => {
    const entry = items.get(itemOf(compiled.nodes[parent]!.id))!
    const { source } = compiled.nodes[parent]!
    return `${VERB[source.kind === 'none' ? 'buy' : source.kind]} ${print(entry, quantity)} ${entry.code}`
  }
  opened.value.gather(index, flow, (order, parent, day, quantity) => {
    const iso = toIso(start + day)
    if (within(iso)) {
      parts.push({
        line: 'wanted',
        day: iso,
        label: named(parent, orders.quantity[order]!),
        quantity: print(item, quantity),
        itemId: itemOf(compiled.nodes[parent]!.id),
      })
    }
  })
  const own = explainNode(opened.value, index)
  const pulled = new Map(own.messages.flatMap((m) => (m.code === 'pull in' ? [[m.supply, m.day] as const] : [])))
  for (const { row } of compiled.supplies[index]!) {
    const day = pulled.get(row.id) ?? clamp(row.day)
    if (within(day)) {
      parts.push({
        line: 'coming',
        day,
        label: pulled.has(row.id) ? `${row.label}, pulled in from ${printDay(row.day, input.start)}` : row.label,
        quantity: print(item, row.quantity),
        itemId: null,
      })
    }
  }
  for (const order of own.orders) {
    if (within(order.due)) {
      parts.push({
        line: 'planned',
        day: order.due,
        label: `${VERB[order.kind]}${order.fixed ? ' (fixed)' : ''}`,
        quantity: print(item, order.quantity),
        itemId: null,
      })
    }
    if (within(order.release)) {
      parts.push({
        line: 'released',
        day: order.release,
        label: `${VERB[order.kind]}, due ${printDay(order.due, input.start)}`,
        quantity: print(item, order.quantity),
        itemId: null,
      })
    }
  }
  for (const m of own.messages) {
    if (m.code === 'will expire' && within(toIso(toDay(m.day) + 1))) {
      parts.push({
        line: 'lost',
        day: m.day,
        label: m.lot === null ? 'Expires' : `Lot ${m.lot} expires`,
        quantity: print(item, m.quantity),
        itemId: null,
      })
    }
  }
  const balanceOn = (day: string): number =>
    own.plan.days.findLast((entry) => entry.day <= day)?.projectedAvailable ?? own.plan.onHand
  return {
    code: item.code,
    name: item.name,
    symbol: item.symbol,
    parts: parts.sort((a, b) => {
      if (a.day < b.day) {
        return -1
      }
      if (a.day > b.day) {
        return 1
      }
      return 0
    }),
    before: print(item, first <= input.start ? own.plan.onHand : balanceOn(toIso(toDay(first) - 1))),
    after: print(item, balanceOn(last)),
  }
}

/** Planned purchases for which a little more reaches a lower price. */
export function tellNearTiers(
  input: Parameters<typeof nearTiers>[0],
  output: Parameters<typeof nearTiers>[1],
  items: ReadonlyMap<number, MeasuredItem>,
): NearTier[] {
  return nearTiers(input, output).map(({ node, quantity, upTo, costNow, costThen }) => {
    const item = items.get(itemOf(node))!
    return {
      itemId: item.id,
      code: item.code,
      quantity: print(item, quantity),
      more: print(item, upTo - quantity),
      costNow,
      costThen,
    }
  })
}

const print = (item: MeasuredItem, steps: number): string =>
  `${grouped(toText(item.measure.finestStep.mul(ratio(BigInt(steps)))))} ${item.symbol}`
