import { eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { users } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Invitation, PersonEdit, PersonRow } from '~~/shared/company/people'
import { may, type Role } from '~~/shared/company/rights'
import { noteEvent } from './noted'
import { sendLink } from './password-links'
import { removeFactor } from './second-factor'
import { endSessions, type Session } from './sessions'

/** Everybody who may sign in, or once could. */
export const listPeople = (): Promise<PersonRow[]> =>
  rows<PersonRow>(
    db,
    sql`
      select
        u.id, u.name, u.email, u.role, u.rights, u.active, u.version, u.password_hash is not null as "hasPassword",
        u.factor_is_on as "hasFactor",
        (select max(s.seen_at) from sessions s where s.user_id = u.id) as "seenAt",
        (
          select max(l.expires_at)
          from password_links l
          where l.user_id = u.id and l.used_at is null and l.expires_at > now()
        ) as "linkUntil"
      from users u
      order by u.active desc, u.name, u.id`,
  )

/** Where an act about people came from, and where the links of its letters lead. */
export interface Asking {
  readonly by: Session
  readonly address: string
  readonly origin: string
}

/** Invites somebody: they choose their password by a link, which is sent and also answered, to be handed over. */
export async function invite(
  tx: Tx,
  { by, address, origin }: Asking,
  { name, email, role }: Invitation,
): Promise<{ id: number; link: string }> {
  const [made] = await tx
    .insert(users)
    .values({ name, email: email.toLowerCase(), role })
    .onConflictDoNothing()
    .returning()
  if (!made) {
    throw new Refusal('taken', `${email} has a sign-in already.`, { email: `${email} has a sign-in already.` })
  }
  await noteEvent(tx, {
    byId: by.id,
    personId: made.id,
    label: made.email,
    address,
    after: { event: 'invited', name, role },
  })
  return { id: made.id, link: await sendLink(tx, made.id, 'invitation', origin) }
}

/** A new link for somebody who lost theirs, or their password. Errors: `not-found`, `not-now`. */
export async function renewLink(tx: Tx, { by, address, origin }: Asking, id: number): Promise<{ link: string }> {
  const person = await lock(tx, id)
  if (!person.active) {
    throw new Refusal('not-now', `${person.name} may not sign in. Let them in again first.`)
  }
  const kind = person.passwordHash === null ? 'invitation' : 'new password'
  await noteEvent(tx, {
    byId: by.id,
    personId: id,
    label: person.email,
    address,
    after: { event: `link to a ${kind}` },
  })
  return { link: await sendLink(tx, id, kind, origin) }
}

/**
 * Changes somebody's name, role, rights, and whether they may sign in. Their sessions end where what they may do
 * changes. Errors: `stale-version`, `not-now` where no owner would be left.
 */
export async function changePerson(
  tx: Tx,
  { by, address }: Omit<Asking, 'origin'>,
  id: number,
  { version, name, role, rights, active }: PersonEdit,
): Promise<{ version: number }> {
  // One after the other, so that two owners who leave at once do not both go.
  await rows(tx, sql`select pg_advisory_xact_lock(7303)`)
  const person = await lock(tx, id)
  if (person.version !== version) {
    throw new Refusal('stale-version', `${person.name} was changed meanwhile. Reload the page.`)
  }
  // What the role allows anyway is no right beyond it.
  const beyond = rights.filter((right) => !may(role, right))
  const [owners] = await rows<{ others: number }>(
    tx,
    sql`
      select count(*)::int as others
      from users
      where role = 'owner' and active and password_hash is not null and id <> ${id}`,
  )
  if ((role !== 'owner' || !active) && person.role === 'owner' && owners!.others === 0) {
    throw new Refusal('not-now', `${person.name} is the only owner. Make somebody else an owner first.`)
  }
  await tx
    .update(users)
    .set({ name, role, rights: beyond, active, version: version + 1 })
    .where(eq(users.id, id))
  const before = { name: person.name, role: person.role as Role, rights: person.rights, active: person.active }
  const after = { name, role, rights: beyond, active }
  if (allowance(before) !== allowance(after)) {
    await endSessions(tx, id, id === by.id ? by.sessionId : undefined)
  }
  await noteEvent(tx, { byId: by.id, personId: id, label: person.email, address, before, after })
  return { version: version + 1 }
}

/** Takes off the second factor of somebody who lost their phone and their recovery codes. */
export async function takeFactorOff(tx: Tx, { by, address }: Omit<Asking, 'origin'>, id: number): Promise<void> {
  const person = await lock(tx, id)
  await removeFactor(tx, id)
  await noteEvent(tx, {
    byId: by.id,
    personId: id,
    label: person.email,
    address,
    after: { event: 'second factor taken off' },
  })
}

/** What somebody may do, to be compared. */
const allowance = ({ role, rights, active }: Pick<PersonEdit, 'role' | 'rights' | 'active'>): string =>
  [role, active, ...[...rights].sort()].join(' ')

async function lock(tx: Tx, id: number): Promise<typeof users.$inferSelect> {
  const [person] = await tx.select().from(users).where(eq(users.id, id)).for('update')
  if (!person) {
    throw new Refusal('not-found', 'There is no such person.')
  }
  return person
}
