import { sql } from 'drizzle-orm'
import { convert, ratio, toText } from '~~/core/units'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Definition } from '~~/shared/definitions'
import type { BillList } from '~~/shared/structure'
import type { Paged } from '~~/shared/primitives'
import type { BillRow, BillState, ReplaceRow, Revision } from '~~/shared/structure-answers'
import type { z } from 'zod'
import { saveOne, saveAll, refusalOf, shapeOf } from '../catalogue/definitions'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { loadBills } from './bill-store'
import { inUse, notPast } from './edges'

const stateOf = (today: string) =>
  sql`
    case
      when b.from_on is null then 'draft'
      when ${inUse(today)} then 'current'
      when ${notPast(today)} then 'to come'
      else 'past'
    end`

/** The revisions of an item's bill, the latest first. */
export async function revisionsOf(reader: Reader, itemId: number, today: string): Promise<Revision[]> {
  return rows(
    reader,
    sql`
      select
        b.id, b.revision, ${stateOf(today)} as state, b.from_on as "fromOn", b.version,
        (select count(*)::int from bom_lines l where l.bom_id = b.id) as lines, b.note,
        (select count(*)::int from builds d where d.bom_id = b.id) as builds
      from boms b
      where b.item_id = ${itemId}
      order by b.revision desc`,
  )
}

/** The revision that is in use on a day, or null. */
export async function billInUse(reader: Reader, itemId: number, day: string): Promise<number | null> {
  const [found] = await rows<{ id: number }>(
    reader,
    sql`select b.id from boms b where b.item_id = ${itemId} and ${inUse(day)}`,
  )
  return found?.id ?? null
}

/** Begins a draft: a copy of a revision, or an empty bill for one batch of one. */
export async function revise(tx: Tx, actor: Actor, itemId: number, from: number | null): Promise<{ id: number }> {
  const item = await loadMeasuredItem(tx, itemId)
  const [source] = from === null ? [] : await loadBills(tx as Reader, [from])
  if (from !== null && source?.itemId !== itemId) {
    throw new Refusal('not-found', 'There is no such revision of this item.')
  }
  const [unit] = await rows<{ makingUnit: string }>(
    tx,
    sql`select making_unit as "makingUnit" from items where id = ${itemId}`,
  )
  const definition: Definition<'bills'> = source
    ? { ...source, revision: 0, fromOn: null, name: '' }
    : {
        itemId,
        name: '',
        revision: 0,
        fromOn: null,
        batchSize: '1',
        batchUnit: unit?.makingUnit ?? item.stockUnit,
        yieldPercent: '100',
        workMinutes: '0',
        minutesPerUnit: '0',
        workRate: '0',
        otherCost: '0',
        note: '',
        lines: [],
        byProducts: [],
        steps: [],
      }
  const { id, version, ...bare } = definition as Definition<'bills'> & { id?: number; version?: number }
  void [id, version]
  return saveOne(tx, actor, shapeOf('bills'), { id: null, version: null, definition: bare })
}

