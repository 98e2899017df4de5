import { randomBytes } from 'node:crypto'
import bwip from 'bwip-js/node'
import { eq, sql } from 'drizzle-orm'
import { generateSecret, generateURI, verify } from 'otplib'
import type { Tx } from '~~/server/database/client'
import { company, users } from '~~/server/database/schema'
import { refuseField, Refusal } from '~~/server/utils/refusal'
import { digestOf } from './tokens'

/** Seconds by which the clock of a phone may be wrong, either way: one step of RFC 6238. */
const TOLERANCE = 30
const RECOVERY_CODES = 10

interface Factor {
  readonly id: number
  readonly factorKey: string | null
  readonly factorStep: number | null
  readonly recoveryCodes: readonly string[]
}

/** Makes a key for a second factor, which counts once its first code was right: as text, and as a code to scan. */
export async function beginFactor(tx: Tx, userId: number): Promise<{ key: string; picture: string }> {
  const [person] = await tx.select().from(users).where(eq(users.id, userId))
  if (person!.factorIsOn) {
    throw new Refusal('not-now', 'There is a second factor already. Take it off first.')
  }
  const [own] = await tx.select({ name: company.name }).from(company)
  const key = generateSecret()
  await tx.update(users).set({ factorKey: key, factorStep: null }).where(eq(users.id, userId))
  const address = generateURI({ issuer: `Tsumiki ${own?.name ?? ''}`.trim(), label: person!.email, secret: key })
  return { key, picture: bwip.toSVG({ bcid: 'qrcode', text: address, scale: 4 }) }
}

/** Turns the second factor on by its first code; answers the recovery codes, which are shown this once. */
export async function confirmFactor(tx: Tx, userId: number, code: string): Promise<readonly string[]> {
  const [person] = await tx.select().from(users).where(eq(users.id, userId)).for('update')
  const step = person!.factorKey === null ? null : await stepOf(person!, code)
  if (step === null) {
    return refuseField('code', 'This is not the code that is shown now. Type the six digits of your app.')
  }
  const codes = Array.from({ length: RECOVERY_CODES }, makeRecoveryCode)
  await tx
    .update(users)
    .set({ factorIsOn: true, factorStep: step, recoveryCodes: codes.map((entry) => digestOf(entry.replace('-', ''))) })
    .where(eq(users.id, userId))
  return codes
}

export async function removeFactor(tx: Tx, userId: number): Promise<void> {
  await tx
    .update(users)
    .set({ factorKey: null, factorIsOn: false, factorStep: null, recoveryCodes: [] })
    .where(eq(users.id, userId))
}

/** Whether a code is right: that of the app, or a recovery code. Either counts once. */
export async function takeCode(tx: Tx, factor: Factor, code: string): Promise<boolean> {
  const step = await stepOf(factor, code)
  if (step !== null) {
    // Two that come at once with the same code: one of them.
    const taken = await tx
      .update(users)
      .set({ factorStep: step })
      .where(sql`${users.id} = ${factor.id} and coalesce(${users.factorStep}, 0) < ${step}`)
      .returning({ id: users.id })
    return taken.length > 0
  }
  const digest = digestOf(code)
  const taken = await tx
    .update(users)
    .set({ recoveryCodes: sql`array_remove(${users.recoveryCodes}, ${digest})` })
    .where(sql`${users.id} = ${factor.id} and ${digest} = any(${users.recoveryCodes})`)
    .returning({ id: users.id })
  return taken.length > 0
}

/** The time step of a right code that was not used before; null where it is none. */
async function stepOf({ factorKey, factorStep }: Factor, code: string): Promise<number | null> {
  if (!/^\d{6}$/.test(code) || factorKey === null) {
    return null
  }
  const found = await verify({
    secret: factorKey,
    token: code,
    epochTolerance: TOLERANCE,
    ...(factorStep !== null && { afterTimeStep: factorStep }),
  })
  return found.valid && 'timeStep' in found ? found.timeStep : null
}

/** Ten letters and digits that are told apart when read aloud: 49 bits. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789'
function makeRecoveryCode(): string {
  const letters: string[] = []
  while (letters.length < 10) {
    const byte = randomBytes(1)[0]!
    // Bytes beyond the last whole round of the letters would make some of them likelier.
    if (byte < 256 - (256 % LETTERS.length)) {
      letters.push(LETTERS[byte % LETTERS.length]!)
    }
  }
  return `${letters.slice(0, 5).join('')}-${letters.slice(5).join('')}`
}
