import { toMajor } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { convert } from '~~/core/units/graph'
import { ONE, ratio, toText } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import type { Tier } from '~~/shared/catalogue/item-parts'
import { round9, type Offer, type PartItem, type Parts } from '~~/shared/structure/parts'

import type { MeasuredItem } from '../catalogue/measured-items'
import { loadStructure, type LoadedStructure, type Scope } from './load-structure'
import type { BomHead } from './bind-structure'

interface Facts {
  readonly id: number
  readonly kitPolicy: string
  readonly makingUnit: string
  readonly decimals: number
  readonly price: string | null
  readonly standardCost: string | null
  readonly free: string
  readonly onHand: string
  readonly value: string
  readonly held: string
}

/** A structure as it travels, with stock, costs and offers of everything in it. */
export async function loadParts(
  reader: Reader,
  today: string,
  scope: Scope,
  instead: readonly number[] = [],
): Promise<Parts> {
  return partsOf(reader, await loadStructure(reader, today, scope, instead), today)
}

export async function partsOf(reader: Reader, loaded: LoadedStructure, today: string): Promise<Parts> {
  const { items: items } = loaded
  const ids = [...items.keys()]
  const facts = new Map((await loadFacts(reader, ids, today)).map((row) => [row.id, row]))
  const relations = groupBy(
    ids.length === 0
      ? []
      : await rows<{ itemId: number; unit: string; ofUnit: string; numerator: string; denominator: string }>(
          reader,
          sql`
            select item_id as "itemId", unit, of_unit as "ofUnit", numerator, denominator
            from item_relations
            where ${anyOf(sql`item_id`, ids)}`,
        ),
    (row) => row.itemId,
  )
  const offers = await loadOffers(reader, items)
  const from = new Map(
    loaded.breakDowns.flatMap((recipe) =>
      recipe.outputs.map((o): [number, string] => [Number(o.item), items.get(Number(recipe.bulk))!.code]),
    ),
  )
  return {
    today,
    items: [...items.values()].map((item): PartItem => {
      const { held, value, ...fact } = facts.get(item.id)!
      const known = ratio(held).equals(0) ? null : toText(round9(toMajor(value).div(ratio(held))))
      return {
        ...fact,
        code: item.code,
        name: item.name,
        source: item.source,
        status: item.status,
        tracking: item.tracking,
        stockUnit: item.stockUnit,
        buyingUnit: item.buyingUnit,
        sellingUnit: item.sellingUnit,
        finestStep: item.finestStep,
        symbol: item.symbol,
        relations: (relations.get(item.id) ?? []).map(({ itemId, ...relation }) => {
          void itemId
          return relation
        }),
        leadDays: item.source === 'bought' ? (offers.get(item.id)?.[0]?.leadDays ?? item.leadDays) : item.leadDays,
        cost: known,
        offers: offers.get(item.id) ?? [],
        comesFrom: from.get(item.id) ?? null,
      }
    }),
    bills: [...loaded.boms.values()].map((head) => ({
      id: head.id,
      itemId: head.itemId,
      revision: head.revision,
      batch: toText(head.batch),
      ...addedBy(head),
      keeps: toText(ONE.sub(head.byShare)),
    })),
    lines: loaded.lines.map((line) => ({
      parent: Number(line.parent),
      child: Number(line.child),
      per: toText(line.per),
      fixed: toText(line.fixed),
      scrap: toText(line.scrap),
      outputYield: toText(line.outputYield),
      offsetDays: line.offsetDays ?? 0,
      phantom: line.phantom ?? false,
    })),
    breakDowns: loaded.breakDowns.map((recipe) => ({
      bulk: Number(recipe.bulk),
      take: toText(recipe.take),
      outputs: recipe.outputs.map((o) => ({
        item: Number(o.item),
        quantity: toText(o.quantity),
        share: toText(o.share),
      })),
    })),
  }
}

