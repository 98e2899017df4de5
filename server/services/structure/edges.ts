import { sql, type SQL } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'

/**
 * Whether the revision `b` is in use on a day, or will be: a draft is neither, and what has been followed by another is
 * past.
 */
export const notPast = (today: string): SQL =>
  sql`
    b.from_on is not null
      and not exists (
        select 1
        from boms n
        where n.item_id = b.item_id
          and n.from_on <= ${today}
          and (n.from_on, n.revision) > (b.from_on, b.revision)
      )`
/** Whether the revision `b` is the one in use on a day. */
export const inUse = (today: string): SQL => sql`b.from_on <= ${today} and ${notPast(today)}`

interface Edge {
  readonly parent: string
  readonly child: string
}

/**
 * Who is made from whom at and below some items, break-downs included: what a loop is looked for in. Drafts do not
 * count.
 */
export async function loadEdges(
  reader: Reader,
  today: string,
  {
    below,
    besides = [],
    recipesBesides = [],
  }: { below: readonly number[]; besides?: readonly number[]; recipesBesides?: readonly number[] },
): Promise<Edge[]> {
  if (below.length === 0) {
    return []
  }
  const isAmong = (column: SQL, ids: readonly number[]): SQL =>
    ids.length > 0 ? sql`not (${anyOf(column, ids)})` : sql`true`
  const down = sql`
    (
      select l.item_id as child
      from boms b
      join bom_lines l on l.bom_id = b.id
      where b.item_id = r.id and ${notPast(today)} and ${isAmong(sql`b.id`, besides)}
      union all
      select rc.item_id
      from recipe_outputs o
      join recipes rc on rc.id = o.recipe_id
      where o.item_id = r.id and ${isAmong(sql`rc.id`, recipesBesides)}
    )`
  return rows(
    reader,
    sql`
      with recursive reach as (
        select unnest(${sql.param(below)}::int[]) as id
        union
        select e.child
        from reach r
        cross join lateral ${down} e
      )
      select r.id::text as parent, e.child::text as child
      from reach r
      cross join lateral ${down} e`,
  )
}
