import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, toText, upwards, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM, PICKABLE } from '~~/server/database/sql'
import type { Remedy } from '~~/shared/workshop/answers'

import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { inUse } from '../structure/edges'
import { standIns } from './stand-ins'
import { loadRecipes, type BoundRecipe } from './break-downs'

interface Substitute {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly rank: number
  readonly numerator: string
  readonly denominator: string
  readonly symbol: string
}
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
 * What can be done about each component that is short, by what is quickest: a substitute by its rank, bulk to be broken
 * down, a build of it, a transfer from another site, an order.
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
    await rows<Substitute & { readonly componentId: number }>(
      reader,
      sql`
        select distinct
          on (s.component_id, s.item_id) s.component_id as "componentId", s.item_id as "itemId", i.code, i.name,
          s.rank, s.numerator, s.denominator, i.symbol
        from ${standIns(bomId)} s
        join ${MEASURED_ITEM} i on i.id = s.item_id and i.status <> 'retired' and i.kind = 'stocked'
        where ${anyOf(
          sql`s.component_id`,
          short.flatMap((line) => [line.itemId, line.forItemId ?? line.itemId]),
        )}
        order by s.component_id, s.item_id, s.rank`,
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
  const around: Around = { siteId, substitutes, recipes, stock, items, made, suppliers }
  return new Map(short.map((line) => [line.itemId, remediesFor(line, around)]))
}

interface Around {
  readonly siteId: number
  readonly substitutes: ReadonlyMap<number, readonly Substitute[]>
  readonly recipes: readonly BoundRecipe[]
  readonly stock: Awaited<ReturnType<typeof freeBySite>>
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly made: ReadonlySet<number>
  readonly suppliers: ReadonlyMap<number, Supplier>
}

function remediesFor(line: ShortLine, around: Around): Remedy[] {
  const { siteId, stock, items, made, suppliers } = around
  const item = items.get(line.itemId)!
  const supplier = item.source === 'bought' ? suppliers.get(line.itemId) : undefined
  const breakDowns = breakDownsFor(line, around)
  return [
    ...substitutesFor(line, around),
    ...breakDowns.map(({ remedy }) => remedy),
    ...(made.has(line.itemId) ? [{ kind: 'build' as const, quantity: toText(line.missing) }] : []),
    ...(stock.get(line.itemId) ?? [])
      .filter((balance) => balance.siteId !== siteId)
      .map((balance): Remedy => ({
        kind: 'transfer',
        siteId: balance.siteId,
        site: balance.site,
        free: toText(balance.free),
      })),
    ...(supplier ? [buy(item, `${toText(line.missing)} ${item.symbol}`, supplier)] : []),
    // What is broken down is bought where it is not there.
    ...breakDowns.flatMap(({ recipe, remedy }) => {
      const bulkSupplier = remedy.there ? undefined : suppliers.get(remedy.itemId)
      return bulkSupplier ? [buy(recipe.bulk, `${remedy.take} ${remedy.symbol}`, bulkSupplier)] : []
    }),
  ]
}

const freeHere = ({ stock, siteId }: Around, itemId: number): Ratio =>
  stock.get(itemId)?.find((balance) => balance.siteId === siteId)?.free ?? ZERO

function substitutesFor(line: ShortLine, around: Around): Remedy[] {
  const offered = around.substitutes.get(line.forItemId ?? line.itemId) ?? []
  return [...offered]
    .sort((a, b) => a.rank - b.rank)
    .flatMap((substitute): Remedy[] => {
      const per = ratio(substitute.numerator).div(ratio(substitute.denominator))
      const [free, wanted] = [freeHere(around, substitute.itemId), line.missing.mul(per)]
      if (substitute.itemId === line.itemId || free.compare(ZERO) <= 0) {
        return []
      }
      const { itemId, code, name, rank, symbol } = substitute
      const covers = toText(free.compare(wanted) < 0 ? free : wanted)
      return [{ kind: 'substitute', itemId, code, name, rank, per: toText(per), free: toText(free), symbol, covers }]
    })
}

function breakDownsFor(
  line: ShortLine,
  around: Around,
): { recipe: BoundRecipe; remedy: Extract<Remedy, { kind: 'break down' }> }[] {
  return around.recipes.flatMap((recipe) => {
    const output = recipe.outputs.find((candidate) => candidate.item.id === line.itemId)
    if (!output) {
      return []
    }
    const times = Number(upwards(line.missing.div(output.quantity)))
    const take = recipe.take.mul(times)
    const remedy = {
      kind: 'break down' as const,
      recipeId: recipe.id,
      itemId: recipe.bulk.id,
      code: recipe.bulk.code,
      times,
      take: toText(take),
      symbol: recipe.bulk.symbol,
      there: freeHere(around, recipe.bulk.id).compare(take) >= 0,
    }
    return [{ recipe, remedy }]
  })
}
