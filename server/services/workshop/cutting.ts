import { eq, sql } from 'drizzle-orm'
import type { CuttingProblem } from '~~/core/cutting'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { TypedQuantity } from '~~/core/units/quantity'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { cuttingJobs } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CuttingAnswer, CuttingEdit, CuttingRow, CutStock, WantedCut } from '~~/shared/workshop/cutting'
import { loadMeasuredItem, readIfGiven, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { loadPostings } from '../../ledger/postings'
import { saveDocument, lockAsSeen, nextNumber, noteChange } from '../../documents'

export type Job = typeof cuttingJobs.$inferSelect

export async function createCutting(
  tx: Tx,
  actor: Actor,
  edit: { itemId: number; siteId: number; dueOn: string; note: string; number?: string },
): Promise<{ id: number; number: string }> {
  const item = await loadMeasuredItem(tx, edit.itemId)
  if (item.tracking !== 'piece' || item.measure.graph.units.get(item.stockUnit)?.dimension !== 'length') {
    const detail =
      item.tracking !== 'piece'
        ? `${item.code} is not kept in pieces, so there is nothing to choose between. Say on its page that it is tracked by piece.`
        : `${item.code} is measured in ${item.symbol}, which is no length. Only lengths are planned here.`
    throw new Refusal('invalid-input', detail, { itemId: detail })
  }
  const number = edit.number ?? (await nextNumber(tx, 'CJ'))
  const [job] = await tx
    .insert(cuttingJobs)
    .values({ ...edit, number })
    .returning()
  await noteChange(tx, actor, { kind: 'cutting job', id: job!.id }, null, { ...edit, number })
  return { id: job!.id, number }
}

export const listCutting = (): Promise<CuttingRow[]> =>
  rows<CuttingRow>(
    db,
    sql`
      select
        c.id, c.number, c.item_id as "itemId", i.code, i.name, c.due_on as "dueOn", c.status,
        coalesce((select sum((w->>'count')::int)::int from jsonb_array_elements(c.wanted) w), 0) as lengths,
        coalesce(
          (
            select string_agg(distinct w->>'job', ', ')
            from jsonb_array_elements(c.wanted) w
            where w->>'job' <> ''
          ),
          ''
        ) as jobs
      from cutting_jobs c
      join items i on i.id = c.item_id
      order by c.status <> 'draft', c.due_on, c.number
      limit 500`,
  )

/** The pieces of an item that lie free at a site, the shortest first. */
export async function stockOf(reader: Reader, itemId: number, siteId: number): Promise<CutStock[]> {
  return rows<CutStock>(
    reader,
    sql`
      select
        c.id as "pieceId", c.label, c.lot_id as "lotId", l.number as lot,
        coalesce(l.traits, '{}') || c.traits as traits, p.id as "binId", p.name as bin,
        trim_scale(b.on_hand - b.allocated)::text as free
      from balances b
      join pieces c on c.id = b.piece_id
      join places p on p.id = b.place_id and p.kind = 'bin' and not p.closed_to_picking
      left join lots l on l.id = c.lot_id
      where b.item_id = ${itemId}
        and p.site_id = ${siteId}
        and b.status = 'available'
        and b.on_hand > b.allocated
      order by b.on_hand - b.allocated, c.label`,
  )
}

/** A job and the pieces that it may be cut from. */
export async function loadCuttingIn(reader: Reader, id: number): Promise<{ job: Job; stock: CutStock[] }> {
  const [job] = await reader.select().from(cuttingJobs).where(eq(cuttingJobs.id, id))
  if (!job) {
    throw new Refusal('not-found', 'There is no such cutting job.')
  }
  return { job, stock: job.status === 'draft' ? await stockOf(reader, job.itemId, job.siteId) : [] }
}

export async function loadCutting(id: number): Promise<CuttingAnswer> {
  const { job, stock } = await loadCuttingIn(db, id)
  const item = await loadMeasuredItem(db, job.itemId)
  const [site] = await rows<{ name: string }>(db, sql`select name from sites where id = ${job.siteId}`)
  const made = await rows<CuttingAnswer['made'][number]>(
    db,
    sql`
      select
        c.id as "pieceId", c.label, trim_scale(m.quantity)::text as quantity, c.note, l.number as lot,
        coalesce(f.label, '') as "from"
      from postings o
      join moves m on m.posting_id = o.id
      join places w on w.id = m.from_place_id and w.kind = 'workshop'
      join pieces c on c.id = m.piece_id
      left join pieces f on f.id = c.parent_id
      left join lots l on l.id = c.lot_id
      where o.document_kind = 'cutting job'
        and o.document_id = ${id}
        and ${isLive('o')}
      order by m.id`,
  )
  return {
    ...job,
    code: item.code,
    name: item.name,
    site: site!.name,
    unit: item.stockUnit,
    symbol: item.symbol,
    decimals: 4,
    finestStep: item.finestStep,
    kerf: toText(ratio(job.kerf)),
    keep: toText(ratio(job.keep)),
    stock,
    postings: await loadPostings('cutting job', id),
    made,
  }
}

/** Keeps what is wanted and how it is to be cut; a proposal that does not fit what is wanted any more is left out. */
export async function editCutting(tx: Tx, actor: Actor, id: number, edit: CuttingEdit): Promise<{ version: number }> {
  const job = await lockAsSeen(tx, 'cutting job', id, edit.version, ['draft'])
  const item = await loadMeasuredItem(tx, job.itemId)
  const measure = (typed: TypedQuantity, unit: string, field: string): string =>
    toText(readIfGiven(item, typed, unit, field)?.quantity ?? ZERO)
  const wanted = edit.wanted.map((cut, index): WantedCut => ({
    job: cut.job,
    entered: cut.quantity,
    unit: cut.unit,
    count: cut.count,
    quantity: measureOne(item, cut, index),
  }))
  const now = {
    dueOn: edit.dueOn,
    note: edit.note,
    kerf: measure(edit.kerf, edit.kerfUnit, 'kerf'),
    keep: measure(edit.keep, edit.keepUnit, 'keep'),
    oneLot: edit.oneLot,
    wanted,
    plan: edit.plan,
  }
  return saveDocument(tx, actor, 'cutting job', job, { set: now })
}

function measureOne(item: MeasuredItem, entry: CuttingEdit['wanted'][number], index: number): string {
  if (entry.quantity.trim() === '') {
    throw new Refusal('invalid-input', 'Give a length.', { [`wanted.${index}.quantity`]: 'Give a length.' })
  }
  return toText(readQuantity(item, entry.quantity, entry.unit, `wanted.${index}.quantity`).quantity)
}

/** The job in whole finest steps, as core has it. */
export function problemOf(job: Job, item: MeasuredItem, stock: readonly CutStock[]): CuttingProblem {
  const steps = (text: string): number => Number(toText(ratio(text).div(item.measure.finestStep)))
  return {
    wanted: job.wanted.map((cut, index) => ({
      id: String(index),
      length: steps(cut.quantity),
      count: cut.count,
      job: cut.job,
    })),
    stock: stock.map((piece) => ({ id: String(piece.pieceId), length: steps(piece.free), lot: piece.lot })),
    kerf: steps(job.kerf),
    keep: steps(job.keep) === 0 ? Infinity : steps(job.keep),
    oneLotPerJob: job.oneLot,
  }
}

export async function cancelCutting(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const job = await lockAsSeen(tx, 'cutting job', id, version, ['draft'])
  return saveDocument(tx, actor, 'cutting job', job, { set: { status: 'cancelled' } })
}
