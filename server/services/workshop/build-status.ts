import { eq, sql } from 'drizzle-orm'
import { type Tx, rows } from '~~/server/database/client'
import { buildLines, builds } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { noteChange, requireVersion } from '../company/command'
import { ratio, ZERO } from '~~/core/units/exact'

export type Build = typeof builds.$inferSelect

export type BuildLine = typeof buildLines.$inferSelect

export async function saveBuildStatus(
  tx: Tx,
  actor: Actor,
  build: Build,
  now: Partial<Pick<Build, 'status' | 'startedOn' | 'doneOn'>>,
): Promise<{ version: number }> {
  const version = build.version + 1
  await tx
    .update(builds)
    .set({ ...now, version })
    .where(eq(builds.id, build.id))
  await noteChange(tx, actor, 'build', build.id, { status: build.status, version: build.version }, { ...now, version })
  return { version }
}

/** Locks a build in one of the states; a refusal says which it is in. */
export async function lockBuild(tx: Tx, id: number, version: number, states: readonly string[]): Promise<Build> {
  const [build] = await tx.select().from(builds).where(eq(builds.id, id)).for('update')
  if (!build) {
    throw new Refusal('not-found', 'There is no such build.')
  }
  await requireVersion(tx, 'build', id, version, build.version)
  if (!states.includes(build.status)) {
    throw new Refusal('not-now', `${build.number} is ${build.status} already.`)
  }
  return build
}

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
