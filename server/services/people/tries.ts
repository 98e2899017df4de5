import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import { plural } from '~~/core/plural'
import { pool } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'

const MINUTE = 60
/** Tries are counted in the database, so that several servers count together. */
const limiter = (keyPrefix: string, points: number, duration: number): RateLimiterPostgres =>
  new RateLimiterPostgres({
    storeClient: pool,
    tableName: 'tries',
    tableCreated: true,
    clearExpiredByTimeout: false,
    keyPrefix,
    points,
    duration,
    blockDuration: duration,
  })

/** Wrong passwords of one account from one address; of one account from anywhere; from one address of any account. */
const WRONG = {
  accountHere: limiter('wrong password here', 8, 15 * MINUTE),
  account: limiter('wrong password', 40, 60 * MINUTE),
  address: limiter('wrong password from', 100, 15 * MINUTE),
}
const LETTERS = {
  account: limiter('forgotten', 3, 60 * MINUTE),
  address: limiter('forgotten from', 20, 60 * MINUTE),
}

type Limits = readonly (readonly [RateLimiterPostgres, string])[]
const wrongOf = (email: string, address: string): Limits => [
  [WRONG.accountHere, `${email} ${address}`],
  [WRONG.account, email],
  [WRONG.address, address],
]

/** Refuses a further try where too many were wrong. Errors: `too-many`. */
export async function requireTries(email: string, address: string): Promise<void> {
  for (const [limit, key] of wrongOf(email, address)) {
    const found = await limit.get(key)
    if (found && found.remainingPoints <= 0 && found.msBeforeNext > 0) {
      refuse(found)
    }
  }
}

/** Counts a wrong password or code. */
export async function countWrong(email: string, address: string): Promise<void> {
  for (const [limit, key] of wrongOf(email, address)) {
    await limit.penalty(key)
  }
}

/** What was wrong before the right password came no longer counts against that account. */
export async function forgetWrong(email: string, address: string): Promise<void> {
  await WRONG.accountHere.delete(`${email} ${address}`)
  await WRONG.account.delete(email)
}

/** Counts a letter that is asked for by somebody who is not signed in. Errors: `too-many`. */
export async function countLetter(email: string, address: string): Promise<void> {
  const limits: Limits = [
    [LETTERS.account, email],
    [LETTERS.address, address],
  ]
  for (const [limit, key] of limits) {
    await limit.consume(key).catch((error: unknown) => {
      throw error instanceof RateLimiterRes ? refusalFor(error) : error
    })
  }
}

const refuse = (found: RateLimiterRes): never => {
  throw refusalFor(found)
}
function refusalFor({ msBeforeNext }: RateLimiterRes): Refusal {
  const minutes = Math.max(1, Math.ceil(msBeforeNext / 60_000))
  return new Refusal('too-many', `Too many tries. Try again in ${minutes} ${plural(minutes, 'minute', 'minutes')}.`)
}
