import { and, eq, ne, sql, type SQL } from 'drizzle-orm'
import type { z } from 'zod'
import { buildUnitGraph, convert, describeUnitError, parts, ratio } from '~~/core/units'
import { db, rows, type Tx } from '~~/server/database/client'
import { itemRelations, items, supplierTerms } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { unitOf, type ItemEdit, type ItemQuery } from '~~/shared/catalogue'
import type { Paged } from '~~/shared/primitives'
import { noteChange, requireVersion } from '../company/command'
import { loadUnits } from './frames'

export interface ItemRow {
  id: number, code: string, name: string, group: string, status: string, source: string, tracking: string, stockUnit: string, symbol: string, decimals: number
  onHand: string, allocated: string, coming: string, wanted: string, safetyStock: string, value: string
}

const SORTS: Readonly<Record<string, SQL>> = { 'code': sql`i.code`, 'name': sql`i.name, i.code`, 'group': sql`g.name, i.code`, 'onHand': sql`"onHand", i.code`, '-code': sql`i.code desc`, '-onHand': sql`"onHand" desc, i.code` }

/** Items with what is there, set aside, coming and wanted, in the stock unit. */
export async function listItems(query: z.output<typeof ItemQuery>): Promise<Paged<ItemRow>> {
  const like = `%${query.search}%`
  const where = sql`(${query.search} = '' or i.code ilike ${like} or i.name ilike ${like}) and (${query.status} = '' or i.status = ${query.status}) and (${query.source} = '' or i.source = ${query.source})
    and (${query.group ?? null}::int is null or i.group_id = ${query.group ?? null})`
  const [count] = await rows<{ total: number }>(db, sql`select count(*)::int as total from items i where ${where}`)
  const list = await rows<ItemRow>(db, sql`
    select i.id, i.code, i.name, g.name as "group", i.status, i.source, i.tracking, i.stock_unit as "stockUnit", u.symbol, u.decimals, i.safety_stock as "safetyStock",
      coalesce((select sum(on_hand) from balances b where b.item_id = i.id and b.status = 'available'), 0) as "onHand",
      coalesce((select sum(allocated) from balances b where b.item_id = i.id), 0) as allocated,
      coalesce((select sum(greatest(l.quantity - l.received, 0)) from purchase_lines l join purchase_orders o on o.id = l.order_id where l.item_id = i.id and o.status = 'open' and not l.closed_short), 0)
        + coalesce((select sum(quantity) from builds b where b.item_id = i.id and b.status = 'planned'), 0) as coming,
      coalesce((select sum(l.quantity - l.shipped) from sales_lines l join sales_orders o on o.id = l.order_id where l.item_id = i.id and o.status = 'open'), 0) as wanted,
      coalesce((select sum(value) from holdings h where h.item_id = i.id), 0)::text as value
    from items i join item_groups g on g.id = i.group_id join units u on u.code = i.stock_unit where ${where}
    order by ${SORTS[query.sort] ?? SORTS.code!} limit ${query.size} offset ${(query.page - 1) * query.size}`)
  return { rows: list, total: count!.total }
}

/** An item as its page edits it. */
export async function loadItem(id: number) {
  const [item] = await db.select().from(items).where(eq(items.id, id))
  if (!item) throw new Refusal('not-found', 'There is no such item.')
  const relations = await db.select().from(itemRelations).where(eq(itemRelations.itemId, id))
  const [terms] = await db.select().from(supplierTerms).where(eq(supplierTerms.itemId, id)).orderBy(supplierTerms.rank)
  return { ...item, relations, terms: terms ?? null }
}

export async function createItem(tx: Tx, actor: Actor, edit: ItemEdit): Promise<{ id: number }> {
  await check(tx, edit, null)
  const [made] = await tx.insert(items).values(columnsOf(edit)).returning({ id: items.id })
  await saveParts(tx, made!.id, edit)
  await noteChange(tx, actor, 'item', made!.id, null, edit)
  return { id: made!.id }
}

