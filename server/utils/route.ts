import { createHash } from 'node:crypto'
import type { EventHandler, EventHandlerRequest, H3Event } from 'h3'
import type * as z from 'zod'
import { isAllowed, rolesWith, type Allowance, type Right, type Role } from '~~/shared/company/rights'
import { findKey, type KeyHolder } from '~~/server/services/running/api-keys'
import { countAsked } from '~~/server/services/running/key-limit'
import { findSession, type Session, type Whence } from '~~/server/services/people/sessions'
import type { Problem } from '~~/shared/problem'
import { asRefusal, Refusal } from './refusal'
import { logProblem } from '~~/server/utils/log'

/** Who acts, and on which day: the clock is a parameter. */
export interface Actor {
  readonly userId: number
  readonly name: string
  readonly role: Role
  /** Rights beyond those of the role. */
  readonly rights?: readonly Right[]
  /** The key by which a script acts, and what it is limited to. */
  readonly keyId?: number
  readonly limitedTo?: readonly Right[]
  readonly today: string
  /** A digest of the request that is being answered: its method, its path and its body. */
  readonly digest?: () => Promise<string>
}

/** A route for whoever has `right`. Refusals become problem details; anything else is logged and told as our fault. */
export function route<T>(
  right: Right,
  handler: (event: H3Event, actor: Actor) => Promise<T>,
): EventHandler<EventHandlerRequest, Promise<T>> {
  return withProblemDetails(async (event) => {
    const actor = await requireRight(event, right)
    const answer = await handler(event, actor)
    return isAllowed(actor, 'costs')
      ? answer
      : withoutCosts(event.context.matchedRoute?.path ?? '', getQuery(event), answer)
  })
}

/** A route that needs no sign-in. */
export const openRoute = <T>(handler: (event: H3Event) => Promise<T>): EventHandler<EventHandlerRequest, Promise<T>> =>
  withProblemDetails(handler)

/** What a person is told where the fault is ours; what it was goes to the log. */
const OUR_FAULT = {
  type: 'about:blank',
  title: 'Something went wrong here',
  status: 500,
  detail:
    'Tsumiki could not do this, and nothing was changed. Try again; if it stays, tell the person who looks after Tsumiki.',
}

function withProblemDetails<T>(handler: (event: H3Event) => Promise<T>): EventHandler<EventHandlerRequest, Promise<T>> {
  return defineEventHandler(async (event) => {
    try {
      return await handler(event)
    } catch (error) {
      const problem = asRefusal(error)?.problem ?? OUR_FAULT
      if (problem === OUR_FAULT) {
        logProblem(`${event.method} ${event.path}`, error)
      }
      return answerProblem(event, problem) as never
    }
  })
}

/** Answers with problem details (RFC 9457). */
export function answerProblem(event: H3Event, problem: Problem): Problem {
  setResponseStatus(event, problem.status)
  setResponseHeader(event, 'content-type', 'application/problem+json')
  return problem
}

/** Who is signed in by the request's cookie; null where nobody is. */
export async function sessionOf(event: H3Event): Promise<Session | null> {
  const { secure } = await getUserSession(event)
  return secure?.token ? findSession(secure.token) : null
}

/** Who is signed in. Errors: `unauthenticated`. */
export async function requireSession(event: H3Event): Promise<Session> {
  const session = await sessionOf(event)
  if (!session) {
    throw new Refusal('unauthenticated', 'Sign in to go on.')
  }
  return session
}

export async function requireRight(event: H3Event, right: Right): Promise<Actor> {
  return asActor(event, (await keyHolderOf(event)) ?? (await requireSession(event)), right)
}

/** Who acts by the key of a request (RFC 6750); null where it has none. Errors: `unauthenticated`, `too-many`. */
async function keyHolderOf(event: H3Event): Promise<KeyHolder | null> {
  const [, token] = /^Bearer +(\S+)$/i.exec(getRequestHeader(event, 'authorization') ?? '') ?? []
  if (token === undefined) {
    return null
  }
  const holder = await findKey(token, whenceOf(event).address)
  if (!holder) {
    setResponseHeader(event, 'www-authenticate', 'Bearer error="invalid_token"')
    throw new Refusal('unauthenticated', 'This key opens nothing: it is unknown, was ended, or is over.')
  }
  await countAsked(event, holder.keyId)
  return holder
}

/** Errors: `missing-right`. */
export function requireAllowed(person: Allowance & { readonly keyId?: number }, right: Right): void {
  if (isAllowed(person, right)) {
    return
  }
  throw new Refusal(
    'missing-right',
    person.keyId === undefined
      ? `You are signed in as ${person.role}. This needs one of: ${rolesWith(right).join(', ')}.`
      : `This key may not do that: it needs the right “${right}”.`,
  )
}

function asActor(event: H3Event, person: Session | KeyHolder, right: Right): Actor {
  requireAllowed(person, right)
  const { id, name, role, rights, today } = person
  event.context.who = id
  const key = 'keyId' in person ? { keyId: person.keyId, limitedTo: person.limitedTo } : {}
  return { userId: id, name, role, rights, ...key, today, digest: () => digestOf(event) }
}

/** A route about sign-ins, for whoever has `right`: with their session, and where the request comes from. */
export const sessionRoute = <T>(
  right: Right,
  handler: (event: H3Event, session: Session, from: Whence) => Promise<T>,
): EventHandler<EventHandlerRequest, Promise<T>> =>
  withProblemDetails(async (event) => {
    const session = await requireSession(event)
    asActor(event, session, right)
    return handler(event, session, whenceOf(event))
  })

/**
 * Where a request comes from. Behind a proxy that is trusted its word counts: the last address, which the proxy itself
 * has added; what stands before it anybody can have written.
 */
export const whenceOf = (event: H3Event): Whence => {
  const told = isProxyTrusted() ? getRequestHeader(event, 'x-forwarded-for')?.split(',').at(-1)?.trim() : undefined
  return {
    address: told || (getRequestIP(event) ?? ''),
    browser: getRequestHeader(event, 'user-agent') ?? '',
  }
}

async function digestOf(event: H3Event): Promise<string> {
  const body = await readRawBody(event)
  return createHash('sha256')
    .update(`${event.method} ${event.path.split('?')[0]!}\n${body ?? ''}`)
    .digest('base64url')
}

/** What came in, checked; a refusal names each wrong field by its path. */
export function input<S extends z.ZodType>(schema: S, data: unknown): z.output<S> {
  const unreadable = pathOfNul(data)
  if (unreadable !== null) {
    const detail = 'This text holds a character that cannot be stored (NUL). Type it again.'
    throw new Refusal('invalid-input', detail, { [unreadable]: detail })
  }
  const parsed = schema.safeParse(data)
  if (parsed.success) {
    return parsed.data
  }
  const fields: Record<string, string> = {}
  for (const issue of parsed.error.issues) {
    fields[issue.path.join('.')] ??= issue.message
  }
  throw new Refusal('invalid-input', Object.values(fields)[0] ?? 'The input could not be read.', fields)
}

/** Where a text holds the character NUL, which PostgreSQL stores nowhere; null where none does. */
function pathOfNul(data: unknown, path = ''): string | null {
  if (typeof data === 'string') {
    return data.includes('\u0000') ? path : null
  }
  if (typeof data !== 'object' || data === null) {
    return null
  }
  for (const [key, value] of Object.entries(data)) {
    const inner = key.includes('\u0000') ? path : pathOfNul(value, path === '' ? key : `${path}.${key}`)
    if (inner !== null) {
      return inner
    }
  }
  return null
}
