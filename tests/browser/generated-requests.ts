import { randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import path from 'node:path'

/*
 * Requests that are made up, to every route of `server/api`. What a route wants is learned from its refusals: each
 * names the fields that are wrong, and the next value is tried there, until it is content or nothing helps.
 */

/** What fields commonly want, tried in this order. */
const GOOD: readonly unknown[] = [
  1,
  '2026-10-06',
  '1',
  'piece',
  'EUR',
  'A text',
  randomUUID(),
  'ada@example.org',
  true,
  [1],
  [{}],
  {},
  [],
  ['A text'],
  null,
]
/**
 * What no field should choke on: too large, no number, no date, no text that can be stored, nested without end, of
 * another type.
 */
export const EVIL: readonly unknown[] = [
  '1,50',
  '5.12.2026',
  '2026-02-30',
  '0001-01-01',
  '99999-01-01',
  '1e300',
  1e300,
  '9'.repeat(40),
  `0.${'0'.repeat(60)}1`,
  2 ** 31,
  -1,
  1.5,
  'a\u0000b',
  'lone \ud800 surrogate',
  'x'.repeat(70_000),
  '1/0',
  '2*(3',
  "'; drop table items; --",
  '%_\\',
  true,
  null,
  [],
  {},
  [[[[[[[[[[]]]]]]]]]],
]
/** What stands in an address where a number belongs. */
const PATHS = ['1', '2', '3', '7', '0', '-1', '1.5', '2147483648', '9'.repeat(30), 'x', '%00', '%ff', "1'--", 'null']
/** What addresses are asked for beyond their path. */
const QUERIES = [
  ...['search', 'sort', 'page', 'size', 'filter', 'from', 'until', 'asOf', 'day', 'of', 'item', 'items', 'site'],
  ...['status', 'format', 'how', 'unit', 'quantity', 'basis', 'before', 'after', 'plans', 'node', 'first', 'last'],
  ...['direction', 'table', 'text', 'kind', 'weeks', 'group', 'by', 'period', 'mine', 'itemId', 'siteId', 'revision'],
]
const ROUNDS = 40
const KINDS = ['suppliers', 'customers', 'bins', 'units', 'calendars', 'routes', 'currencies', 'bills', 'break-downs']
/**
 * Those that end the session or the demo; and the plans, which are computed by a worker and would only wait for each
 * other.
 */
const LEFT_OUT = /sign-|first-owner|company\/import|plans\/\[id\]\/run/

interface Route {
  readonly method: string
  readonly route: string
}
export type Body = Record<string, unknown>
export interface Answer {
  readonly status: number
  readonly fields: Readonly<Record<string, string>>
}

/** Every route, as its file says it. */
export const ROUTES: readonly Route[] = readdirSync('server/api', { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.(get|post|put|patch|delete)\.ts$/.test(file))
  .map((file) => {
    const [, name, method] = /^(.*?)(?:\/index)?\.(get|post|put|patch|delete)\.ts$/.exec(
      file.split(path.sep).join('/'),
    )!
    return { method: method!.toUpperCase(), route: `/api/${name}` }
  })
  .filter(({ route }) => !LEFT_OUT.test(route))
  .sort((a, b) => a.route.localeCompare(b.route))

/** Those that change something, each kind of definition by itself, where the first of each thing is meant. */
export const CHANGING: readonly Route[] = ROUTES.filter(({ method }) => method !== 'GET').flatMap(({ method, route }) =>
  (route.includes('[kind]') ? KINDS : ['']).map((kind) => ({
    method,
    route: route.replace('[kind]', kind).replace(/\[[^\]]+\]/g, '1'),
  })),
)

/** Sends requests for one person, and keeps those that were answered by “something went wrong here”. */
export class Asker {
  readonly faults: string[] = []
  asked = 0

  private cookie = ''

  constructor(
    private readonly base: string,
    private readonly email: string,
    private readonly password: string,
  ) {}

  async signIn(): Promise<void> {
    const answer = await fetch(`${this.base}/api/company/sign-in`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: this.email, password: this.password }),
    })
    const [cookie] = answer.headers.get('set-cookie')?.split(';') ?? []
    if (cookie === undefined) {
      throw new Error(`${this.email} could not sign in: ${answer.status} ${await answer.text()}`)
    }
    this.cookie = cookie
  }

  /** A session that was ended by what was asked goes on with a new one. */
  async send(method: string, address: string, body: unknown): Promise<Answer> {
    this.asked++
    const answer = await fetch(`${this.base}${address}`, {
      method,
      headers: { 'content-type': 'application/json', cookie: this.cookie },
      ...(method !== 'GET' && { body: JSON.stringify(body) }),
    })
    const text = await answer.text()
    if (answer.status === 401 && text.includes('Sign in to go on')) {
      await this.signIn()
    }
    if (answer.status >= 500) {
      this.faults.push(`${answer.status} ${method} ${address} ${JSON.stringify(body ?? null).slice(0, 300)}`)
    }
    const problem = answer.status === 400 ? (JSON.parse(text) as { fields?: Record<string, string> }) : {}
    return { status: answer.status, fields: problem.fields ?? {} }
  }

  /** What the route is content with, or comes nearest to it. */
  async learn(method: string, address: string): Promise<Body> {
    const tried = new Map<string, number>()
    let body: Body = {}
    for (let round = 0; round < ROUNDS; round++) {
      const { fields } = await this.send(method, address, body)
      const wrong = Object.keys(fields).filter((field) => field !== '' && (tried.get(field) ?? 0) < GOOD.length)
      if (wrong.length === 0) {
        break
      }
      for (const field of wrong) {
        const next = tried.get(field) ?? 0
        tried.set(field, next + 1)
        body = put(body, field, GOOD[next])
      }
    }
    return body
  }
}

