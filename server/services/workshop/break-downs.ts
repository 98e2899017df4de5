import { sql } from 'drizzle-orm'
import { ratio, toSteps, toText, type Ratio } from '~~/core/units/exact'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import { breakDowns } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { loadMeasuredItems, requireUsable, type MeasuredItem } from '../catalogue/measured-items'
import { loadPostings } from '../../ledger/postings'
import { bindBreakDowns } from '../structure/bind-structure'
import { previewTakes } from './preview-takes'
import { pickableAt } from './allocate-build'
import { saveDocument, lockAsSeen, nextNumber, noteChange } from '../../documents'

export interface BoundRecipe {
  readonly id: number
  readonly onArrival: boolean
  readonly bulk: MeasuredItem
  readonly take: Ratio
  readonly loss: Ratio
  readonly lossWrittenOff: boolean
  readonly outputs: readonly { readonly item: MeasuredItem; readonly quantity: Ratio; readonly share: Ratio }[]
}

/**
 * Ways of breaking down with exact quantities in stock units, by their ids, first ways first; those with a unit that
 * cannot be converted are left out.
 */
export async function loadRecipes(reader: Reader): Promise<Map<number, BoundRecipe>> {
  const concerned = await rows<{ id: number }>(
    reader,
    sql`select item_id as id from recipes union select item_id from recipe_outputs`,
  )
  const items = await loadMeasuredItems(
    reader,
    concerned.map((row) => row.id),
  )
  const itemOf = (item: string): MeasuredItem => items.get(Number(item))!
  return new Map(
    (await bindBreakDowns(reader, items)).map((recipe) => [
      recipe.id,
      {
        ...recipe,
        bulk: itemOf(recipe.bulk),
        outputs: recipe.outputs.map((o) => ({ item: itemOf(o.item), quantity: o.quantity, share: o.share })),
      },
    ]),
  )
}

export const takeOf = (recipe: BoundRecipe, times: Ratio): Ratio =>
  toSteps(recipe.take.mul(times), recipe.bulk.measure.finestStep, 'required').quantity

export const lossOf = (recipe: BoundRecipe, times: Ratio): Ratio =>
  toSteps(recipe.loss.mul(times), recipe.bulk.measure.finestStep, 'recorded').quantity

export const givesOf = (recipe: BoundRecipe, times: Ratio) =>
  recipe.outputs.map((o) => ({
    ...o,
    quantity: toSteps(o.quantity.mul(times), o.item.measure.finestStep, 'recorded').quantity,
  }))

interface NewJob {
  readonly itemId: number
  readonly recipeId?: number | undefined
  readonly times: string | number
  readonly dueOn: string
  readonly siteId?: number | null
  readonly arrivalId?: number
}

export async function createBreakDown(tx: Tx, actor: Actor, edit: NewJob): Promise<{ id: number; number: string }> {
  const recipe = [...(await loadRecipes(tx)).values()].find(
    (recipe) => recipe.bulk.id === edit.itemId && (edit.recipeId === undefined || recipe.id === edit.recipeId),
  )
  if (!recipe) {
    throw new Refusal('invalid-input', 'This item has no break-down recipe. Write one on its page.', {
      itemId: 'This item has no break-down recipe. Write one on its page.',
    })
  }
  requireUsable(recipe.bulk, 'itemId', 'any')
  const [site] = await rows<{ id: number }>(
    tx,
    sql`
      select id
      from sites
      where not retired and (${edit.siteId ?? null}::int is null or id = ${edit.siteId ?? null})
      order by id
      limit 1`,
  )
  if (!site) {
    throw new Refusal('invalid-input', 'Choose a site.', { siteId: 'Choose a site.' })
  }
  const number = await nextNumber(tx, 'BD')
  const [job] = await tx
    .insert(breakDowns)
    .values({
      number,
      recipeId: recipe.id,
      itemId: edit.itemId,
      siteId: site.id,
      times: String(edit.times),
      dueOn: edit.dueOn,
      arrivalId: edit.arrivalId ?? null,
    })
    .returning()
  await noteChange(tx, actor, { kind: 'break-down', id: job!.id }, null, { ...edit, number })
  return { id: job!.id, number }
}

export async function loadBreakDown(id: number, today: string) {
  const [job] = await rows<{
    id: number
    number: string
    itemId: number
    recipeId: number
    siteId: number
    site: string
    code: string
    name: string
    symbol: string
    times: string
    dueOn: string
    status: string
    version: number
  }>(
    db,
    sql`
      select
        b.id, b.number, b.item_id as "itemId", b.recipe_id as "recipeId", b.site_id as "siteId", s.name as site,
        i.code, i.name, i.symbol, b.times, b.due_on as "dueOn", b.status, b.version
      from break_downs b
      join sites s on s.id = b.site_id
      join ${MEASURED_ITEM} i on i.id = b.item_id
      where b.id = ${id}`,
  )
  if (!job) {
    throw new Refusal('not-found', 'There is no such break-down.')
  }
  const recipe = (await loadRecipes(db)).get(job.recipeId)
  if (!recipe) {
    throw new Refusal('not-now', `${job.code} has no recipe that can be worked out. Look at its units.`)
  }
  const held = await rows<{ itemId: number; onHand: string }>(
    db,
    sql`
      select b.item_id as "itemId", sum(b.on_hand) as "onHand"
      from balances b
      join places p on p.id = b.place_id
      where b.status = 'available'
        and p.site_id = ${job.siteId}
        and ${anyOf(
          sql`b.item_id`,
          recipe.outputs.map((o) => o.item.id),
        )}
      group by 1`,
  )
  const times = ratio(job.times)
  const outputs = givesOf(recipe, times).map((o) => {
    const before = held.find((h) => h.itemId === o.item.id)?.onHand ?? '0'
    return {
      itemId: o.item.id,
      code: o.item.code,
      name: o.item.name,
      symbol: o.item.symbol,
      unit: o.item.stockUnit,
      tracking: o.item.tracking,
      quantity: toText(o.quantity),
      before,
      after: toText(ratio(before).add(o.quantity)),
    }
  })
  const stock = (await pickableAt(db, job.siteId, [job.itemId])).get(job.itemId)!
  const take = takeOf(recipe, times)
  return {
    ...job,
    take: toText(take),
    loss: toText(lossOf(recipe, times)),
    lossWrittenOff: recipe.lossWrittenOff,
    outputs,
    postings: await loadPostings('break-down', id),
    components: job.status === 'planned' ? [previewTakes(recipe.bulk, take, stock, today)] : [],
    choices:
      job.status !== 'planned'
        ? []
        : stock
            .filter((goods) => goods.status === 'available' && goods.onHand.compare(goods.allocated) > 0)
            .map((goods) => ({
              balanceId: goods.balanceId,
              bin: goods.binName,
              lot: goods.lotNumber,
              piece: goods.pieceLabel,
              expiresOn: goods.expiresOn,
              free: toText(goods.onHand.sub(goods.allocated)),
            })),
  }
}

export async function cancelBreakDown(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const job = await lockAsSeen(tx, 'break-down', id, version, ['planned'])
  await saveDocument(tx, actor, 'break-down', job, { set: { status: 'cancelled' } })
  return { id }
}
