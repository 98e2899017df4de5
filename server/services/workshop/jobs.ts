import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows } from '~~/server/database/client'
import {
  anywhere,
  filteredBy,
  freeQuantity,
  MEASURED_ITEM,
  namedColumns,
  onePage,
  sortedBy,
} from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { JobQuery } from '~~/shared/workshop/requests'
import type { JobRow } from '~~/shared/workshop/answers'

const JOB_COLUMNS = namedColumns({
  dueOn: 'day',
  releaseOn: 'day',
  number: 'text',
  code: 'text',
  name: 'text',
  sort: 'text',
  quantity: 'number',
  made: 'number',
  status: 'text',
  forWhat: 'text',
})

/**
 * Builds, kit packings and break-downs, what is started first, then by the day they are due; with what is short of them
 * on their site.
 */
export async function listJobs(query: z.output<typeof JobQuery>): Promise<Paged<JobRow>> {
  const all = sql`
    select
      'build:' || b.id as id, 'build' as kind, b.id as "jobId", b.number, b.item_id as "itemId", i.code, i.name,
      i.source, trim_scale(b.quantity)::text as quantity, trim_scale(b.made)::text as made, i.symbol,
      b.release_on as "releaseOn", b.due_on as "dueOn", b.status, b.site_id as site_id,
      case when i.source = 'kit' then 'kit packing' else 'build' end as sort,
      coalesce(
        (
          select o.number
          from sales_lines l
          join sales_orders o on o.id = l.order_id
          where l.id = b.sales_line_id
        ),
        (select number from builds f where f.id = b.for_build_id)
      ) as "forWhat"
    from builds b
    join ${MEASURED_ITEM} i on i.id = b.item_id
    union all
    select
      'break-down:' || d.id, 'break-down', d.id, d.number, d.item_id, i.code, i.name, i.source,
      trim_scale(d.times * r.take)::text, null, u.symbol, null, d.due_on, d.status, d.site_id, 'break-down',
      null
    from break_downs d
    join items i on i.id = d.item_id
    join recipes r on r.id = d.recipe_id
    join units u on u.code = r.unit`
  let state
  if (query.state === '') {
    state = sql`true`
  } else if (query.state === 'open') {
    state = sql`status in ('draft', 'ready', 'started', 'planned')`
  } else if (query.state === 'draft') {
    state = sql`status in ('draft', 'planned')`
  } else {
    state = sql`status = ${query.state}`
  }
  const where = sql`
    ${state}
      and (${query.kind} = '' or sort = ${query.kind})
      and (
        ${query.search} = ''
          or number ilike ${anywhere(query.search)}
          or code ilike ${anywhere(query.search)}
          or name ilike ${anywhere(query.search)}
      )
      and ${filteredBy(query.filter, JOB_COLUMNS)}`
  const [count] = await rows<{ total: number }>(db, sql`select count(*)::int as total from (${all}) j where ${where}`)
  const order = sortedBy(
    query.sort,
    JOB_COLUMNS,
    sql`(status = 'started') desc, (status in ('draft', 'ready', 'planned')) desc, "dueOn", number`,
  )
  const found = await rows<JobRow>(
    db,
    sql`
      with page as (
        select *, row_number() over (order by ${order}) as place
        from (${all}) j
        where ${where}
        order by ${order}
        ${onePage(query)}
      )
      select
        id, kind, "jobId", number, "itemId", code, name, source, quantity, made, symbol, "releaseOn", "dueOn",
        status, "forWhat",
        (
          select string_agg(c.code, ', ' order by l.position)
          from build_lines l
          join items c on c.id = l.item_id
          where page.kind = 'build'
            and l.build_id = page."jobId"
            and page.status in ('draft', 'started')
            and l.need - l.covered - coalesce((select sum(a.quantity) from allocations a where a.build_line_id = l.id), 0) > ${freeQuantity(sql`l.item_id`, sql`page.site_id`)}
        ) as "shortOf"
      from page
      order by place`,
  )
  return { rows: found, total: count!.total }
}
