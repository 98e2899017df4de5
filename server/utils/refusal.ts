import { isError } from 'h3'
import { isUnavailable } from '../database/unavailable'
import type { Problem } from '../../shared/problem'

/** Every way in which the server says no, and the HTTP status it is told with. */
export const STATUS = {
  'invalid-input': 400,
  unauthenticated: 401,
  /** The password is right; the second factor is asked for. */
  'second-factor': 401,
  'missing-right': 403,
  'foreign-origin': 403,
  'not-found': 404,
  'wrong-method': 405,
  'stale-version': 409,
  taken: 409,
  short: 409,
  'not-now': 409,
  'needs-yes': 409,
  'too-large': 413,
  'wrong-type': 415,
  loop: 422,
  'too-many': 429,
  unavailable: 503,
} as const

export type RefusalCode = keyof typeof STATUS

const TITLES: Readonly<Record<RefusalCode, string>> = {
  'invalid-input': 'Some fields need another look',
  unauthenticated: 'Sign in first',
  'second-factor': 'Your second factor is asked for',
  'missing-right': 'Your role does not allow this',
  'foreign-origin': 'This came from another page',
  'not-found': 'It is not there',
  'wrong-method': 'This cannot be done there',
  'stale-version': 'It was changed meanwhile',
  taken: 'It exists already',
  short: 'There is not enough',
  'not-now': 'This is not possible now',
  'needs-yes': 'It needs a yes',
  'too-large': 'This is too large',
  'wrong-type': 'This kind of content is not read here',
  loop: 'The structure runs in a circle',
  'too-many': 'Too many tries',
  unavailable: 'Not just now',
}

/** A refusal as plain data: what it was made of. */
export type Refused = Pick<Refusal, 'code' | 'detail' | 'fields' | 'effects'>

/** An expected no. Thrown inside a service so that its transaction is undone as a whole; told once, at the edge. */
export class Refusal extends Error {
  constructor(
    readonly code: RefusalCode,
    readonly detail: string,
    readonly fields?: Record<string, string>,
    /** What a yes would change elsewhere, a sentence each. */
    readonly effects?: readonly string[],
  ) {
    super(detail)
  }

  static from({ code, detail, fields, effects }: Refused): Refusal {
    return new Refusal(code, detail, fields, effects)
  }

  get told(): Refused {
    const { code, detail, fields, effects } = this
    return { code, detail, fields, effects }
  }

  get problem(): Problem {
    return {
      type: `urn:tsumiki:${this.code}`,
      title: TITLES[this.code],
      status: STATUS[this.code],
      detail: this.detail,
      ...(this.fields && { fields: this.fields }),
      ...(this.effects && { effects: this.effects }),
    }
  }
}

/** The value, or the refusal of a field. */
export const refuseField = (field: string, detail: string): never => {
  throw new Refusal('invalid-input', detail, { [field]: detail })
}

/** The database does not answer just now. */
export const unavailable = (): Refusal =>
  new Refusal('unavailable', 'Tsumiki’s database does not answer just now. Try again in a moment.')

/**
 * PostgreSQL’s codes for values that do not fit their column: a number too large, a day that is none, a text or
 * character that it cannot hold.
 */
const UNFIT = new Set(['22003', '22007', '22008', '22021', '22P02', '22P05'])

/** The no that an error amounts to; null where the fault is ours. */
export function asRefusal(error: unknown): Refusal | null {
  if (error instanceof Refusal) {
    return error
  }
  if (isError(error) && error.statusCode >= 400 && error.statusCode < 500) {
    return new Refusal('invalid-input', 'The request cannot be read: its body is no valid JSON, or is too large.')
  }
  if (isUnavailable(error)) {
    return unavailable()
  }
  const { cause } = error as { cause?: { code?: unknown } }
  if (typeof cause?.code === 'string' && UNFIT.has(cause.code)) {
    return new Refusal('invalid-input', 'A number is too large, or a text cannot be stored. Nothing was changed.')
  }
  return null
}
