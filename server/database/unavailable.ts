/** Codes of Node.js and PostgreSQL (appendix A of its manual) for a database that does not answer, or not just now. */
const CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EHOSTUNREACH',
  'ENOTFOUND',
  'EPIPE',
  'ETIMEDOUT',
  // It is being stopped, was killed, or is starting; too many are connected.
  '57P01',
  '57P02',
  '57P03',
  '53300',
  // A lock or a statement took longer than it may.
  '55P03',
  '57014',
])
const MESSAGE =
  /Connection terminated|connection timeout|timeout exceeded when trying to connect|Client has encountered/i

/** Whether an error, or what caused it, says that the database does not answer just now: later it may. */
export function isUnavailable(error: unknown): boolean {
  for (let cause = error, depth = 0; cause instanceof Error && depth < 5; cause = cause.cause, depth++) {
    const { code } = cause as { code?: unknown }
    if ((typeof code === 'string' && (CODES.has(code) || code.startsWith('08'))) || MESSAGE.test(cause.message)) {
      return true
    }
    if (cause instanceof AggregateError && cause.errors.some(isUnavailable)) {
      return true
    }
  }
  return false
}
