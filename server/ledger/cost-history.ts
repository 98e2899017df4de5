import { sql, type SQL } from 'drizzle-orm'
import {
  emptyPool,
  type HistoryRequest,
  type Basis,
  type CostMethod,
  type PoolHistory,
  type RecordedJob,
  type RecordedMove,
} from '~~/core/costing'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, notReversed } from '~~/server/database/sql'
import { methodAt, poolKey, poolOf } from './lock-stock'
import { standardUnit } from '../services/stock/standard-cost'

interface Row {
  id: string
  day: string
  posting: number
  line: number
  item: number
  quantity: string
  fromKind: string
  toKind: string
  fromSite: number | null
  toSite: number | null
  documentLine: number | null
  basis: Basis
  wn: string | null
  wd: string | null
  of: string | null
  value: string
  variance: string
  restated: string
  given: string
  job: string
}

const STOCK = ['bin', 'transit']

/**
 * The moves that meet a condition on `m`, `f` and `t`, with what they are worth by now, and what outside gave by order
 * and invoice.
 */
async function loadMoves(reader: Reader, condition: SQL): Promise<RecordedMove[]> {
  const found = await rows<Row>(
    reader,
    sql`
      select
        m.id::text, m.effective_on as day, m.posting_id as posting, m.line, m.item_id as item, m.quantity,
        f.kind as "fromKind", t.kind as "toKind", f.site_id as "fromSite", t.site_id as "toSite",
        m.document_line_id as "documentLine",
        coalesce(o.document_kind || '/' || o.document_id, 'posting/' || o.id) as job, m.basis,
        m.weight_numerator as wn, m.weight_denominator as wd, m.reverses_id::text as of,
        (m.value + coalesce(a.value, 0))::text as value,
        (m.variance + coalesce(a.variance, 0))::text as variance,
        (m.restated + coalesce(a.restated, 0))::text as restated,
        (
          m.value + m.variance + coalesce(
            (
              select sum(l.delta)
              from invoice_lines l
              join supplier_invoices v on v.id = l.invoice_id
              where l.move_id = m.id and v.cancelled_id is null
            ),
            0
          )
        )::text as given
      from moves m
      join postings o on o.id = m.posting_id
      join places f on f.id = m.from_place_id
      join places t on t.id = m.to_place_id
      left join lateral (
        select sum(value) as value, sum(variance) as variance, sum(restated) as restated
        from adjustments
        where move_id = m.id
      ) a on true
      where ${condition}`,
  )
  return found.map((row): RecordedMove => {
    const key = (kind: string, site: number | null): string | null =>
      STOCK.includes(kind) ? poolKey(row.item, site, row.documentLine ?? 0) : null
    return {
      id: row.id,
      day: row.day,
      posting: row.posting,
      line: row.line,
      from: key(row.fromKind, row.fromSite),
      to: key(row.toKind, row.toSite),
      quantity: ratio(row.quantity),
      basis: row.basis,
      stated: BigInt(row.given),
      weight: row.wn === null ? ZERO : ratio(row.wn).div(ratio(row.wd!)),
      of: row.of,
      isPurchasePrice: setsPrice(row.fromKind, row.basis),
      job: [row.fromKind, row.toKind].includes('workshop') ? row.job : null,
      amounts: { value: BigInt(row.value), variance: BigInt(row.variance), restated: BigInt(row.restated) },
    }
  })
}

/** Bought, made and opening goods come at a price of their own. */
export const setsPrice = (fromKind: string, basis: Basis): boolean =>
  basis !== 'back' && ['supplier', 'workshop', 'opening'].includes(fromKind)

/** Answers what working out cost again asks for. `methodOf` lets a method be tried that the item does not have. */
export async function answerAsk(
  reader: Reader,
  ask: HistoryRequest,
  methodOf?: (item: number) => CostMethod | undefined,
): Promise<PoolHistory | RecordedJob> {
  if (ask.kind === 'job') {
    return loadJob(reader, ask.key)
  }
  const { item, site, line } = poolOf(ask.key)
  const here =
    site === 0
      ? sql`'transit' in (f.kind, t.kind) and m.document_line_id = ${line}`
      : sql`((f.kind = 'bin' and f.site_id = ${site}) or (t.kind = 'bin' and t.site_id = ${site}))`
  const moves = await loadMoves(reader, sql`m.item_id = ${item} and ${here}`)
  const [own] = await rows<{ method: CostMethod; standard: string | null }>(
    reader,
    sql`
      select
        costing as method,
        coalesce(
          (select cost from standard_costs s where s.item_id = i.id and s.posting_id is null), standard_cost
        )::text as standard
      from items i
      where id = ${item}`,
  )
  const method = methodAt(site, methodOf?.(item) ?? own!.method)
  const standards =
    method !== 'standard'
      ? []
      : await rows<{ posting: number; day: string; cost: string; gained: string }>(
          reader,
          sql`
            select
              s.posting_id as posting, s.from_on as day, s.cost::text,
              coalesce(
                (
                  select sum(e.amount)
                  from entries e
                  where s.posting_id in (e.posting_id, e.cause_id)
                    and e.account = 'bin'
                    and e.item_id = ${item}
                    and e.site_id = ${site}
                ),
                0
              )::text as gained
            from standard_costs s
            where s.item_id = ${item} and s.posting_id is not null
            order by s.id`,
        )
  return {
    start: emptyPool(method, standardUnit(own!.standard)),
    moves,
    standards: standards.map((s) => ({
      posting: s.posting,
      day: s.day,
      unit: standardUnit(s.cost)!,
      gained: BigInt(s.gained),
    })),
  }
}

/** All that was recorded of a job: a document of the workshop, or a posting without one. */
export async function loadJob(reader: Reader, key: string): Promise<RecordedJob> {
  const [kind, id] = key.split('/')
  const own =
    kind === 'posting' ? sql`o.id = ${Number(id)}` : sql`o.document_kind = ${kind} and o.document_id = ${Number(id)}`
  const moves = await loadMoves(reader, sql`${own} and 'workshop' in (f.kind, t.kind)`)
  const works = await rows<{ posting: number; day: string; work: string }>(
    reader,
    sql`
      select id as posting, effective_on as day, work_value::text as work
      from postings o
      where ${own} and work_value <> 0`,
  )
  const closings = await rows<{ posting: number; day: string; written: string }>(
    reader,
    sql`
      select
        o.id as posting, o.effective_on as day,
        coalesce(
          (
            select -sum(e.amount)
            from entries e
            where o.id in (e.posting_id, e.cause_id) and e.account = 'workshop'
          ),
          0
        )::text as written
      from postings o
      where ${own}
        and o.kind = 'build closed'
        and ${notReversed('o.id')}`,
  )
  return {
    moves,
    works: works.map((work) => ({ ...work, work: BigInt(work.work) })),
    closings: closings.map((closing) => ({ ...closing, written: BigInt(closing.written) })),
  }
}

/** The recorded form of some moves, with invoices as they stand: where working out begins. */
export const loadRecorded = (reader: Reader, moveIds: readonly number[]): Promise<RecordedMove[]> =>
  moveIds.length === 0 ? Promise.resolve([]) : loadMoves(reader, anyOf(sql`m.id`, moveIds))
