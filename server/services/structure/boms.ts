import { and, eq, sql } from 'drizzle-orm'
import { findLoop } from '~~/core/structure'
import { convert, describeUnitError, parseQuantity, parts, ratio, toText } from '~~/core/units'
import { db, rows, type Tx } from '~~/server/database/client'
import { bomLines, boms, recipeOutputs, recipes } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { BomEdit, RecipeEdit } from '~~/shared/structure'
import type { z } from 'zod'
import { loadFrame, loadFrames, requireUsable, type Frame } from '../catalogue/frames'
import { noteChange, requireVersion } from '../company/command'
import { loadEdges } from './load-structure'

/** The current bill of an item as its page edits it, or null. */
export async function loadBom(itemId: number) {
  const [bom] = await db.select().from(boms).where(and(eq(boms.itemId, itemId), eq(boms.current, true)))
  if (!bom) return null
  const lines = await rows<{ itemId: number, code: string, name: string, numerator: string, denominator: string, unit: string, basis: 'per batch' | 'per build', scrap: string, note: string }>(db, sql`
    select l.item_id as "itemId", i.code, i.name, l.numerator, l.denominator, l.unit, l.basis, l.scrap, l.note from bom_lines l join items i on i.id = l.item_id where l.bom_id = ${bom.id} order by l.position`)
  return { ...bom, lines: lines.map(({ numerator, denominator, ...line }) => ({ ...line, quantity: toText(ratio(numerator).div(ratio(denominator))) })) }
}

/** Writes an item's bill. Errors: `loop` (named, beside its line); `invalid-input`; `stale-version`. */
export async function saveBom(tx: Tx, actor: Actor, itemId: number, edit: BomEdit): Promise<{ id: number }> {
  const parent = await loadFrame(tx, itemId)
  if (parent.source !== 'made' && parent.source !== 'kit') throw new Refusal('invalid-input', `${parent.code} is ${parent.source}. Say on the item that it is made or a kit, then write its bill.`)
  const [before] = await tx.select().from(boms).where(and(eq(boms.itemId, itemId), eq(boms.current, true))).for('update')
  if (before) await requireVersion(tx, 'bill', before.id, edit.version ?? 0, before.version)
  const batch = readAmount(parent, edit.batchSize, edit.batchUnit, 'batchSize')
  const frames = await loadFrames(tx, edit.lines.map(line => line.itemId))
  const lines = edit.lines.map((line, index) => {
    const frame = frames.get(line.itemId)
    if (!frame) throw fieldRefusal(`lines.${index}.itemId`, 'There is no such item.')
    requireUsable(frame, `lines.${index}.itemId`, 'any')
    const { n, d } = parts(readAmount(frame, line.quantity, line.unit, `lines.${index}.quantity`).amount)
    return { position: index + 1, itemId: line.itemId, numerator: n.toString(), denominator: d.toString(), unit: line.unit, basis: line.basis, scrap: toText(ratio(line.scrapPercent).div(100)), note: line.note }
  })
  await refuseLoop(tx, edit.lines.map(line => ({ parent: String(itemId), child: String(line.itemId) })), edge => edge.parent === String(itemId), child => `lines.${edit.lines.findIndex(line => String(line.itemId) === child)}.itemId`)
  const values = {
    itemId, batchSize: toText(batch.amount), batchUnit: edit.batchUnit, outputYield: toText(ratio(edit.yieldPercent).div(100)), workMinutes: edit.workMinutes, workRate: edit.workRate, note: edit.note,
  }
  const [bom] = before
    ? await tx.update(boms).set({ ...values, version: before.version + 1 }).where(eq(boms.id, before.id)).returning()
    : await tx.insert(boms).values(values).returning()
  await tx.delete(bomLines).where(eq(bomLines.bomId, bom!.id))
  await tx.insert(bomLines).values(lines.map(line => ({ ...line, bomId: bom!.id })))
  await noteChange(tx, actor, 'bill', bom!.id, before ?? null, { ...values, version: bom!.version, lines })
  return { id: bom!.id }
}

