import { sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anywhere, MEASURED_ITEM, namedColumns, readPage } from '~~/server/database/sql'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Definition } from '~~/shared/catalogue/definitions'
import type { BillList, UseBill } from '~~/shared/structure/requests'
import type { Paged } from '~~/shared/primitives'
import type { BillRow, Revision } from '~~/shared/structure/answers'
import type * as z from 'zod'
import { loadDefinition, saveOne, saveAll, refusalOf, shapeOf } from '../catalogue/definitions'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { loadBills } from './bill-store'
import { inUse, notPast } from './edges'

export const stateOf = (today: string) =>
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
  const { id, version, ...fields } = definition as Definition<'bills'> & { id?: number; version?: number }
  void [id, version]
  return saveOne(tx, actor, shapeOf('bills'), { id: null, version: null, definition: fields })
}

const BILL_COLUMNS = namedColumns({
  code: 'text',
  name: 'text',
  source: 'text',
  state: 'text',
  revision: 'number',
  fromOn: 'day',
  lines: 'number',
  drafts: 'number',
  breakDowns: 'number',
})

/** Items that have a structure or want one: made, kits, and bulk that is broken down. */
export async function listBills(
  reader: Reader,
  query: z.output<typeof BillList>,
  today: string,
): Promise<Paged<BillRow>> {
  const like = anywhere(query.search)
  const found = sql`
    select
      i.id, i.code, i.name, i.source, i.symbol, c.id as "billId", c.revision, c.state, c.from_on as "fromOn",
      coalesce(c.lines, 0) as lines,
      (select count(*)::int from boms d where d.item_id = i.id and d.from_on is null) as drafts,
      w.id as "draftId", w.revision as "draftRevision",
      (select count(*)::int from recipes r where r.item_id = i.id) as "breakDowns"
    from ${MEASURED_ITEM} i
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
  return readPage<BillRow>(reader, query, {
    from: sql`(${found}) f`,
    where: sql`true`,
    columns: BILL_COLUMNS,
    usual: sql`code`,
  })
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

/**
 * Takes one draft into use from a day on; an item that was neither made nor a kit becomes so in the same act.
 *
 * Errors: `not-found`; `stale-version`; `invalid-input` beside the day or the bill's own fields.
 */
export async function useBill(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, fromOn, becomes }: z.output<typeof UseBill>,
): Promise<{ id: number }> {
  const { id: itemId, version: itemVersion, ...item } = await loadDefinition(tx, 'items', await itemOfBill(tx, id))
  if (!isMadeHere(item.source)) {
    const inherited = item.inherited.filter((field) => field !== 'source')
    const definition = { ...item, source: becomes, inherited }
    await saveOne(tx, actor, shapeOf('items'), { id: itemId, version: itemVersion, definition })
  }
  const { id: own, version: seen, ...bill } = await loadDefinition(tx, 'bills', id)
  void [own, seen]
  return saveOne(tx, actor, shapeOf('bills'), { id, version, definition: { ...bill, fromOn } })
}

const isMadeHere = (source: string): boolean => source === 'made' || source === 'kit'

async function itemOfBill(tx: Tx, id: number): Promise<number> {
  const [bill] = await rows<{ itemId: number }>(tx, sql`select item_id as "itemId" from boms where id = ${id}`)
  if (!bill) {
    throw new Refusal('not-found', 'There is no such bill of materials.')
  }
  return bill.itemId
}