/** Money that making one good stock unit adds: minutes and other cost of a batch over what comes out good of it. */
export function addedBy(
  head: Pick<BomHead, 'batch' | 'outputYield' | 'workMinutes' | 'minutesPerUnit' | 'workRate' | 'otherCost'>,
): { work: string; other: string } {
  const minutes = head.workMinutes.div(head.batch).add(head.minutesPerUnit).div(head.outputYield)
  return {
    work: toText(round9(minutes.div(60).mul(head.workRate))),
    other: toText(round9(head.otherCost.div(head.batch).div(head.outputYield))),
  }
}

async function loadFacts(reader: Reader, ids: readonly number[], today: string): Promise<Facts[]> {
  if (ids.length === 0) {
    return []
  }
  return rows(
    reader,
    sql`
      select
        i.id, i.kit_policy as "kitPolicy", i.making_unit as "makingUnit", i.decimals,
        trim_scale(i.price)::text as price, trim_scale(i.standard_cost)::text as "standardCost",
        coalesce(s.free, 0) as free, coalesce(s.on_hand, 0) as "onHand", coalesce(h.value, 0)::text as value,
        coalesce(h.held, 0) as held
      from ${MEASURED_ITEM} i
      left join (
        select
          b.item_id, sum(b.on_hand) as on_hand,
          sum(b.on_hand - b.allocated) filter (
            where not p.closed_to_picking and (l.expires_on is null or l.expires_on >= ${today})
          ) as free
        from balances b
        join places p on p.id = b.place_id
        left join lots l on l.id = b.lot_id
        where b.status = 'available' and ${anyOf(sql`b.item_id`, ids)}
        group by 1
      ) s on s.item_id = i.id
      left join (
        select item_id, sum(value) as value, sum(quantity) as held
        from holdings
        where quantity > 0 and ${anyOf(sql`item_id`, ids)}
        group by 1
      ) h on h.item_id = i.id
      where ${anyOf(sql`i.id`, ids)}`,
  )
}

/** What suppliers ask, in the company's currency by today's rate; the first rank first. */
async function loadOffers(reader: Reader, items: ReadonlyMap<number, MeasuredItem>): Promise<Map<number, Offer[]>> {
  const ids = [...items.keys()]
  if (ids.length === 0) {
    return new Map()
  }
  const terms = await rows<{
    itemId: number
    supplier: string
    unit: string
    price: string
    minimum: string
    multiple: string
    tiers: Tier[]
    leadDays: number
    rate: string
  }>(
    reader,
    sql`
      select
        t.item_id as "itemId", s.name as supplier, t.unit, t.price, t.minimum, t.multiple, t.tiers,
        t.lead_days as "leadDays",
        coalesce(
          (
            select r.rate
            from exchange_rates r
            where r.currency_id = s.currency_id
            order by r.from_on desc
            limit 1
          ),
          1
        ) as rate
      from supplier_terms t
      join suppliers s on s.id = t.supplier_id
      where ${anyOf(sql`t.item_id`, ids)}
      order by t.item_id, t.rank`,
  )
  const own = terms.flatMap(({ rate, ...term }) => {
    const item = items.get(term.itemId)!
    const holds = convert(item.measure.graph, ONE, term.unit, item.stockUnit)
    const inOwn = (price: string): string => toText(round9(ratio(price).mul(ratio(rate))))
    return holds.ok
      ? [
          {
            itemId: term.itemId,
            offer: {
              supplier: term.supplier,
              unit: term.unit,
              holds: toText(holds.value),
              price: inOwn(term.price),
              minimum: term.minimum,
              multiple: term.multiple,
              tiers: term.tiers.map((tier) => ({ ...tier, price: inOwn(tier.price) })),
              leadDays: term.leadDays,
            },
          },
        ]
      : []
  })
  return new Map([...groupBy(own, (entry) => entry.itemId)].map(([id, list]) => [id, list.map((entry) => entry.offer)]))
}
