import { and, eq, isNull, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { company, passwordLinks, users } from '~~/server/database/schema'
import { sealPassword } from '~~/server/utils/password'
import { Refusal } from '~~/server/utils/refusal'
import type { PasswordByLink, Person } from '~~/shared/company/people'
import { dayIn } from '../company/company'
import { sendLetter } from '../company/mails'
import { noteEvent } from './noted'
import { requireStrong } from './passwords'
import { endSessions, type Whence } from './sessions'
import { asPerson } from './sign-in'
import { digestOf, makeToken } from './tokens'

export const LINK_HOURS = 24
type Kind = (typeof passwordLinks.$inferSelect)['kind']

/** Makes a link by which somebody chooses a password, once and within a day; earlier ones no longer count. */
export async function makeLink(tx: Tx, userId: number, kind: Kind): Promise<{ id: number; token: string }> {
  const { token, digest } = makeToken()
  await tx
    .update(passwordLinks)
    .set({ usedAt: sql`now()` })
    .where(and(eq(passwordLinks.userId, userId), isNull(passwordLinks.usedAt)))
  const [made] = await tx
    .insert(passwordLinks)
    .values({ digest, userId, kind, expiresAt: sql`now() + make_interval(hours => ${LINK_HOURS})` })
    .returning({ id: passwordLinks.id })
  return { id: made!.id, token }
}

/** Where a link leads. What it holds stands behind the #, which browsers send to nobody. */
export const linkAddress = (origin: string, token: string): string => `${origin}/password#${token}`

const SUBJECT: Readonly<Record<Kind, string>> = {
  invitation: 'You are invited to Tsumiki',
  'new password': 'A new password for Tsumiki',
}

/** Makes a link and sends it by letter. Answers where it leads. */
export async function sendLink(tx: Tx, personId: number, kind: Kind, origin: string): Promise<string> {
  const [person] = await tx.select().from(users).where(eq(users.id, personId))
  const { id, token } = await makeLink(tx, personId, kind)
  const address = linkAddress(origin, token)
  const [own] = await tx.select().from(company)
  const name = own?.name ?? 'Tsumiki'
  const why =
    kind === 'invitation'
      ? `you are invited to ${name} in Tsumiki. Choose your password here:`
      : `somebody, probably you, has asked for a new password for ${name} in Tsumiki. Choose it here:`
  await sendLetter(tx, {
    key: `password link ${id}`,
    userId: personId,
    to: person!.email,
    name: person!.name,
    from: name,
    day: dayOf(own),
    subject: SUBJECT[kind],
    body: `Hello ${person!.name},\n\n${why}\n\n${address}\n\nThe link can be used once, within ${LINK_HOURS} hours. If you did not expect this letter, leave it: nothing changes.\n`,
  })
  return address
}

/** Sends whoever forgot their password a link to a new one. An address that nobody has is passed over without a word. */
export async function sendForgotten(tx: Tx, email: string, from: Whence, origin: string): Promise<void> {
  const [person] = await tx
    .select()
    .from(users)
    .where(eq(sql`lower(${users.email})`, email.toLowerCase()))
  if (!person?.active) {
    return
  }
  await sendLink(tx, person.id, person.passwordHash === null ? 'invitation' : 'new password', origin)
  await noteEvent(tx, {
    byId: null,
    personId: person.id,
    label: person.email,
    address: from.address,
    after: { event: 'password forgotten' },
  })
}

/** Whom a link is for. Errors: `not-found` where it was used, is too old, or never was. */
export async function lookAtLink(token: string): Promise<{ name: string; email: string; kind: Kind }> {
  const [found] = await rows<{ name: string; email: string; kind: Kind }>(
    db,
    sql`
      select u.name, u.email, l.kind
      from password_links l
      join users u on u.id = l.user_id
      where l.digest = ${digestOf(token)} and l.used_at is null and l.expires_at > now() and u.active`,
  )
  return found ?? refuse()
}

const refuse = (): never => {
  throw new Refusal(
    'not-found',
    `This link was used already, or is older than ${LINK_HOURS} hours. Ask for a new one at the door, or from an owner.`,
  )
}

/** Chooses a password by a link. All sessions of the person end: whoever forgot it may have lost it to somebody. */
export async function choosePassword(tx: Tx, { token, password }: PasswordByLink, from: Whence): Promise<Person> {
  const [link] = await tx
    .update(passwordLinks)
    .set({ usedAt: sql`now()` })
    .where(
      and(
        eq(passwordLinks.digest, digestOf(token)),
        isNull(passwordLinks.usedAt),
        sql`${passwordLinks.expiresAt} > now()`,
      ),
    )
    .returning()
  const [person] = link ? await tx.select().from(users).where(eq(users.id, link.userId)) : []
  if (!link || !person?.active) {
    return refuse()
  }
  await storePassword(tx, person, password)
  await endSessions(tx, person.id)
  await noteEvent(tx, {
    byId: person.id,
    personId: person.id,
    label: person.email,
    address: from.address,
    after: { event: 'password chosen', by: link.kind },
  })
  return asPerson(person)
}

/**
 * Stores a password that is strong enough. Whoever had one before is told by letter that it is another now. Errors:
 * `password`.
 */
export async function storePassword(
  tx: Tx,
  person: { readonly id: number; readonly name: string; readonly email: string },
  password: string,
): Promise<void> {
  const [own] = await tx.select().from(company)
  requireStrong(password, [person.name, person.email, own?.name ?? ''])
  const [before] = await tx.select({ hash: users.passwordHash }).from(users).where(eq(users.id, person.id))
  const [{ version } = { version: 0 }] = await tx
    .update(users)
    .set({ passwordHash: await sealPassword(password), version: sql`${users.version} + 1` })
    .where(eq(users.id, person.id))
    .returning({ version: users.version })
  if (before?.hash) {
    await sendLetter(tx, {
      key: `password changed ${person.id} ${version}`,
      userId: person.id,
      to: person.email,
      name: person.name,
      from: own?.name ?? 'Tsumiki',
      day: dayOf(own),
      subject: 'Your password for Tsumiki was changed',
      body: `Hello ${person.name},\n\nyour password for ${own?.name ?? 'Tsumiki'} in Tsumiki was changed just now. If it was not you, ask for a new one at the door (“Password forgotten?”), and tell an owner.\n`,
    })
  }
}

const dayOf = (own: typeof company.$inferSelect | undefined): string =>
  own?.fixedDay ?? dayIn(own?.timeZone ?? null, new Date())
