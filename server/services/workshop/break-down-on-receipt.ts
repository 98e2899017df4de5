import { eq, sql } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf, isLive } from '~~/server/database/sql'
import { breakDowns } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import { createBreakDown, loadRecipes } from './break-downs'
import { completeBreakDown } from './complete-break-down'

export interface BrokenDown {
  readonly id: number
  readonly number: string
  readonly code: string
  readonly quantity: string
  readonly symbol: string
  readonly lots: readonly string[]
}

/**
 * Breaks down what came in where its recipe says so, lot by lot, into the same bin: as often as the goods allow. What
 * is left over stays as it came; what is on hold is left alone.
 */
export async function breakDownArrived(tx: Tx, actor: Actor, postingId: number): Promise<BrokenDown[]> {
  const recipes = [...(await loadRecipes(tx)).values()].filter((recipe) => recipe.onArrival)
  if (recipes.length === 0) {
    return []
  }
  const came = await rows<{
    itemId: number
    binId: number
    siteId: number
    balanceId: number
    quantity: string
    free: string
  }>(
    tx,
    sql`
      select
        m.item_id as "itemId", m.to_place_id as "binId", p.site_id as "siteId", b.id as "balanceId",
        sum(m.quantity) as quantity, b.on_hand - b.allocated as free
      from moves m
      join places p on p.id = m.to_place_id
      join balances b on b.item_id = m.item_id
        and b.place_id = m.to_place_id
        and b.lot_id is not distinct from m.lot_id
        and b.piece_id is not distinct from m.piece_id
        and b.status = m.to_status
      where m.posting_id = ${postingId} and m.to_status = 'available'
      group by 1, 2, 3, 4, 6
      order by min(m.line)`,
  )
  const done: BrokenDown[] = []
  for (const goods of came) {
    const recipe = recipes.find((recipe) => recipe.bulk.id === goods.itemId)
    if (!recipe) {
      continue
    }
    const there = ratio(goods.free).compare(ratio(goods.quantity)) < 0 ? ratio(goods.free) : ratio(goods.quantity)
    const whole = there.div(recipe.take)
    const times = whole.n / whole.d
    if (times <= 0n || recipe.take.compare(ZERO) <= 0) {
      continue
    }
    const job = await createBreakDown(tx, actor, {
      itemId: goods.itemId,
      recipeId: recipe.id,
      times: times.toString(),
      dueOn: actor.today,
      siteId: goods.siteId,
      arrivalId: postingId,
    })
    const { lots } = await completeBreakDown(tx, actor, job.id, {
      version: 1,
      binId: goods.binId,
      balanceId: goods.balanceId,
    })
    done.push({
      ...job,
      code: recipe.bulk.code,
      quantity: toText(recipe.take.mul(ratio(times))),
      symbol: recipe.bulk.symbol,
      lots,
    })
  }
  return done
}

/** The acts of what was broken down with a goods receipt, newest first: they are taken back before it. */
export async function arrivedActs(tx: Tx, postingId: number): Promise<number[]> {
  const jobs = await tx.select({ id: breakDowns.id }).from(breakDowns).where(eq(breakDowns.arrivalId, postingId))
  if (jobs.length === 0) {
    return []
  }
  return (
    await rows<{ id: number }>(
      tx,
      sql`
        select id
        from postings o
        where document_kind = 'break-down'
          and ${anyOf(
            sql`document_id`,
            jobs.map((job) => job.id),
          )}
          and ${isLive('o')}
        order by id desc`,
    )
  ).map((row) => row.id)
}
