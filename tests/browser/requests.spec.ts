import { readFileSync, readdirSync } from 'node:fs'
import path from 'node:path'
import { expect, test, type APIRequestContext } from '@playwright/test'
import { enter } from './helpers'

/** Every route of the server by the names of its files: its method and its path, ids still to be filled in. */
const ROUTES = readdirSync('server/api', { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.(get|post|put|delete|patch)\.ts$/.test(file))
  .map((file) => {
    const [, name, method] = /^(.*?)(?:\/index)?\.(get|post|put|delete|patch)\.ts$/.exec(
      file.split(path.sep).join('/'),
    )!
    return { method: method!.toUpperCase(), path: `/api/${name}` }
  })
  .filter(({ path: route }) => !/sign-out|first-owner/.test(route))
  .sort((a, b) => a.path.localeCompare(b.path))

const IDS = ['1', '0', '-1', '2147483648', '99999999999999999999', 'x', '1.5', '%00']
const BODIES = [
  '{"broken',
  'null',
  '[]',
  '"text"',
  '{}',
  '{"id":2147483648,"version":99999999999999999999,"quantity":1e30,"name":"\\u0000"}',
]

/** What does not fit is refused with a sentence: a client’s fault, never ours. */
test.describe('whatever is sent, the answer is never “something went wrong here”', () => {
  const areas = [...new Set(ROUTES.map((route) => route.path.split('/')[2]!))]
  for (const area of areas) {
    test(area, async ({ request }) => {
      await signIn(request)
      const faults: string[] = []
      for (const { method, path: route } of ROUTES.filter((entry) => entry.path.split('/')[2] === area)) {
        for (const [address, body] of variantsOf(method, route)) {
          const answer = await request.fetch(address, {
            method,
            ...(body === null ? {} : { data: Buffer.from(body), headers: { 'content-type': 'application/json' } }),
          })
          if (answer.status() >= 500) {
            faults.push(`${answer.status()} ${method} ${address} ${body ?? ''}`)
          }
        }
      }
      expect(faults).toEqual([])
    })
  }

  test('no such route is 404, a method that a route does not have 405', async ({ request }) => {
    await signIn(request)
    expect((await request.get('/api/no/such/route')).status()).toBe(404)
    expect((await request.delete('/api/find')).status()).toBe(405)
  })
})

async function signIn(request: APIRequestContext): Promise<void> {
  const answer = await request.post('/api/company/sign-in', {
    data: { email: 'ines@hollowmere.example', password: 'boards-and-thread' },
  })
  expect(answer.ok()).toBe(true)
}

/** An address with each kind of id, and for what takes a body each kind of body. */
function variantsOf(method: string, route: string): [string, string | null][] {
  const addressed = /\[/.test(route) ? IDS.map((id) => route.replace(/\[[^\]]+\]/g, id)) : [route]
  if (method === 'GET') {
    const strange = '?page=2147483648&size=1e9&search=%00%25_&quantity=1e400&day=5.12.2026&itemId=2147483648'
    return addressed.flatMap((address): [string, null][] => [
      [address, null],
      [address + strange, null],
    ])
  }
  const [first = route, ...others] = addressed
  return [
    ...BODIES.map((body): [string, string] => [first.replace(/\/1(?=\/|$)/, '/2147483647'), body]),
    ...others.map((address): [string, string] => [address, '{}']),
  ]
}

test('long answers go over the wire compressed, where that is understood', async ({ request }) => {
  await request.post('/api/company/sign-in', {
    data: { email: 'ines@hollowmere.example', password: 'boards-and-thread' },
  })
  const packed = await request.get('/api/catalogue/references', { headers: { 'accept-encoding': 'gzip' } })
  const plain = await request.get('/api/catalogue/references', { headers: { 'accept-encoding': 'identity' } })
  expect(packed.headers()).toMatchObject({ 'content-encoding': 'gzip', 'content-type': 'application/json' })
  expect(plain.headers()['content-encoding']).toBeUndefined()
  expect(await packed.json()).toEqual(await plain.json())
})

test('each import has a sample file beside it', async ({ page }) => {
  await enter(page, '/catalogue/files')
  await expect(page.getByRole('link', { name: 'A sample file' })).toHaveAttribute('href', /^\/samples\/[a-z-]+\.csv$/)
  for (const file of readdirSync('public/samples')) {
    const answer = await page.request.get(`/samples/${file}`)
    expect([file, answer.status(), (await answer.body()).equals(readFileSync(`public/samples/${file}`))]).toEqual([
      file,
      200,
      true,
    ])
  }
})
