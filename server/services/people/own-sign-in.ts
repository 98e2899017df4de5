import { eq } from 'drizzle-orm'
import { db, type Reader, type Tx } from '~~/server/database/client'
import { users } from '~~/server/database/schema'
import { isPassword } from '~~/server/utils/password'
import { refuseField } from '~~/server/utils/refusal'
import type { OwnSignIn } from '~~/shared/company/people'
import { noteEvent } from './noted'
import { storePassword } from './password-links'
import { endSessions, listSessions, type Session } from './sessions'
import { countWrong, requireTries } from './tries'

export async function readOwnSignIn({ id, sessionId }: Session): Promise<OwnSignIn> {
  const person = await accountOf(db, id)
  return {
    hasFactor: person.factorIsOn,
    recoveryCodes: person.recoveryCodes.length,
    hasFeed: person.calendarDigest !== null,
    sessions: await listSessions(db, id, sessionId),
  }
}

/** A new password for somebody who gave the one that they have; all other sessions of theirs end. */
export async function changePassword(
  tx: Tx,
  session: Session,
  password: string,
  address: string,
): Promise<{ ended: number }> {
  await storePassword(tx, session, password)
  const ended = await endSessions(tx, session.id, session.sessionId)
  await noteOwn(tx, session, address, 'password changed')
  return { ended }
}

/** Somebody gives their password before what would let others in. Errors: the field, `too-many`. */
export async function requireOwnPassword(
  { id, email }: Session,
  password: string,
  address: string,
  field = 'password',
): Promise<void> {
  await requireTries(email, address)
  const { passwordHash } = await accountOf(db, id)
  if (!(await isPassword(password, passwordHash))) {
    await countWrong(email, address)
    refuseField(field, 'This is not your password.')
  }
}

export const noteOwn = (
  tx: Tx,
  { id, email }: { readonly id: number; readonly email: string },
  address: string,
  event: string,
): Promise<void> => noteEvent(tx, { byId: id, personId: id, label: email, address, after: { event } })

async function accountOf(reader: Reader, id: number): Promise<typeof users.$inferSelect> {
  const [person] = await reader.select().from(users).where(eq(users.id, id))
  return person!
}
