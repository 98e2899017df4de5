import { sql } from 'drizzle-orm'
import { type Tx, rows } from '~~/server/database/client'
import { buildLines, builds } from '~~/server/database/schema'
import { ratio, ZERO } from '~~/core/units/exact'

export type Build = typeof builds.$inferSelect

export type BuildLine = typeof buildLines.$inferSelect

/** After something of a build was taken back: what it has used and made is worked out again, and it is open. */
export async function reopenBuild(tx: Tx, id: number): Promise<void> {
  await rows(tx, sql`select settle_build(${id})`)
  const [now] = await rows<{ made: string; used: string; status: string }>(
    tx,
    sql`
      select made, status, coalesce((select sum(used) from build_lines where build_id = ${id}), 0) as used
      from builds
      where id = ${id}`,
  )
  const begun = ratio(now!.made).add(ratio(now!.used)).compare(ZERO) > 0
  await rows(
    tx,
    sql`
      update builds
      set
        status = ${begun ? 'started' : 'draft'}, done_on = null,
        started_on = case when ${begun} then started_on end, version = version + 1
      where id = ${id}`,
  )
}
