import { eq, sql } from 'drizzle-orm'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { breakDowns, lots } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadFrames, requireUsable, type Frame } from '../catalogue/frames'
import { nextNumber, noteChange, requireVersion } from '../company/command'
import { loadActs } from '../stock/acts'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, outside } from '../stock/outside'
import { post, type DraftMove } from '../stock/post'
import { bindBreakDowns } from '../structure/load-structure'
import { previewTakes, takeMoves } from './builds'

interface BoundRecipe { readonly id: number, readonly bulk: Frame, readonly take: Ratio, readonly outputs: readonly { readonly frame: Frame, readonly quantity: Ratio, readonly share: Ratio }[] }

/** Ways of breaking down with exact quantities in stock units, by their ids, first ways first; those with a unit that cannot be converted are left out. */
export async function loadRecipes(reader: Reader): Promise<Map<number, BoundRecipe>> {
  const concerned = await rows<{ id: number }>(reader, sql`select item_id as id from recipes union select item_id from recipe_outputs`)
  const frames = await loadFrames(reader, concerned.map(row => row.id))
  const frameOf = (item: string): Frame => frames.get(Number(item))!
  return new Map((await bindBreakDowns(reader, frames)).map(way => [way.id, { id: way.id, bulk: frameOf(way.bulk), take: way.take, outputs: way.outputs.map(o => ({ frame: frameOf(o.item), quantity: o.quantity, share: o.share })) }]))
}

const takeOf = (recipe: BoundRecipe, times: Ratio) => ({ frame: recipe.bulk, quantity: toSteps(recipe.take.mul(times), recipe.bulk.measure.finestStep, 'required').quantity })
const givesOf = (recipe: BoundRecipe, times: Ratio) => recipe.outputs.map(o => ({ ...o, quantity: toSteps(o.quantity.mul(times), o.frame.measure.finestStep, 'recorded').quantity }))

export async function createBreakDown(tx: Tx, actor: Actor, edit: { itemId: number, recipeId?: number | undefined, times: string, dueOn: string }): Promise<{ id: number, number: string }> {
  const recipe = [...(await loadRecipes(tx)).values()].find(one => one.bulk.id === edit.itemId && (edit.recipeId === undefined || one.id === edit.recipeId))
  if (!recipe) throw new Refusal('invalid-input', 'This item has no break-down recipe. Write one on its page.', { itemId: 'This item has no break-down recipe. Write one on its page.' })
  requireUsable(recipe.bulk, 'itemId', 'any')
  const number = await nextNumber(tx, 'BD')
  const [job] = await tx.insert(breakDowns).values({ number, recipeId: recipe.id, itemId: edit.itemId, times: edit.times, dueOn: edit.dueOn }).returning()
  await noteChange(tx, actor, 'break-down', job!.id, null, { ...edit, number })
  return { id: job!.id, number }
}

export async function loadBreakDown(id: number, today: string) {
  const [job] = await rows<{ id: number, number: string, itemId: number, recipeId: number, code: string, name: string, symbol: string, times: string, dueOn: string, status: string, version: number }>(db, sql`
    select b.id, b.number, b.item_id as "itemId", b.recipe_id as "recipeId", i.code, i.name, u.symbol, b.times, b.due_on as "dueOn", b.status, b.version from break_downs b join items i on i.id = b.item_id join units u on u.code = i.stock_unit where b.id = ${id}`)
  if (!job) throw new Refusal('not-found', 'There is no such break-down.')
  const recipe = (await loadRecipes(db)).get(job.recipeId)
  if (!recipe) throw new Refusal('not-now', `${job.code} has no recipe that can be worked out. Look at its units.`)
  const held = await rows<{ itemId: number, onHand: string }>(db, sql`select item_id as "itemId", sum(on_hand) as "onHand" from balances where status = 'available' group by 1`)
  const outputs = givesOf(recipe, ratio(job.times)).map((o) => {
    const before = held.find(h => h.itemId === o.frame.id)?.onHand ?? '0'
    return { itemId: o.frame.id, code: o.frame.code, name: o.frame.name, symbol: o.frame.symbol, tracking: o.frame.tracking, quantity: toText(o.quantity), before, after: toText(ratio(before).add(o.quantity)) }
  })
  const acts = await loadActs('break-down', id)
  const take = takeOf(recipe, ratio(job.times))
  return { ...job, take: toText(take.quantity), components: job.status === 'planned' ? await previewTakes(db, [take], today) : [], outputs, acts }
}

