import { and, eq, isNull, ne, sql } from 'drizzle-orm'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { sessions } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Person, SessionRow } from '~~/shared/company/people'
import { dayIn } from '../company/company'
import { digestOf, makeToken } from './tokens'

/** Where a request comes from: its network address, and what the browser calls itself. */
export interface Whence {
  readonly address: string
  readonly browser: string
}
export interface Session extends Person {
  readonly sessionId: number
  /** The company's day. */
  readonly today: string
}

/** Begins a session; its token goes to the browser and is kept nowhere else. */
export async function beginSession(tx: Tx, userId: number, from: Whence): Promise<string> {
  const { token, digest } = makeToken()
  await tx.insert(sessions).values({ digest, userId, address: from.address, browser: from.browser.slice(0, 300) })
  return token
}

/**
 * Who is signed in by a token: null where it was ended, was idle for too long, is too old, or its person has left. A
 * session that is used counts as seen, to the minute.
 */
export async function findSession(token: string): Promise<Session | null> {
  const [found] = await rows<
    Omit<Session, 'today'> & { isStale: boolean; fixedDay: string | null; zone: string | null }
  >(
    db,
    sql`
      select
        s.id as "sessionId", s.seen_at < now() - interval '1 minute' as "isStale",
        u.id, u.name, u.email, u.role, u.rights, c.fixed_day as "fixedDay", c.time_zone as zone
      from sessions s
      join users u on u.id = s.user_id
      cross join company c
      where s.digest = ${digestOf(token)} and ${isOpen} and u.active`,
  )
  if (!found) {
    return null
  }
  const { isStale, fixedDay, zone, ...person } = found
  if (isStale) {
    await db
      .update(sessions)
      .set({ seenAt: sql`now()` })
      .where(eq(sessions.id, person.sessionId))
  }
  return { ...person, today: fixedDay ?? dayIn(zone, new Date()) }
}

/** A session `s` of a company `c` that is neither ended nor over. */
const isOpen = sql`
  s.ended_at is null
  and s.seen_at > now() - make_interval(mins => c.session_minutes)
  and s.begun_at > now() - make_interval(days => c.session_days)`

/** The sessions of somebody that are open, the last used first. */
export async function listSessions(reader: Reader, userId: number, thisId: number): Promise<SessionRow[]> {
  return rows<SessionRow>(
    reader,
    sql`
      select
        s.id, s.begun_at as "begunAt", s.seen_at as "seenAt", s.address, s.browser, s.id = ${thisId} as "isThis"
      from sessions s
      cross join company c
      where s.user_id = ${userId} and ${isOpen}
      order by s.seen_at desc, s.id desc`,
  )
}

/** Ends one of somebody's own sessions. Errors: `not-found`, also for another person's. */
export async function endSession(tx: Tx, userId: number, id: number): Promise<void> {
  const ended = await tx
    .update(sessions)
    .set({ endedAt: sql`coalesce(${sessions.endedAt}, now())` })
    .where(and(eq(sessions.id, id), eq(sessions.userId, userId)))
    .returning({ id: sessions.id })
  if (ended.length === 0) {
    throw new Refusal('not-found', 'There is no such session of yours.')
  }
}

/** Ends all sessions of somebody, but for one where it is named. Answers how many. */
export async function endSessions(tx: Tx, userId: number, except?: number): Promise<number> {
  const ended = await tx
    .update(sessions)
    .set({ endedAt: sql`now()` })
    .where(
      and(
        eq(sessions.userId, userId),
        isNull(sessions.endedAt),
        ...(except === undefined ? [] : [ne(sessions.id, except)]),
      ),
    )
    .returning({ id: sessions.id })
  return ended.length
}
