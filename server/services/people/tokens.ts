import { createHash, randomBytes } from 'node:crypto'

/** A secret of 256 bits to hand out, and the digest by which it is known again: the secret itself is kept nowhere. */
export function makeToken(): { readonly token: string; readonly digest: string } {
  const token = randomBytes(32).toString('base64url')
  return { token, digest: digestOf(token) }
}

export const digestOf = (token: string): string => createHash('sha256').update(token).digest('base64url')