/** The break-down recipe of a bulk item, or null. */
export async function loadRecipe(itemId: number) {
  const [recipe] = await db.select().from(recipes).where(eq(recipes.itemId, itemId))
  if (!recipe) return null
  const outputs = await rows<{ itemId: number, code: string, name: string, quantity: string, unit: string, share: string }>(db, sql`
    select o.item_id as "itemId", i.code, i.name, o.quantity, o.unit, o.share from recipe_outputs o join items i on i.id = o.item_id where o.recipe_id = ${recipe.id} order by o.id`)
  return { ...recipe, outputs }
}

export async function saveRecipe(tx: Tx, actor: Actor, itemId: number, edit: z.output<typeof RecipeEdit>): Promise<{ id: number }> {
  const bulk = await loadFrame(tx, itemId)
  const [before] = await tx.select().from(recipes).where(eq(recipes.itemId, itemId)).for('update')
  if (before) await requireVersion(tx, 'recipe', before.id, edit.version ?? 0, before.version)
  const take = readAmount(bulk, edit.take, edit.unit, 'take')
  const frames = await loadFrames(tx, edit.outputs.map(o => o.itemId))
  const outputs = edit.outputs.map((output, index) => {
    const frame = frames.get(output.itemId)
    if (!frame) throw fieldRefusal(`outputs.${index}.itemId`, 'There is no such item.')
    if (frame.source !== 'broken down') throw fieldRefusal(`outputs.${index}.itemId`, `${frame.code} is ${frame.source}. Say on the item that it is broken down from another, then choose it here.`)
    return { itemId: output.itemId, quantity: toText(readAmount(frame, output.quantity, output.unit, `outputs.${index}.quantity`).amount), unit: output.unit, share: output.share }
  })
  await refuseLoop(tx, outputs.map(o => ({ parent: String(o.itemId), child: String(itemId) })), edge => edge.child === String(itemId) && outputs.some(o => String(o.itemId) === edge.parent), () => 'outputs.0.itemId')
  const values = { itemId, take: toText(take.amount), unit: edit.unit, note: edit.note }
  const [recipe] = before
    ? await tx.update(recipes).set({ ...values, version: before.version + 1 }).where(eq(recipes.id, before.id)).returning()
    : await tx.insert(recipes).values(values).returning()
  await tx.delete(recipeOutputs).where(eq(recipeOutputs.recipeId, recipe!.id))
  await tx.insert(recipeOutputs).values(outputs.map(o => ({ ...o, recipeId: recipe!.id })))
  await noteChange(tx, actor, 'recipe', recipe!.id, before ?? null, { ...values, version: recipe!.version, outputs })
  return { id: recipe!.id }
}

/** Reads an amount of a structure: exact, in the unit chosen beside it, above zero, convertible to the stock unit. */
function readAmount(frame: Frame, typed: string, unit: string, field: string) {
  const words = (code: string): string => frame.measure.graph.units.get(code)?.name ?? code
  const read = parseQuantity(typed, { graph: frame.measure.graph, unit, loose: frame.stockUnit, decimalSign: frame.decimalSign })
  if (!read.ok) throw fieldRefusal(field, describeUnitError(read.error, words))
  const inUnit = convert(frame.measure.graph, read.value.amount, read.value.unit, unit)
  const inStock = convert(frame.measure.graph, read.value.amount, read.value.unit, frame.stockUnit)
  if (!inUnit.ok) throw fieldRefusal(field, describeUnitError(inUnit.error, words))
  if (!inStock.ok) throw fieldRefusal(field, describeUnitError(inStock.error, words))
  return { amount: inUnit.value }
}

async function refuseLoop(tx: Tx, added: readonly { parent: string, child: string }[], replaced: (edge: { parent: string, child: string }) => boolean, fieldOf: (child: string) => string): Promise<void> {
  const loop = findLoop([...added, ...(await loadEdges(tx)).filter(edge => !replaced(edge))])
  if (!loop) return
  const frames = await loadFrames(tx, loop.map(Number))
  const path = loop.map(id => frames.get(Number(id))!.code).join(' → ')
  const detail = `This would run in a circle: ${path}. An item cannot contain itself.`
  const next = added.find(edge => loop.some((id, at) => id === edge.parent && loop[at + 1] === edge.child))?.child ?? added[0]!.child
  throw new Refusal('loop', detail, { [fieldOf(next)]: detail })
}

const fieldRefusal = (field: string, detail: string): Refusal => new Refusal('invalid-input', detail, { [field]: detail })
