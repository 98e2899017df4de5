import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

export interface PostingRow {
  id: number
  label: string
  effectiveOn: string
  who: string
  reversed: boolean
  reversal: boolean
  /** Invoices are taken back where they stand, what left directly where it came in; all else by a counter-entry. */
  isReversible: boolean
  value: string
  work: string
}

/**
 * What was recorded for a document, newest first. `value` is what entered the stock, `work` what work added, in minor
 * units.
 */
export const loadPostings = (
  kind:
    | 'inspection'
    | 'purchase order'
    | 'sales order'
    | 'build'
    | 'break-down'
    | 'transfer'
    | 'stock count'
    | 'cutting job',
  id: number,
): Promise<PostingRow[]> =>
  rows<PostingRow>(
    db,
    sql`
      select
        o.id, o.label, o.effective_on as "effectiveOn", w.name as who,
        exists (select 1 from postings r where r.reverses_id = o.id) as reversed,
        o.reverses_id is not null as reversal,
        o.kind not in ('supplier invoice', 'direct shipment') as "isReversible", o.work_value::text as work,
        (
          select coalesce(sum(m.value), 0)::text
          from moves m
          join places p on p.id = m.to_place_id
          where m.posting_id = o.id and p.kind = 'bin'
        ) as value
      from postings o
      join users w on w.id = o.user_id
      where o.document_kind = ${kind} and o.document_id = ${id}
      order by o.id desc`,
  )
