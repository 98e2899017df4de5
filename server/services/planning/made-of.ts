import { printDay, toDay, toIso } from '~~/core/calendar/days'
import { nearTiers } from '~~/core/planning/what-if'
import { NetPlan } from '~~/core/planning/netting'
import { explainNode, type ExplainedNode } from '~~/core/planning/explain'
import { db } from '~~/server/database/client'
import type { MadeOf, MadeOfPart } from '~~/shared/planning/made-of'
import { Refusal } from '~~/server/utils/refusal'
import { itemOf } from '~~/shared/planning/node-id'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { amount } from './site-names'
import { loadPlan } from './stored-plan'
import type { NearTier } from '../../../shared/planning/answers'

const VERB = { buy: 'Buy', make: 'Build', 'break down': 'Break down for', move: 'Move' } as const

/** What the figures of an item within some days are made of: who wants it, what comes, what is planned and released. */
export async function madeOf(planId: number, node: string, first: string, last: string): Promise<MadeOf> {
  const { input } = await loadPlan(db, planId)
  const items = await loadMeasuredItems(db, 'all')
  const item = items.get(itemOf(node))
  const opened = NetPlan.open(input)
  const index = opened.ok ? opened.value.compiled.at.get(node) : undefined
  if (!item || !opened.ok || index === undefined) {
    throw new Refusal('not-found', 'This plan has no such item.')
  }
  const own = explainNode(opened.value, index)
  const asked: CellOfNode = { plan: opened.value, index, own, item, items, start: input.start }
  const parts = [
    ...demandParts(asked),
    ...parentParts(asked),
    ...supplyParts(asked),
    ...orderParts(asked),
    ...lossParts(asked),
  ].filter((part) => part.on >= first && part.on <= last)
  const balanceOn = (day: string): number =>
    own.plan.days.findLast((entry) => entry.day <= day)?.projectedAvailable ?? own.plan.onHand
  return {
    code: item.code,
    name: item.name,
    symbol: item.symbol,
    parts: parts
      .sort((a, b) => a.day.localeCompare(b.day))
      .map(({ on, ...part }) => {
        void on
        return part
      }),
    before: amount(item, first <= input.start ? own.plan.onHand : balanceOn(toIso(toDay(first) - 1))),
    after: amount(item, balanceOn(last)),
  }
}

/** One item of an open plan, with all that the plan says of it. */
interface CellOfNode {
  readonly plan: NetPlan
  readonly index: number
  readonly own: ExplainedNode
  readonly item: MeasuredItem
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly start: string
}

/** `on`: the day on which it changes the balance. */
interface DatedPart extends MadeOfPart {
  readonly on: string
}

/** What is due before the plan begins counts on its first day. */
const noEarlier = (day: string, start: string): string => (day < start ? start : day)

const demandParts = ({ plan, index, item, start }: CellOfNode): DatedPart[] =>
  [...plan.compiled.demands.rowsOf(index)].map((demand) => ({
    on: noEarlier(demand.day, start),
    line: 'wanted',
    day: demand.day,
    label: demand.label,
    quantity: amount(item, demand.quantity),
    itemId: null,
  }))

/** What planned orders of other items take of it. */
function parentParts({ plan, index, item, items }: CellOfNode): DatedPart[] {
  const { compiled, orders } = plan
  const { start, span, nodes } = compiled
  const flow = { gross: new Float64Array(span), fixed: new Float64Array(span), safety: new Float64Array(span) }
  const parts: DatedPart[] = []
  plan.gather(index, flow, (order, parent, day, quantity) => {
    const { id, source } = nodes[parent]!
    const made = items.get(itemOf(id))!
    const on = toIso(start + day)
    parts.push({
      on,
      line: 'wanted',
      day: on,
      label: `${VERB[source.kind === 'none' ? 'buy' : source.kind]} ${amount(made, orders.quantity[order]!)} ${made.code}`,
      quantity: amount(item, quantity),
      itemId: itemOf(id),
    })
  })
  return parts
}

function supplyParts({ plan, index, own, item, start }: CellOfNode): DatedPart[] {
  const pulledIn = new Map(
    own.messages.flatMap((message) => (message.code === 'pull in' ? [[message.supply, message.day] as const] : [])),
  )
  return plan.compiled.supplies[index]!.map(({ row }) => {
    const pulled = pulledIn.get(row.id)
    const day = pulled ?? noEarlier(row.day, start)
    return {
      on: day,
      line: 'coming',
      day,
      label:
        pulled === undefined
          ? row.label
          : `${row.label}, pulled in from ${printDay(row.day, start, item.writing.dateFormat)}`,
      quantity: amount(item, row.quantity),
      itemId: null,
    }
  })
}

const orderParts = ({ own, item, start }: CellOfNode): DatedPart[] =>
  own.orders.flatMap((order) => {
    const quantity = amount(item, order.quantity)
    const planned = `${VERB[order.kind]}${order.fixed ? ' (fixed)' : ''}`
    const released = `${VERB[order.kind]}, due ${printDay(order.due, start, item.writing.dateFormat)}`
    return [
      { on: order.due, line: 'planned', day: order.due, label: planned, quantity, itemId: null },
      { on: order.release, line: 'released', day: order.release, label: released, quantity, itemId: null },
    ] satisfies DatedPart[]
  })

/** A lot is good on its last day, and gone from the day after. */
const lossParts = ({ own, item }: CellOfNode): DatedPart[] =>
  own.messages.flatMap((message): DatedPart[] =>
    message.code === 'will expire'
      ? [
          {
            on: toIso(toDay(message.day) + 1),
            line: 'lost',
            day: message.day,
            label: message.lot === null ? 'Expires' : `Lot ${message.lot} expires`,
            quantity: amount(item, message.quantity),
            itemId: null,
          },
        ]
      : [],
  )

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
      quantity: amount(item, quantity),
      more: amount(item, upTo - quantity),
      costNow,
      costThen,
    }
  })
}
