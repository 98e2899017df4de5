import { sql } from 'drizzle-orm'
import { convert } from '~~/core/units/graph'
import { ratio, toText } from '~~/core/units/exact'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Definition } from '~~/shared/catalogue/definitions'
import type { BillState, ReplaceRow } from '~~/shared/structure/answers'
import { saveAll, refusalOf, shapeOf } from '../catalogue/definitions'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { loadBills } from './bill-store'
import { notPast } from './edges'
import { stateOf } from './bills'

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
 * Puts one component in the place of another in many bills at once: drafts are changed, what is in use is revised, and
 * the new revision is used from a day on, or left a draft where none is given.
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
