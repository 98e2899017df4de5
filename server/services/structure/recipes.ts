import { sql } from 'drizzle-orm'
import { ratio, toText } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { ComesFrom, Recipes } from '~~/shared/structure/answers'
import { exactText } from '../catalogue/definitions/store'
import { breakDownStore } from './break-down-store'

/** The ways in which an item breaks down, and those by which it comes from another. */
export async function recipesOf(reader: Reader, itemId: number): Promise<Recipes> {
  const ids = (
    await rows<{ id: number }>(reader, sql`select id from recipes where item_id = ${itemId} order by rank, id`)
  ).map((row) => row.id)
  const gives = ids.length > 0 ? await breakDownStore.load(reader, ids) : []
  const outputs = [...new Set(gives.flatMap((recipe) => recipe.outputs.map((o) => o.itemId)))]
  const items =
    outputs.length > 0
      ? await rows<{ id: number; code: string; name: string }>(
          reader,
          sql`select id, code, name from items where ${anyOf(sql`id`, outputs)}`,
        )
      : []
  const from = await rows<Omit<ComesFrom, 'gives'> & { numerator: string; denominator: string }>(
    reader,
    sql`
      select
        r.id, r.item_id as "itemId", i.code, i.name, r.take, r.unit, o.numerator, o.denominator,
        o.unit as "givesUnit", r.on_arrival as "onArrival"
      from recipe_outputs o
      join recipes r on r.id = o.recipe_id
      join items i on i.id = r.item_id
      where o.item_id = ${itemId}
      order by r.rank, r.id`,
  )
  return {
    gives: gives.sort((a, b) => a.rank - b.rank),
    items,
    comesFrom: from.map(({ numerator, denominator, ...recipe }): ComesFrom => ({
      ...recipe,
      take: toText(ratio(recipe.take)),
      gives: exactText(numerator, denominator),
    })),
  }
}
