import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db } from '~~/server/database/client'
import { anywhere, namedColumns, readPage } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { BlanketQuery, BlanketRow } from '~~/shared/purchasing/blankets'
import { calledOf } from './called'

const COLUMNS = namedColumns({
  number: 'text',
  supplier: 'text',
  fromOn: 'day',
  untilOn: 'day',
  status: 'text',
  summary: 'text',
  calledPercent: 'number',
})

/** Blanket orders, those that end soonest first. */
export async function listBlankets(query: z.output<typeof BlanketQuery>): Promise<Paged<BlanketRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        b.id, b.number, s.name as supplier, b.from_on as "fromOn", b.until_on as "untilOn", b.status, l.summary,
        l.percent as "calledPercent"
      from blanket_orders b
      join suppliers s on s.id = b.supplier_id
      join lateral (
        select
          string_agg(
            l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
            order by l.line
          ) as summary,
          round(avg(least(${calledOf(sql`l.id`)} / l.quantity, 1)) * 100)::int as percent
        from blanket_lines l
        join items i on i.id = l.item_id
        where l.blanket_id = b.id
      ) l on true
      where ${query.status} = '' or b.status = ${query.status}
    ) list`
  return readPage<BlanketRow>(db, query, {
    from,
    where: sql`(${query.search} = '' or number ilike ${like} or supplier ilike ${like} or summary ilike ${like})`,
    columns: COLUMNS,
    usual: sql`(status <> 'open'), "untilOn", number`,
  })
}
