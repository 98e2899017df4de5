import { randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import path from 'node:path'
import { expect, test } from '@playwright/test'
import { PASSWORD } from './helpers'
import { withOwnServer } from './own-server'

/*
 * Inside every field of every request. What a route wants is learned from its refusals: each names the fields that are
 * wrong, and the next value is tried there, until it is content or nothing helps. Then each field in turn gets what
 * nobody should send, all others staying as they were.
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
const EVIL: readonly unknown[] = [
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
const ROUNDS = 40
const LANES = 4

const ROUTES = readdirSync('server/api', { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.(post|put|patch|delete)\.ts$/.test(file))
  .map((file) => {
    const [, name, method] = /^(.*?)(?:\/index)?\.(post|put|patch|delete)\.ts$/.exec(file.split(path.sep).join('/'))!
    return { method: method!.toUpperCase(), route: `/api/${name}` }
  })
  // Those that end the session or the demo; and the plans, which are computed by a worker and would only wait for each
  // other.
  .filter(({ route }) => !/sign-|first-owner|company\/import|plans\/\[id\]\/run/.test(route))
  .sort((a, b) => a.route.localeCompare(b.route))
const KINDS = ['suppliers', 'customers', 'bins', 'units', 'calendars', 'routes', 'currencies', 'bills', 'break-downs']

const ADDRESSES = ROUTES.flatMap(({ method, route }) =>
  (route.includes('[kind]') ? KINDS : ['']).map((kind): [string, string] => [
    method,
    route.replace('[kind]', kind).replace(/\[[^\]]+\]/g, '1'),
  ]),
)

type Body = Record<string, unknown>
interface Answer {
  readonly status: number
  readonly fields: Readonly<Record<string, string>>
}

/** The body with a value at a path such as `lines.0.quantity`; lists and objects on the way are made. */
function put(body: Body, at: string, value: unknown): Body {
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

/** Every path of a body to something that is no object and no list. */
function leaves(value: unknown, at = ''): string[] {
  return typeof value === 'object' && value !== null
    ? [
        ...(at === '' ? [] : [at]),
        ...Object.entries(value).flatMap(([key, inner]) => leaves(inner, at === '' ? key : `${at}.${key}`)),
      ]
    : [at]
}

test('inside every field of every request: a refusal, never “something went wrong here”', async () => {
  test.setTimeout(900_000)
  await withOwnServer('fields', async (base) => {
    const cookie = await signIn(base)
    const faults: string[] = []
    let asked = 0
    const send = async (method: string, address: string, body: unknown): Promise<Answer> => {
      asked++
      const answer = await fetch(`${base}${address}`, {
        method,
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify(body),
      })
      const text = await answer.text()
      if (answer.status >= 500) {
        faults.push(`${answer.status} ${method} ${address} ${JSON.stringify(body).slice(0, 300)}`)
      }
      const problem = answer.status === 400 ? (JSON.parse(text) as { fields?: Record<string, string> }) : {}
      return { status: answer.status, fields: problem.fields ?? {} }
    }
    /** What the route is content with, or comes nearest to it. */
    const learn = async (method: string, address: string): Promise<Body> => {
      const tried = new Map<string, number>()
      let body: Body = {}
      for (let round = 0; round < ROUNDS; round++) {
        const { fields } = await send(method, address, body)
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
    const left = [...ADDRESSES]
    const lane = async (): Promise<void> => {
      for (let next = left.pop(); next; next = left.pop()) {
        const [method, address] = next
        const body = await learn(method, address)
        const variants = leaves(body).flatMap((field) => EVIL.map((value) => put(body, field, value)))
        for (const variant of variants) {
          await send(method, address, 'key' in body ? { ...variant, key: variant.key ?? randomUUID() } : variant)
        }
      }
    }
    await Promise.all(Array.from({ length: LANES }, lane))
    expect(faults).toEqual([])
    // It got inside: hundreds of fields were found, not only the outermost.
    expect(asked).toBeGreaterThan(5000)
  })
})

async function signIn(base: string): Promise<string> {
  const answer = await fetch(`${base}/api/company/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'ines@hollowmere.example', password: PASSWORD }),
  })
  return answer.headers.get('set-cookie')!.split(';')[0]!
}
