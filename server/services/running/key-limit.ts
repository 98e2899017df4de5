import type { H3Event } from 'h3'
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible'
import { plural } from '~~/core/plural'
import { Refusal } from '~~/server/utils/refusal'

/** How often a key may ask in a minute, at each web server. */
export const ASKED_A_MINUTE = 600
const limiter = new RateLimiterMemory({ keyPrefix: 'key', points: ASKED_A_MINUTE, duration: 60 })

/**
 * Counts a request by a key. Every answer says how many are left within the minute, in the header fields of the draft
 * “RateLimit header fields for HTTP” of the IETF.
 *
 * Errors: `too-many`, with `Retry-After` in seconds (RFC 9110, 10.2.3).
 */
export async function countAsked(event: H3Event, keyId: number): Promise<void> {
  const { left, seconds } = await take(String(keyId))
  setResponseHeaders(event, {
    'ratelimit-limit': String(ASKED_A_MINUTE),
    'ratelimit-remaining': String(Math.max(0, left)),
    'ratelimit-reset': String(seconds),
  })
  if (left < 0) {
    setResponseHeader(event, 'retry-after', seconds)
    throw new Refusal(
      'too-many',
      `This key has asked ${ASKED_A_MINUTE} times within a minute. Ask again in ${seconds} ${plural(seconds, 'second', 'seconds')}.`,
    )
  }
}

async function take(key: string): Promise<{ left: number; seconds: number }> {
  const secondsOf = (found: RateLimiterRes): number => Math.max(1, Math.ceil(found.msBeforeNext / 1000))
  try {
    const found = await limiter.consume(key)
    return { left: found.remainingPoints, seconds: secondsOf(found) }
  } catch (error) {
    if (error instanceof RateLimiterRes) {
      return { left: -1, seconds: secondsOf(error) }
    }
    throw error
  }
}