/** Breaks bulk down: the outputs share its value by their stated shares, and carry its lot number and expiry on. */
export async function completeBreakDown(tx: Tx, actor: Actor, id: number, edit: { version: number, binId: number }): Promise<{ postingId: number, lots: string[] }> {
  const job = await lockPlanned(tx, id, edit.version)
  const recipe = (await loadRecipes(tx)).get(job.recipeId)!
  const times = ratio(job.times)
  const take = takeOf(recipe, times)
  const taken = await takeMoves(tx, [take], actor.today)
  const lotIds = [...new Set(taken.map(m => m.lotId))].filter(lot => lot !== null)
  const sources = lotIds.length === 0 ? [] : await tx.select().from(lots).where(sql`${lots.id} in (${sql.join(lotIds.map(lot => sql`${lot}`), sql`, `)})`)
  const workshop = await outside(tx, 'workshop')
  const to = await bin(tx, edit.binId, 'binId', 'receive')
  const given: DraftMove[] = []
  const carried = new Set<string>()
  for (const output of givesOf(recipe, times)) {
    let left = output.quantity
    for (const [index, source] of taken.entries()) {
      const last = index === taken.length - 1
      const part = last ? left : toSteps(output.quantity.mul(source.quantity).div(take.quantity), output.frame.measure.finestStep, 'recorded').quantity
      left = left.sub(part)
      if (part.compare(ZERO) <= 0) continue
      const from = sources.find(lot => lot.id === source.lotId)
      const number = from?.number ?? job.number
      const lotId = await lotToEnter(tx, output.frame, number, { expiresOn: from?.expiresOn ?? null, receivedOn: from?.receivedOn ?? actor.today, traits: from?.traits ?? {} }, 'lot')
      if (lotId !== null) carried.add(number)
      const pieceId = await pieceToEnter(tx, output.frame, { label: '', lotId, measure: asNumeric(part), traits: from?.traits ?? {} }, 'binId')
      given.push({ itemId: output.frame.id, lotId, pieceId, quantity: part, from: workshop, to, entered: toText(part), unit: output.frame.stockUnit, residue: ZERO, valuation: { kind: 'share', weight: output.share.mul(part).div(output.quantity) } })
    }
  }
  const posted = await post(tx, actor, {
    kind: 'break-down', label: `Break-down ${job.number} of ${toText(take.quantity)} ${recipe.bulk.symbol} ${recipe.bulk.code}`, document: { kind: 'break-down', id }, effectiveOn: actor.today, moves: [...taken, ...given],
  })
  await tx.update(breakDowns).set({ status: 'done', version: job.version + 1 }).where(eq(breakDowns.id, id))
  await noteChange(tx, actor, 'break-down', id, { status: job.status, version: job.version }, { status: 'done', version: job.version + 1 })
  return { postingId: posted.postingId, lots: [...carried] }
}

export async function cancelBreakDown(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const job = await lockPlanned(tx, id, version)
  await tx.update(breakDowns).set({ status: 'cancelled', version: version + 1 }).where(eq(breakDowns.id, id))
  await noteChange(tx, actor, 'break-down', id, { status: job.status, version }, { status: 'cancelled', version: version + 1 })
  return { id }
}

async function lockPlanned(tx: Tx, id: number, version: number) {
  const [job] = await tx.select().from(breakDowns).where(eq(breakDowns.id, id)).for('update')
  if (!job) throw new Refusal('not-found', 'There is no such break-down.')
  await requireVersion(tx, 'break-down', id, version, job.version)
  if (job.status !== 'planned') throw new Refusal('not-now', `${job.number} is ${job.status} already.`)
  return job
}

