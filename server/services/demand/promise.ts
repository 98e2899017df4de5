import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { printDay, toDay, toIso } from '~~/core/calendar/days'
import { describeSupplyOption, promise, type SupplyOption, type SupplyOptionWords } from '~~/core/planning/promise'
import { loadWriting } from '~~/server/services/company/company'
import { grouped } from '~~/core/units/quantity'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { PromiseAnswer, PromiseLine, PromiseQuery, SupplyOptionAnswer } from '~~/shared/demand/requests'
import { ALL_OF_IT } from '~~/shared/planning/words'
import { loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { takeSnapshot } from '../planning/snapshot'
import { stepsOf } from '../planning/snapshot-context'
import { freeQuantity } from '~~/server/database/sql'
import { salesId } from '../planning/supply-ids'

/** Days beyond the last order in which a promise can lie. */
const BEYOND = 400

/**
 * When each line can be there, why, and what else there is: substitutes by rank, other sites, and whether it can be
 * built or bought for the order.
 */
export async function promiseLines(query: z.output<typeof PromiseQuery>, today: string): Promise<PromiseAnswer> {
  const items = await loadMeasuredItems(db, 'all')
  const wanted = query.lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'Choose an item.', { [`lines.${index}.itemId`]: 'Choose an item.' })
    }
    return { item: item, quantity: readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`).quantity }
  })
  const own =
    query.orderId === null
      ? []
      : await rows<{ id: number; itemId: number; done: string }>(
          db,
          sql`
            select
              l.id, l.item_id as "itemId",
              l.shipped + coalesce(
                (select sum(a.quantity) from allocations a where a.sales_line_id = l.id), 0
              ) as done
            from sales_lines l
            where l.order_id = ${query.orderId}
            order by l.line`,
        )
  const [last] = await rows<{ last: string | null }>(
    db,
    sql`select max(due_on) as last from sales_orders where status = 'open'`,
  )
  const end = toIso(toDay(last!.last !== null && last!.last > today ? last!.last : today) + BEYOND)
  const snapshot = await takeSnapshot(db, {
    start: today,
    end,
    demandRule: 'orders only',
    forecastIds: [],
    forecastFalls: 'first day',
    scope: { ...ALL_OF_IT, sitesAsOne: true },
  })
  const mine = new Set(own.map((line) => salesId(line.id)))
  // What is set aside for the order itself is there already.
  const open = wanted.map(({ item: item, quantity }, index) => {
    const ready = ratio(own[index]?.itemId === item.id ? own[index].done : '0')
    return quantity.compare(ready) > 0 ? quantity.sub(ready) : ZERO
  })
  const found = promise(
    { ...snapshot, demands: snapshot.demands.filter((demand) => !mine.has(demand.id)) },
    wanted.map(({ item: item }, index) => ({
      id: String(index),
      node: String(item.id),
      quantity: item.kind === 'stocked' ? stepsOf(item, open[index]!) : 0,
    })),
  )
  if (!found.ok) {
    throw new Refusal('loop', 'The bills run in a circle, so nothing can be promised. The Plan names the items.')
  }
  const { dateFormat } = await loadWriting()
  const words: SupplyOptionWords = {
    item: (node) => items.get(Number(node))!.code,
    quantity: (node, steps) =>
      print(items.get(Number(node))!, items.get(Number(node))!.measure.finestStep.mul(ratio(BigInt(steps)))),
    day: (iso) => printDay(iso, today, dateFormat),
  }
  const elsewhere = await freeBySite(wanted.map(({ item: item }) => item.id))
  const instead = await substitutesOf(wanted.map(({ item: item }) => item.id))
  const lines = found.value.map(({ on: day, options }, index): PromiseLine => {
    const { item: item } = wanted[index]!
    return {
      itemId: item.id,
      code: item.code,
      symbol: item.symbol,
      on: item.kind === 'stocked' ? day : today,
      source: item.source,
      kind: item.kind,
      options: options.map((option) => answerOf(option, words)),
      missing: missingOf(item, options),
      sites: elsewhere
        .filter((row) => row.itemId === item.id)
        .map(({ site, free }) => ({ site, free: print(item, ratio(free)) })),
      substitutes: instead
        .filter((row) => row.itemId === item.id)
        .map((row) => ({
          itemId: row.substituteId,
          code: row.code,
          name: row.name,
          per: row.per,
          free: print(items.get(row.substituteId)!, ratio(row.free)),
        })),
    }
  })
  const days = lines.map((line) => line.on)
  return {
    on: days.some((day) => day === null)
      ? null
      : (days as string[]).reduce((latest, day) => (day > latest ? day : latest), today),
    lines,
  }
}

const answerOf = (option: SupplyOption, words: SupplyOptionWords): SupplyOptionAnswer => ({
  kind: option.kind,
  text: describeSupplyOption(option, words),
  from: 'from' in option ? option.from.map((part) => answerOf(part, words)) : [],
})
const print = (item: MeasuredItem, quantity: Ratio): string =>
  `${grouped(toText(quantity), item.writing)} ${item.symbol}`

/** What is neither free nor coming of the item itself. */
function missingOf(item: MeasuredItem, options: readonly SupplyOption[]): string {
  const steps = options.reduce(
    (sum, option) => (option.kind === 'free' || option.kind === 'coming' ? sum : sum + option.quantity),
    0,
  )
  return toText(item.measure.finestStep.mul(ratio(BigInt(steps))))
}

/** What is free of items at each site. */
const freeBySite = (ids: readonly number[]) =>
  rows<{ itemId: number; site: string; free: string }>(
    db,
    sql`
      select b.item_id as "itemId", s.name as site, trim_scale(sum(b.on_hand - b.allocated))::text as free
      from balances b
      join places p on p.id = b.place_id
      join sites s on s.id = p.site_id
      where ${anyOf(sql`b.item_id`, ids)} and b.status = 'available' and b.on_hand > b.allocated
      group by 1, s.id, 2
      order by s.id`,
  )

/** What may stand in, by rank, with what is free of it. */
const substitutesOf = (ids: readonly number[]) =>
  rows<{ itemId: number; substituteId: number; code: string; name: string; per: string; free: string }>(
    db,
    sql`
      select x.of as "itemId", x.by as "substituteId", i.code, i.name, x.per, trim_scale(l.free)::text as free
      from (
        select
          item_id as of, substitute_id as by, rank, trim_scale(round(numerator / denominator, 6))::text as per
        from item_substitutes
        where ${anyOf(sql`item_id`, ids)}
        union all
        select substitute_id, item_id, rank, trim_scale(round(denominator / numerator, 6))::text
        from item_substitutes
        where both_ways and ${anyOf(sql`substitute_id`, ids)}
      ) x
      join items i on i.id = x.by and i.status = 'active'
      cross join lateral (select ${freeQuantity(sql`l.item_id`)} as free from (select i.id as item_id) l) l
      order by x.of, x.rank, i.code`,
  )