/** Errors: `stale-version`; `invalid-input` beside its field; units and finest step cannot change once stock has moved. */
export async function changeItem(tx: Tx, actor: Actor, id: number, edit: ItemEdit & { version: number }): Promise<{ id: number }> {
  const [before] = await tx.select().from(items).where(eq(items.id, id)).for('update')
  if (!before) throw new Refusal('not-found', 'There is no such item.')
  await requireVersion(tx, 'item', id, edit.version, before.version)
  await check(tx, edit, before)
  await tx.update(items).set({ ...columnsOf(edit), version: before.version + 1 }).where(eq(items.id, id))
  await saveParts(tx, id, edit)
  await noteChange(tx, actor, 'item', id, before, { ...columnsOf(edit), version: before.version + 1 })
  return { id }
}

function columnsOf(edit: ItemEdit): Omit<ItemEdit, 'relations' | 'terms'> {
  const { relations, terms, version, ...columns } = edit as ItemEdit & { version?: number }
  void [relations, terms, version]
  return columns
}

async function check(tx: Tx, edit: ItemEdit, before: { id: number, stockUnit: string, finestStep: string, tracking: string } | null): Promise<void> {
  const fields: Record<string, string> = {}
  const [same] = await tx.select({ id: items.id }).from(items).where(and(eq(items.code, edit.code), before ? ne(items.id, before.id) : undefined))
  if (same) fields.code = `The code ${edit.code} is taken. Choose another.`
  const units = new Map((await loadUnits(tx)).map(row => [row.code, unitOf(row)]))
  const nameOf = (code: string): string => units.get(code)?.name ?? code
  const relations = edit.relations.map(r => ({ unit: r.unit, per: ratio(r.per), of: r.ofUnit }))
  relations.forEach((_, index) => {
    const upTo = buildUnitGraph(units, relations.slice(0, index + 1))
    if (!upTo.ok) fields[`relations.${index}.per`] ??= describeUnitError(upTo.error, nameOf)
  })
  const graph = buildUnitGraph(units, relations)
  if (graph.ok) {
    const wanted: [string, string][] = [['buyingUnit', edit.buyingUnit], ['sellingUnit', edit.sellingUnit], ...edit.terms ? [['terms.unit', edit.terms.unit] as [string, string]] : []]
    for (const [field, unit] of wanted) {
      const path = convert(graph.value, ratio(1), unit, edit.stockUnit)
      if (!path.ok) fields[field] = describeUnitError(path.error, nameOf)
    }
  }
  if (before) {
    const [used] = await rows<{ moved: boolean }>(tx, sql`select exists (select 1 from moves where item_id = ${before.id}) as moved`)
    if (used!.moved && edit.stockUnit !== before.stockUnit) fields.stockUnit = 'Stock of this item has moved, so its stock unit stays. Make a new item in the other unit.'
    if (used!.moved && edit.tracking !== before.tracking) fields.tracking = 'Stock of this item has moved, so its tracking stays as it is.'
    const finer = parts(ratio(before.finestStep).div(ratio(edit.finestStep))).d === 1n
    if (used!.moved && !finer) fields.finestStep = `Stored quantities stand on steps of ${before.finestStep}; only a finer step that divides it can be taken.`
  }
  if (Object.keys(fields).length > 0) throw new Refusal('invalid-input', Object.values(fields)[0]!, fields)
}

async function saveParts(tx: Tx, itemId: number, edit: ItemEdit): Promise<void> {
  await tx.delete(itemRelations).where(eq(itemRelations.itemId, itemId))
  if (edit.relations.length > 0) {
    await tx.insert(itemRelations).values(edit.relations.map((r) => { const { n, d } = parts(ratio(r.per)); return { itemId, unit: r.unit, ofUnit: r.ofUnit, numerator: n.toString(), denominator: d.toString() } }))
  }
  await tx.delete(supplierTerms).where(eq(supplierTerms.itemId, itemId))
  if (edit.terms) await tx.insert(supplierTerms).values({ ...edit.terms, itemId })
}
