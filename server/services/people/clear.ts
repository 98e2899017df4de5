import { sql } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { hookCalls, passwordLinks, sessions, tries } from '~~/server/database/schema'

/** Sessions and links that are over, and calls of web hooks that were taken, are kept so many days, for whoever looks into something. */
const KEPT_DAYS = 90

/** Clears away what opens nothing any more. The audit list keeps what happened. */
export async function clearOld(): Promise<void> {
  const before = sql`now() - make_interval(days => ${KEPT_DAYS})`
  await db
    .delete(sessions)
    .where(sql`${sessions.seenAt} < ${before} and ${sessions.begunAt} < now() - interval '1 year'`)
  await db.delete(sessions).where(sql`${sessions.endedAt} < ${before}`)
  await db.delete(passwordLinks).where(sql`${passwordLinks.expiresAt} < ${before}`)
  await db.delete(hookCalls).where(sql`${hookCalls.state} = 'delivered' and ${hookCalls.at} < ${before}`)
  await db.delete(tries).where(sql`${tries.expire} < extract(epoch from now()) * 1000`)
}
