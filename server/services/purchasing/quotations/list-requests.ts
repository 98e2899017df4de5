import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db } from '~~/server/database/client'
import { anywhere, namedColumns, readPage } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { RequestQuery, RequestRow } from '~~/shared/purchasing/quotations'

const COLUMNS = namedColumns({
  number: 'text',
  askedOn: 'day',
  answerBy: 'day',
  status: 'text',
  suppliers: 'text',
  summary: 'text',
  asked: 'number',
  answered: 'number',
})

/** Requests for quotations, those that are open first, by the day on which answers are wanted. */
export async function listRequests(query: z.output<typeof RequestQuery>): Promise<Paged<RequestRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        r.id, r.number, r.asked_on as "askedOn", r.answer_by as "answerBy", r.status, q.suppliers, q.asked,
        q.answered,
        (
          select string_agg(
            l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
            order by l.line
          )
          from quotation_request_lines l
          join items i on i.id = l.item_id
          where l.request_id = r.id
        ) as summary
      from quotation_requests r
      join lateral (
        select
          string_agg(s.name, ', ' order by s.name) as suppliers, count(*)::int as asked,
          count(q.answered_on)::int as answered
        from quotations q
        join suppliers s on s.id = q.supplier_id
        where q.request_id = r.id
      ) q on true
      where ${query.status} = '' or r.status = ${query.status}
    ) list`
  return readPage<RequestRow>(db, query, {
    from,
    where: sql`(${query.search} = '' or number ilike ${like} or suppliers ilike ${like} or summary ilike ${like})`,
    columns: COLUMNS,
    usual: sql`(status <> 'open'), "answerBy", number`,
  })
}