/** Items that have a structure or want one: made, kits, and bulk that is broken down. */
export async function listBills(
  reader: Reader,
  query: z.output<typeof BillList>,
  today: string,
): Promise<Paged<BillRow>> {
  const like = `%${query.search.replace(/[\\%_]/g, '\\$&')}%`
  const found = sql`
    select
      i.id, i.code, i.name, i.source, u.symbol, c.id as "billId", c.revision, c.state, c.from_on as "fromOn",
      coalesce(c.lines, 0) as lines,
      (select count(*)::int from boms d where d.item_id = i.id and d.from_on is null) as drafts,
      w.id as "draftId", w.revision as "draftRevision",
      (select count(*)::int from recipes r where r.item_id = i.id) as "breakDowns"
    from items i
    join units u on u.code = i.stock_unit
    left join lateral (
      select
        b.id, b.revision, b.from_on, ${stateOf(today)} as state,
        (select count(*)::int from bom_lines l where l.bom_id = b.id) as lines
      from boms b
      where b.item_id = i.id
      order by (${inUse(today)})::int desc, b.from_on desc nulls first, b.revision desc
      limit 1
    ) c on true
    left join lateral (
      select d.id, d.revision
      from boms d
      where d.item_id = i.id and d.from_on is null
      order by d.revision desc
      limit 1
    ) w on true
    where i.status <> 'retired'
      and (
        i.source in ('made', 'kit')
          or c.id is not null
          or exists (select 1 from recipes r where r.item_id = i.id)
      )
      and (${query.search} = '' or i.code ilike ${like} or i.name ilike ${like})
      and (${query.source} = '' or i.source = ${query.source})
      and (
        ${query.state} = ''
          or (${query.state} = 'none' and c.id is null and i.source in ('made', 'kit'))
          or c.state = ${query.state}
          or (
            ${query.state} = 'draft'
              and exists (select 1 from boms d where d.item_id = i.id and d.from_on is null)
          )
      )`
  const [count] = await rows<{ total: number }>(reader, sql`select count(*)::int as total from (${found}) f`)
  return {
    rows: await rows(
      reader,
      sql`select * from (${found}) f order by code limit ${query.size} offset ${(query.page - 1) * query.size}`,
    ),
    total: count!.total,
  }
}

/** Takes many drafts into use from a day on, all or none; a batch that is taken back as a whole. */
export async function useDrafts(
  tx: Tx,
  actor: Actor,
  ids: readonly number[],
  fromOn: string,
): Promise<{ bills: number; batchId: number }> {
  const stored = await loadBills(tx as Reader, ids)
  const names = stored.map((bill) => bill.name)
  const [batch] = await tx
    .insert(batches)
    .values({
      kind: 'set',
      table: 'bills',
      label: `${ids.length} drafts used from ${fromOn}`,
      userId: actor.userId,
      state: 'done',
    })
    .returning({ id: batches.id })
  const saved = await saveAll(
    tx,
    actor,
    shapeOf('bills'),
    stored
      .filter((bill) => bill.fromOn === null)
      .map(({ id, version, ...bill }) => ({ id, version, definition: { ...bill, fromOn } })),
    { batchId: batch!.id },
  )
  if (!saved.ok) {
    throw refusalOf(
      saved.error.map((fault) => ({ ...fault, field: 'bills', detail: `${names[fault.edit]}: ${fault.detail}` })),
    )
  }
  return { bills: saved.value.changed, batchId: batch!.id }
}

/** The bills, in use, to come or drafts, in which a component stands. */
export async function billsWith(
  reader: Reader,
  itemId: number,
  today: string,
): Promise<{ id: number; itemId: number; code: string; name: string; revision: number; state: BillState }[]> {
  return rows(
    reader,
    sql`
      select distinct b.id, b.item_id as "itemId", i.code, i.name, b.revision, ${stateOf(today)} as state
      from bom_lines l
      join boms b on b.id = l.bom_id
      join items i on i.id = b.item_id
      where l.item_id = ${itemId} and i.status <> 'retired' and (b.from_on is null or ${notPast(today)})
      order by i.code, b.revision`,
  )
}

/**
 * Puts one component in the place of another in many bills at once: drafts are changed, what is in use is revised, and the new
 * revision is used from a day on, or left a draft where none is given.
 *
 * `per`: how much of the new one stands for one of the old, in stock units. Units are kept where the new item has them.
 * It is a batch that is taken back as a whole.
 */
