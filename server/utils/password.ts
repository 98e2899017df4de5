import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'

const COST = { N: 16384, r: 8, p: 1 }
const derive = (password: string, salt: Buffer): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, 32, COST, (error, key) => (error ? reject(error) : resolve(key)))
  })

/** A salted scrypt hash of a password (RFC 7914), written as `scrypt$salt$key`. */
export async function sealPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  return `scrypt$${salt.toString('base64url')}$${(await derive(password, salt)).toString('base64url')}`
}

export async function isPassword(password: string, hash: string): Promise<boolean> {
  const [, salt, key] = hash.split('$')
  const derived = await derive(password, Buffer.from(salt ?? '', 'base64url'))
  const stored = Buffer.from(key ?? '', 'base64url')
  return stored.length === derived.length && timingSafeEqual(stored, derived)
}
