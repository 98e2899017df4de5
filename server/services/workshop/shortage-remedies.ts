import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, toText, upwards, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM, PICKABLE } from '~~/server/database/sql'
import type { Remedy } from '~~/shared/workshop/answers'

import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { inUse } from '../structure/edges'
import { loadRecipes } from './break-downs'

interface Supplier {
  readonly supplierId: number
  readonly supplier: string
  readonly days: number
}
const buy = (item: MeasuredItem, quantity: string, { supplierId, supplier, days }: Supplier): Remedy => ({
  kind: 'buy',
  itemId: item.id,
  code: item.code,
  name: item.name,
  quantity,
  supplierId,
  supplier,
  days,
})

export interface ShortLine {
  readonly itemId: number
  readonly forItemId: number | null
  readonly missing: Ratio
}

const FREE = sql`
  coalesce(
    sum(b.on_hand - b.allocated) filter (
      where ${PICKABLE}
        and (t.expires_on is null or t.expires_on >= current.day)
    ),
    0
  )`

/** What lies free of some items, by item and site. */
export async function freeBySite(
  reader: Reader,
  itemIds: readonly number[],
  today: string,
): Promise<Map<number, { siteId: number; site: string; free: Ratio }[]>> {
  if (itemIds.length === 0) {
    return new Map()
  }
  const found = await rows<{ itemId: number; siteId: number; site: string; free: string }>(
    reader,
    sql`
      select b.item_id as "itemId", s.id as "siteId", s.name as site, ${FREE} as free
      from (select ${today}::date as day) current, balances b
      join places p on p.id = b.place_id and p.kind = 'bin'
      join sites s on s.id = p.site_id
      left join lots t on t.id = b.lot_id
      where b.on_hand > 0 and ${anyOf(sql`b.item_id`, itemIds)}
      group by 1, 2, 3
      order by 2`,
  )
  return groupBy(
    found.map((row) => ({ ...row, free: ratio(row.free) })).filter((row) => row.free.compare(ZERO) > 0),
    (row) => row.itemId,
  )
}

/**
 * What can be done about each component that is short, by what is quickest: a substitute by its rank, bulk to be broken down, a build
 * of it, a transfer from another site, an order.
 */
export async function shortageRemedies(
  reader: Reader,
  bomId: number,
  siteId: number,
  short: readonly ShortLine[],
  today: string,
): Promise<Map<number, Remedy[]>> {
  if (short.length === 0) {
    return new Map()
  }
  const ids = short.map((line) => line.itemId)
  const substitutes = groupBy(
    await rows<{
      componentId: number
      itemId: number
      code: string
      name: string
      rank: number
      numerator: string
      denominator: string
      symbol: string
    }>(
      reader,
      sql`
        select distinct
          on (l.item_id, s.item_id) l.item_id as "componentId", s.item_id as "itemId", i.code, i.name, s.rank,
          s.numerator, s.denominator, i.symbol
        from bom_substitutes s
        join bom_lines l on l.bom_id = s.bom_id and l.position = s.position
        join ${MEASURED_ITEM} i on i.id = s.item_id and i.status <> 'retired'
        where s.bom_id = ${bomId}
        order by l.item_id, s.item_id, s.rank`,
    ),
    (row) => row.componentId,
  )
  const recipes = [...(await loadRecipes(reader)).values()]
  const bulk = recipes
    .filter((recipe) => recipe.outputs.some((output) => ids.includes(output.item.id)))
    .map((recipe) => recipe.bulk.id)
  const stock = await freeBySite(
    reader,
    [...new Set([...ids, ...bulk, ...[...substitutes.values()].flat().map((substitute) => substitute.itemId)])],
    today,
  )
  const items = await loadMeasuredItems(reader, ids)
  const made = new Set(
    (
      await rows<{ id: number }>(
        reader,
        sql`select distinct b.item_id as id from boms b where ${anyOf(sql`b.item_id`, ids)} and ${inUse(today)}`,
      )
    ).map((row) => row.id),
  )
  const suppliers = new Map(
    (
      await rows<{ itemId: number; supplierId: number; supplier: string; days: number }>(
        reader,
        sql`
          select distinct
            on (t.item_id) t.item_id as "itemId", s.id as "supplierId", s.name as supplier, t.lead_days as days
          from supplier_terms t
          join suppliers s on s.id = t.supplier_id and not s.retired
          where ${anyOf(sql`t.item_id`, [...ids, ...bulk])}
          order by t.item_id, t.rank, t.id`,
      )
    ).map((row) => [row.itemId, row]),
  )
  const here = (item: number): Ratio => stock.get(item)?.find((piece) => piece.siteId === siteId)?.free ?? ZERO
  return new Map(
    short.map((line) => {
      const remedies: Remedy[] = []
      for (const entry of [...(substitutes.get(line.forItemId ?? line.itemId) ?? [])].sort((a, b) => a.rank - b.rank)) {
        const per = ratio(entry.numerator).div(ratio(entry.denominator))
        const [free, wanted] = [here(entry.itemId), line.missing.mul(per)]
        if (entry.itemId !== line.itemId && free.compare(ZERO) > 0) {
          remedies.push({
            kind: 'substitute',
            itemId: entry.itemId,
            code: entry.code,
            name: entry.name,
            rank: entry.rank,
            per: toText(per),
            free: toText(free),
            symbol: entry.symbol,
            covers: toText(free.compare(wanted) < 0 ? free : wanted),
          })
        }
      }
      for (const recipe of recipes) {
        const output = recipe.outputs.find((output) => output.item.id === line.itemId)
        if (!output) {
          continue
        }
        const times = Number(upwards(line.missing.div(output.quantity)))
        remedies.push({
          kind: 'break down',
          recipeId: recipe.id,
          itemId: recipe.bulk.id,
          code: recipe.bulk.code,
          times,
          take: toText(recipe.take.mul(times)),
          symbol: recipe.bulk.symbol,
          there: here(recipe.bulk.id).compare(recipe.take.mul(times)) >= 0,
        })
      }
      if (made.has(line.itemId)) {
        remedies.push({ kind: 'build', quantity: toText(line.missing) })
      }
      for (const balance of stock.get(line.itemId) ?? []) {
        if (balance.siteId !== siteId) {
          remedies.push({ kind: 'transfer', siteId: balance.siteId, site: balance.site, free: toText(balance.free) })
        }
      }
      const supplier = suppliers.get(line.itemId)
      const item = items.get(line.itemId)!
      if (supplier && item.source === 'bought') {
        remedies.push(buy(item, `${toText(line.missing)} ${item.symbol}`, supplier))
      }
      for (const remedy of remedies.filter((recipe) => recipe.kind === 'break down' && !recipe.there)) {
        if (remedy.kind !== 'break down' || !suppliers.has(remedy.itemId)) {
          continue
        }
        remedies.push(
          buy(
            recipes.find((recipe) => recipe.id === remedy.recipeId)!.bulk,
            `${remedy.take} ${remedy.symbol}`,
            suppliers.get(remedy.itemId)!,
          ),
        )
      }
      return [line.itemId, remedies]
    }),
  )
}
