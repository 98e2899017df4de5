import { eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { apiKeys } from '~~/server/database/schema'
import { noteChange } from '~~/server/documents'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isAllowed, type Right } from '~~/shared/company/rights'
import type { Person } from '~~/shared/company/people'
import type { ApiKeyRow } from '~~/shared/running/answers'
import type { NewKey } from '~~/shared/running/requests'
import { dayIn } from '../company/company'
import { digestOf, makeToken } from '../people/tokens'

/** What a key begins with, so that it is known for one wherever it turns up. */
const BEGINNING = 'tsumiki_'
const SHOWN = BEGINNING.length + 4

export const listKeys = (): Promise<ApiKeyRow[]> =>
  rows<ApiKeyRow>(
    db,
    sql`
      select
        k.id, k.name, k.beginning, k.rights, u.name as who, k.made_at as "madeAt", k.expires_on as "expiresOn",
        k.used_at as "usedAt", k.used_from as "usedFrom", k.ended_at as "endedAt"
      from api_keys k
      join users u on u.id = k.user_id
      order by k.ended_at is not null, k.name, k.id`,
  )

/**
 * Makes a key for a script; it is answered this once. It opens no more than whoever makes it may do, and nothing any
 * more when they leave.
 */
export async function makeKey(tx: Tx, actor: Actor, { name, rights, expiresOn }: NewKey): Promise<{ token: string }> {
  const beyond = rights.filter((right) => !isAllowed(actor, right))
  if (beyond.length > 0) {
    throw new Refusal('missing-right', `You may not do this yourself: ${beyond.join(', ')}.`)
  }
  if (expiresOn !== null && expiresOn < actor.today) {
    const detail = 'That day is over. Choose a later one, or none.'
    throw new Refusal('invalid-input', detail, { expiresOn: detail })
  }
  const token = `${BEGINNING}${makeToken().token}`
  const [made] = await tx
    .insert(apiKeys)
    .values({
      name,
      rights,
      expiresOn,
      digest: digestOf(token),
      beginning: token.slice(0, SHOWN),
      userId: actor.userId,
    })
    .returning({ id: apiKeys.id })
  await noteChange(tx, actor, { kind: 'API key', id: made!.id }, null, { name, rights, expiresOn })
  return { token }
}

/** Ends a key: from then on it opens nothing. Errors: `not-found`. */
export async function endKey(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const [key] = await tx
    .update(apiKeys)
    .set({ endedAt: sql`coalesce(${apiKeys.endedAt}, now())` })
    .where(eq(apiKeys.id, id))
    .returning({ name: apiKeys.name })
  if (!key) {
    throw new Refusal('not-found', 'There is no such key.')
  }
  await noteChange(tx, actor, { kind: 'API key', id }, { name: key.name }, null)
  return { id }
}

/** Who acts by a key: the person who made it, within what the key allows. */
export interface KeyHolder extends Person {
  readonly keyId: number
  readonly limitedTo: readonly Right[]
  readonly today: string
}

/**
 * Whose key this is; null where it was ended, is over, or its person has left. That it is used is noted to the minute.
 */
export async function findKey(token: string, address: string): Promise<KeyHolder | null> {
  const [found] = await rows<
    Omit<KeyHolder, 'today'> & {
      isStale: boolean
      expiresOn: string | null
      fixedDay: string | null
      zone: string | null
    }
  >(
    db,
    sql`
      select
        k.id as "keyId", k.rights as "limitedTo", k.expires_on as "expiresOn",
        coalesce(k.used_at < now() - interval '1 minute', true) as "isStale", u.id, u.name, u.email, u.role, u.rights,
        c.fixed_day as "fixedDay", c.time_zone as zone
      from api_keys k
      join users u on u.id = k.user_id
      cross join company c
      where k.digest = ${digestOf(token)} and k.ended_at is null and u.active`,
  )
  if (!found) {
    return null
  }
  const { isStale, expiresOn, fixedDay, zone, ...holder } = found
  const today = fixedDay ?? dayIn(zone, new Date())
  if (expiresOn !== null && expiresOn < today) {
    return null
  }
  if (isStale) {
    await db
      .update(apiKeys)
      .set({ usedAt: sql`now()`, usedFrom: address })
      .where(eq(apiKeys.id, holder.keyId))
  }
  return { ...holder, today }
}