/** The body with a value at a path such as `lines.0.quantity`; lists and objects on the way are made. */
export function put(body: Body, at: string, value: unknown): Body {
  const copy = structuredClone(body)
  const steps = at.split('.')
  let here: Body = copy
  for (const [index, step] of steps.slice(0, -1).entries()) {
    const next = here[step]
    const made = /^\d+$/.test(steps[index + 1]!) ? [] : {}
    here[step] = typeof next === 'object' && next !== null ? next : made
    here = here[step] as Body
  }
  here[steps.at(-1)!] = value
  return copy
}

/** Every path of a body, to lists and objects as well as to what is none. */
export function leaves(value: unknown, at = ''): string[] {
  return typeof value === 'object' && value !== null
    ? [
        ...(at === '' ? [] : [at]),
        ...Object.entries(value).flatMap(([key, inner]) => leaves(inner, at === '' ? key : `${at}.${key}`)),
      ]
    : [at]
}

/**
 * Any requests without end, over every route in turn: addresses and queries that are made up, bodies as the routes want
 * them with up to three fields that they do not. `below` answers a whole number below its argument.
 */
export async function anyRequest(
  asker: Asker,
  turn: number,
  below: (limit: number) => number,
  learned: Map<string, Body>,
) {
  const { method, route } = ROUTES[turn % ROUTES.length]!
  const any = <T>(list: readonly T[]): T => list[below(list.length)]!
  const address = route.replace('[kind]', any(KINDS)).replace(/\[[^\]]+\]/g, () => (below(3) === 0 ? any(PATHS) : '1'))
  if (method === 'GET') {
    const query = new URLSearchParams()
    for (let left = below(4); left > 0; left--) {
      const value = any([...EVIL, ...GOOD])
      query.append(any(QUERIES), typeof value === 'string' ? value.slice(0, 4000) : JSON.stringify(value))
    }
    await asker.send(method, `${address}?${query.toString()}`, null)
    return
  }
  const known = `${method} ${address}`
  const body = learned.get(known) ?? (await asker.learn(method, address))
  learned.set(known, body)
  let changed = 'key' in body ? { ...body, key: randomUUID() } : body
  const places = leaves(changed)
  for (let left = 1 + below(3); left > 0 && places.length > 0; left--) {
    const place = any(places)
    changed = place === '' ? changed : put(changed, place, any([...EVIL, ...GOOD]))
  }
  await asker.send(method, address, changed)
}
