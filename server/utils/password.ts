import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'

interface Cost {
  readonly N: number
  readonly r: number
  readonly p: number
}
/** As the OWASP Password Storage Cheat Sheet has it in 2026 for scrypt, with the least memory: 32 MiB, three rounds. */
const COST: Cost = { N: 2 ** 15, r: 8, p: 3 }
/** What was used before, and is written without its figures. */
const FIRST_COST: Cost = { N: 2 ** 14, r: 8, p: 1 }
const MEMORY = 64 * 1024 * 1024

const derive = (password: string, salt: Buffer, { N, r, p }: Cost): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, 32, { N, r, p, maxmem: MEMORY }, (error, key) =>
      error ? reject(error) : resolve(key),
    )
  })

/** A salted scrypt hash of a password (RFC 7914), written as `scrypt$N,r,p$salt$key`. */
export async function sealPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  const key = await derive(password, salt, COST)
  return ['scrypt', writeCost(COST), salt.toString('base64url'), key.toString('base64url')].join('$')
}

/** Whether it is that password. Without a hash a password is checked all the same, so that the answer takes as long. */
export async function isPassword(password: string, hash: string | null): Promise<boolean> {
  const { cost, salt, key } = readHash(hash ?? NOBODYS)
  const derived = await derive(password, salt, cost)
  return hash !== null && key.length === derived.length && timingSafeEqual(key, derived)
}

/** Whether a hash was made at a cost that is no longer enough: then it is made anew at the next sign-in. */
export const isOutdated = (hash: string): boolean => writeCost(readHash(hash).cost) !== writeCost(COST)

const writeCost = ({ N, r, p }: Cost): string => [N, r, p].join(',')
const NOBODYS = ['scrypt', writeCost(COST), 'A'.repeat(22), 'A'.repeat(43)].join('$')

function readHash(hash: string): { cost: Cost; salt: Buffer; key: Buffer } {
  const parts = hash.split('$').slice(1)
  const [N, r, p] = parts.length === 3 ? parts[0]!.split(',').map(Number) : [FIRST_COST.N, FIRST_COST.r, FIRST_COST.p]
  const [salt, key] = parts.slice(-2).map((part) => Buffer.from(part, 'base64url'))
  return { cost: { N: N!, r: r!, p: p! }, salt: salt!, key: key! }
}
