import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import type { HappenedSince } from '~~/shared/planning/answers'

/** What a plan is computed on, by the name under which its changes are noted. */
const NOTED = [
  'sales order',
  'purchase order',
  'build',
  'break-down',
  'transfer',
  'forecast',
  'items',
  'bills',
  'break-downs',
  'suppliers',
  'calendars',
]

/** What was written down and posted since a plan was read, by kind: it stands on older figures by so much. */
export async function happenedSince(reader: Reader, readAt: string | null): Promise<readonly HappenedSince[]> {
  if (readAt === null) {
    return []
  }
  return rows<HappenedSince>(
    reader,
    sql`
      select entity as what, count(distinct entity_id)::int as count
      from changes
      where at > ${readAt}::timestamptz
        and entity in (${sql.join(
          NOTED.map((entity) => sql`${entity}`),
          sql`, `,
        )})
      group by entity
      union all
      select kind, count(*)::int from postings where recorded_at > ${readAt}::timestamptz group by kind
      order by 2 desc, 1`,
  )
}