export async function replaceComponent(
  tx: Tx,
  actor: Actor,
  edit: { itemId: number; by: number; per: string; bills: readonly number[]; fromOn: string | null },
): Promise<{ bills: number[]; batchId: number }> {
  const item = await loadMeasuredItem(tx, edit.by, 'by')
  const old = await loadMeasuredItem(tx, edit.itemId)
  if (item.status === 'retired') {
    throw new Refusal('invalid-input', `${item.code} is retired.`, {
      by: `${item.code} is retired. Choose another item.`,
    })
  }
  const chosen = (await billsWith(tx as Reader, edit.itemId, actor.today)).filter((bill) =>
    edit.bills.includes(bill.id),
  )
  if (chosen.length === 0) {
    throw new Refusal('invalid-input', 'Choose at least one bill.', { bills: 'Choose at least one bill.' })
  }
  const stored = await loadBills(
    tx as Reader,
    chosen.map((bill) => bill.id),
  )
  const edits = stored.map(({ id, version, ...bill }) => {
    const isDraft = bill.fromOn === null
    const lines = bill.lines.map((line) =>
      line.itemId === edit.itemId
        ? {
            ...line,
            ...swapped(line, old, item, edit.per),
            substitutes: line.substitutes.filter((substitute) => substitute.itemId !== edit.by),
          }
        : line,
    )
    return isDraft
      ? { id, version, definition: { ...bill, lines } }
      : { id: null, version: null, definition: { ...bill, lines, name: '', revision: 0, fromOn: edit.fromOn } }
  })
  const [batch] = await tx
    .insert(batches)
    .values({
      kind: 'set',
      table: 'bills',
      label: `${old.code} replaced by ${item.code}`,
      userId: actor.userId,
      state: 'done',
    })
    .returning({ id: batches.id })
  const saved = await saveAll(tx, actor, shapeOf('bills'), edits, { batchId: batch!.id })
  if (!saved.ok) {
    throw refusalOf(
      saved.error.map((fault) => ({
        ...fault,
        field: 'by',
        detail: `${chosen.find((bill) => bill.id === stored[fault.edit]!.id)!.code}: ${fault.detail}`,
      })),
    )
  }
  return { bills: [...saved.value.ids], batchId: batch!.id }
}

type MeasuredItem = Awaited<ReturnType<typeof loadMeasuredItem>>
function swapped(
  line: Definition<'bills'>['lines'][number],
  old: MeasuredItem,
  by: MeasuredItem,
  per: string,
): { itemId: number; quantity: string; unit: string } {
  // In the same unit where one for one is meant and both know it; else by way of the stock units.
  if (ratio(per).equals(1) && convert(by.measure.graph, ratio(1), line.unit, by.stockUnit).ok) {
    return { itemId: by.id, quantity: line.quantity, unit: line.unit }
  }
  const inStock = convert(old.measure.graph, ratio(line.quantity), line.unit, old.stockUnit)
  return {
    itemId: by.id,
    quantity: toText((inStock.ok ? inStock.value : ratio(line.quantity)).mul(ratio(per))),
    unit: by.stockUnit,
  }
}

/** What replacing would do to each bill, worked out and taken back. */
export async function previewReplace(
  actor: Actor,
  edit: { itemId: number; by: number; per: string; bills: readonly number[] },
): Promise<ReplaceRow[]> {
  class Tried extends Error {
    constructor(readonly rows: ReplaceRow[]) {
      super()
    }
  }
  const there = (await billsWith(db, edit.itemId, actor.today)).filter(
    (bill) => edit.bills.length === 0 || edit.bills.includes(bill.id),
  )
  if (there.length === 0) {
    return []
  }
  try {
    await db.transaction(async (tx) => {
      const before = await loadBills(
        tx as Reader,
        there.map((bill) => bill.id),
      )
      const made = await replaceComponent(tx, actor, { ...edit, bills: there.map((bill) => bill.id), fromOn: null })
      const after = await loadBills(tx as Reader, made.bills)
      const replaced: ReplaceRow[] = []
      for (const [index, bill] of before.entries()) {
        const head = there.find((entry) => entry.id === bill.id)!
        const [was, is] = [
          bill.lines.find((line) => line.itemId === edit.itemId)!,
          after[index]!.lines.find((line) => line.itemId === edit.by)!,
        ]
        replaced.push({
          billId: bill.id,
          itemId: bill.itemId,
          code: head.code,
          name: head.name,
          revision: head.revision,
          state: head.state,
          before: was.quantity,
          unit: was.unit,
          after: is.quantity,
          afterUnit: is.unit,
        })
      }
      throw new Tried(replaced)
    })
  } catch (error) {
    if (error instanceof Tried) {
      return error.rows
    }
    throw error
  }
  return []
}
