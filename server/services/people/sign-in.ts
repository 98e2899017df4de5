import { eq, sql } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { users } from '~~/server/database/schema'
import { isOutdated, isPassword, sealPassword } from '~~/server/utils/password'
import { Refusal } from '~~/server/utils/refusal'
import type { Person, SignIn } from '~~/shared/company/people'
import type { Role } from '~~/shared/company/rights'
import { noteEvent } from './noted'
import { takeCode } from './second-factor'
import { beginSession, type Whence } from './sessions'
import { countWrong, forgetWrong, requireTries } from './tries'

type Account = typeof users.$inferSelect

/**
 * Signs somebody in by e-mail address, password and, where there is one, second factor. Answers the token of a new
 * session.
 *
 * One sentence for a wrong address and a wrong password, so that nobody learns which addresses exist. Errors:
 * `too-many`, `unauthenticated`, `second-factor`.
 */
export async function signIn(asked: SignIn, from: Whence): Promise<{ token: string; person: Person }> {
  const email = asked.email.toLowerCase()
  await requireTries(email, from.address)
  const [found] = await db
    .select()
    .from(users)
    .where(eq(sql`lower(${users.email})`, email))
  const account = found?.active ? found : null
  if (!(await isPassword(asked.password, account?.passwordHash ?? null)) || !account) {
    return refuse(email, from, found, 'password')
  }
  if (account.factorIsOn) {
    if (asked.code === '') {
      throw new Refusal('second-factor', 'Type the six digits that your app shows now, or a recovery code.')
    }
    if (!(await inTransaction((tx) => takeCode(tx, account, asked.code)))) {
      return refuse(email, from, account, 'code')
    }
  }
  await forgetWrong(email, from.address)
  const renewed = isOutdated(account.passwordHash!) ? await sealPassword(asked.password) : null
  const token = await inTransaction(async (tx) => {
    if (renewed !== null) {
      await tx.update(users).set({ passwordHash: renewed }).where(eq(users.id, account.id))
    }
    await noteEvent(tx, {
      byId: account.id,
      personId: account.id,
      label: account.email,
      address: from.address,
      after: { event: 'signed in' },
    })
    return beginSession(tx, account.id, from)
  })
  return { token, person: asPerson(account) }
}

export const asPerson = ({ id, name, email, role, rights }: Account): Person => ({
  id,
  name,
  email,
  role: role as Role,
  rights,
})

const WRONG = {
  password: 'E-mail address and password do not match.',
  code: 'This code is not right, or was used before. Wait for the next one.',
} as const

async function refuse(
  email: string,
  from: Whence,
  account: Account | undefined,
  field: keyof typeof WRONG,
): Promise<never> {
  await countWrong(email, from.address)
  await noteEvent(db, {
    byId: null,
    personId: account?.id ?? null,
    label: email,
    address: from.address,
    after: { event: `wrong ${field}` },
  })
  throw new Refusal(field === 'code' ? 'second-factor' : 'unauthenticated', WRONG[field], { [field]: WRONG[field] })
}
