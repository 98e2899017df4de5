import { sql } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { anywhere, namedColumns, readPage } from '~~/server/database/sql'
import type { AuditRow } from '~~/shared/company/answers'
import type * as z from 'zod'
import type { Page, Paged } from '~~/shared/primitives'
import { describeChange, loadNames } from '../catalogue/describe-change'

type Fields = Readonly<Record<string, unknown>>
interface Noted extends Omit<AuditRow, 'said'> {
  readonly before: Fields | null
  readonly after: Fields | null
}
const COLUMNS = namedColumns({ at: 'day', who: 'text', entity: 'text', label: 'text', address: 'text' })

/** Everything that was changed, and every sign-in, the latest first: who, when, from where, before and after. */
export async function listAudit(query: z.output<typeof Page>): Promise<Paged<AuditRow>> {
  const from = sql`
    (
      select
        c.id, c.at, coalesce(u.name, '') || coalesce(', by the key ' || k.name, '') as who, c.entity, c.entity_id as "entityId",
        coalesce(nullif(c.label, ''), c.entity_id) as label, coalesce(c.address, '') as address, c.before, c.after
      from changes c
      left join users u on u.id = c.user_id
      left join api_keys k on k.id = c.key_id
    ) as noted`
  const text = sql`who || ' ' || entity || ' ' || label || ' ' || address || ' ' || coalesce(after->>'event', '')`
  const where = query.search === '' ? sql`true` : sql`${text} ilike ${anywhere(query.search)}`
  const { rows, total } = await readPage<Noted>(db, query, { from, where, columns: COLUMNS, usual: sql`id desc` })
  const names = await loadNames(db, rows)
  return {
    total,
    rows: rows.map(({ before, after, ...row }) => ({ ...row, said: inWords(before, after, names) })),
  }
}

/** What happened, in one line. */
function inWords(before: Fields | null, after: Fields | null, names: Awaited<ReturnType<typeof loadNames>>): string {
  if (typeof after?.event === 'string') {
    const { event, ...more } = after
    const told = Object.entries(more).map(([field, value]) => `${field} ${String(value)}`)
    return [event, ...told].join(', ')
  }
  if (before === null) {
    return 'made'
  }
  if (after === null) {
    return 'taken away'
  }
  return describeChange({ before, after }, names)
    .map((change) => `${change.field}: ${change.before} → ${change.after}`)
    .join('; ')
}
