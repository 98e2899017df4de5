import { asc } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { users } from '~~/server/database/schema'
import { isPassword } from '~~/server/utils/password'
import { Refusal } from '~~/server/utils/refusal'
import type { Person } from '~~/shared/company/people'
import { findByEmail } from './company'

/**
 * The person of an e-mail address and password. One sentence for both mistakes, so that nobody learns which addresses
 * exist.
 */
export async function signIn({ email, password }: { email: string; password: string }): Promise<Person> {
  const found = await findByEmail(email)
  // Without a person a password is checked all the same, so that the answer takes as long.
  const right = await isPassword(
    password,
    found?.passwordHash ?? 'scrypt$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA',
  )
  if (!found || !right) {
    throw new Refusal('unauthenticated', 'E-mail address and password do not match.', {
      password: 'E-mail address and password do not match.',
    })
  }
  return { id: found.id, name: found.name, email: found.email, role: found.role }
}

export const listPeople = () =>
  db
    .select({ id: users.id, name: users.name, email: users.email, role: users.role, active: users.active })
    .from(users)
    .orderBy(asc(users.id))
