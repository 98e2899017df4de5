import { sql, type SQL } from 'drizzle-orm'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { loadRecipes, type BoundRecipe } from '../workshop/break-downs'
import { loadPlannedSites, type PlannedSites } from './planned-sites'

/** What has been written down for an item at a site since a moment, in its stock unit, and by which document. */
interface Ordered {
  readonly itemId: number
  readonly siteId: number | null
  readonly number: string
  readonly quantity: string
}

/**
 * Documents that bring something and were written since a moment, by whomever; what was cancelled does not count, what
 * came already does.
 */
async function loadOrdered(reader: Reader, since: string): Promise<readonly Ordered[]> {
  const written = sql`
    (
      select entity, entity_id::int as id
      from changes
      where at > ${since}::timestamptz
        and before is null
        and entity in ('purchase order', 'build', 'break-down', 'transfer')
    )`
  const found = await rows<Ordered>(
    reader,
    sql`
      with written as ${written}
      select l.item_id as "itemId", o.site_id as "siteId", o.number, sum(l.quantity)::text as quantity
      from written w
      join purchase_orders o on w.entity = 'purchase order' and o.id = w.id and o.status <> 'cancelled'
      join purchase_lines l on l.order_id = o.id
      group by 1, 2, 3
      union all
      select b.item_id, b.site_id, b.number, b.quantity::text
      from written w
      join builds b on w.entity = 'build' and b.id = w.id and b.status <> 'cancelled' and b.sales_line_id is null
      union all
      select l.item_id, t.to_site_id, t.number, sum(l.quantity)::text
      from written w
      join transfers t on w.entity = 'transfer' and t.id = w.id and t.status <> 'cancelled'
      join transfer_lines l on l.transfer_id = t.id
      group by 1, 2, 3`,
  )
  return [...found, ...(await loadBrokenDown(reader, written))]
}

/** What break-downs bring, by their recipes. */
async function loadBrokenDown(reader: Reader, written: SQL): Promise<readonly Ordered[]> {
  const found = await rows<{ recipeId: number; siteId: number; number: string; times: string }>(
    reader,
    sql`
      select b.recipe_id as "recipeId", b.site_id as "siteId", b.number, b.times
      from ${written} w
      join break_downs b on w.entity = 'break-down' and b.id = w.id and b.status <> 'cancelled'`,
  )
  const recipes = found.length > 0 ? await loadRecipes(reader) : new Map<number, BoundRecipe>()
  return found.flatMap(({ recipeId, siteId, number, times }) =>
    (recipes.get(recipeId)?.outputs ?? []).map((output) => ({
      itemId: output.item.id,
      siteId,
      number,
      quantity: toText(output.quantity.mul(ratio(times))),
    })),
  )
}

/** A line that offers to order something. Quantity in the stock unit. */
interface Offer {
  readonly itemId: number
  readonly siteId: number | null
  readonly quantity: string
}

/** What is left of an offer once what was ordered since is taken off, and on which documents that was. */
export interface Left<T> {
  readonly offer: T
  readonly left: Ratio
  readonly by: readonly string[]
}

/**
 * Takes off offers what was ordered since they were worked out, in their order, so that nothing is bought twice.
 *
 * Sites that share their stock count as one, as in a plan. Quantities in the stock unit.
 */
export async function lessOrdered<T extends Offer>(
  reader: Reader,
  since: string | null,
  offers: readonly T[],
): Promise<readonly Left<T>[]> {
  const ordered = since === null || offers.length === 0 ? [] : await loadOrdered(reader, since)
  if (ordered.length === 0) {
    return offers.map((offer) => ({ offer, left: ratio(offer.quantity), by: [] }))
  }
  const places = await loadPlannedSites(reader, { sites: [], sitesAsOne: false })
  return takeOff(offers, ordered, places)
}

function takeOff<T extends Offer>(
  offers: readonly T[],
  ordered: readonly Ordered[],
  places: PlannedSites,
): readonly Left<T>[] {
  const nodeOf = ({ itemId, siteId }: Pick<Offer, 'itemId' | 'siteId'>): string =>
    places.nodeAt(itemId, siteId) ?? `${itemId} elsewhere`
  const there = ordered.map((entry) => ({ node: nodeOf(entry), number: entry.number, open: ratio(entry.quantity) }))
  return offers.map((offer) => {
    const node = nodeOf(offer)
    let left = ratio(offer.quantity)
    const by: string[] = []
    for (const entry of there.filter((candidate) => candidate.node === node)) {
      const taken = entry.open.compare(left) < 0 ? entry.open : left
      if (taken.compare(ZERO) > 0) {
        entry.open = entry.open.sub(taken)
        left = left.sub(taken)
        by.push(entry.number)
      }
    }
    return { offer, left, by }
  })
}

/** The offers of which something is left, at what is left. */
export const stillOffered = <T extends Offer>(found: readonly Left<T>[]): readonly T[] =>
  found.flatMap(({ offer, left, by }) => {
    if (by.length === 0) {
      return [offer]
    }
    return left.compare(ZERO) > 0 ? [{ ...offer, quantity: toText(left) }] : []
  })
