import { request as http } from 'node:http'
import { expect, test, type APIRequestContext } from '@playwright/test'
import { enter, PASSWORD } from './helpers'

/*
 * What stands between a foreign page, or somebody who sends what nobody should, and the goods.
 */
const signIn = async (request: APIRequestContext): Promise<void> => {
  const data = { email: 'ines@hollowmere.example', password: PASSWORD }
  expect((await request.post('/api/company/sign-in', { data })).ok()).toBe(true)
}
const host = process.env.TSUMIKI_URL!

test.describe('a page that is not ours changes nothing', () => {
  const FOREIGN: readonly (readonly [string, Record<string, string>])[] = [
    ['another site', { origin: 'https://elsewhere.example' }],
    ['another port of the same host', { origin: 'http://127.0.0.1:1' }],
    ['the same host over another scheme', { origin: host.replace('http:', 'https:') }],
    ['a page in a sandbox', { origin: 'null' }],
    ['a name that only begins like ours', { origin: `${host}.elsewhere.example` }],
    ['a browser that says so without an origin', { 'sec-fetch-site': 'cross-site' }],
    ['a browser on a neighbouring name', { 'sec-fetch-site': 'same-site' }],
    [
      'a forged forwarded host, as no proxy is trusted',
      { origin: 'https://a.example', 'x-forwarded-host': 'a.example' },
    ],
  ]
  for (const [name, headers] of FOREIGN) {
    test(name, async ({ request }) => {
      await signIn(request)
      for (const [method, path] of [
        ['POST', '/api/company/first-owner'],
        ['POST', '/api/company/sign-in'],
        ['POST', '/api/company/people'],
        ['PUT', '/api/company/settings'],
        ['DELETE', '/api/company/me/sessions'],
        ['POST', '/api/stock/corrections'],
      ] as const) {
        const answer = await request.fetch(path, { method, data: {}, headers })
        expect([path, answer.status(), await answer.json()]).toMatchObject([
          path,
          403,
          { type: 'urn:tsumiki:foreign-origin' },
        ])
      }
    })
  }
  test('our own pages and scripts do', async ({ request }) => {
    await signIn(request)
    for (const headers of [{ origin: host }, { 'sec-fetch-site': 'same-origin' }, {}]) {
      const answer = await request.delete('/api/company/me/sessions/999999', {
        headers: headers as Record<string, string>,
      })
      expect(answer.status()).toBe(404)
    }
  })
})

test('what is no JSON is not read, and what is too large is refused before it is read', async ({ request }) => {
  await signIn(request)
  const send = (type: string) =>
    request.post('/api/stock/corrections', { data: Buffer.from('{}'), headers: { 'content-type': type } })
  for (const type of [
    'text/plain',
    'application/x-www-form-urlencoded',
    'multipart/form-data; boundary=x',
    'application/jsonp',
  ]) {
    expect([type, (await send(type)).status()]).toEqual([type, 415])
  }
  expect((await send('application/json; charset=utf-8')).status()).toBe(400)
  const large = JSON.stringify({ text: 'x'.repeat(1024 * 1024) })
  const answer = await request.post('/api/stock/corrections', {
    data: large,
    headers: { 'content-type': 'application/json' },
  })
  expect([answer.status(), ((await answer.json()) as { detail: string }).detail]).toEqual([
    413,
    'This is larger than the 1 MB that are read here. Nothing was read.',
  ])
})

test('somebody who announces 200 MB, or will not say how much, is answered at once', async () => {
  const announce = (headers: Record<string, string>): Promise<number> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(host)
      const sent = http({ hostname, port, path: '/api/company/sign-in', method: 'POST', headers }, (answer) => {
        resolve(answer.statusCode!)
        sent.destroy()
      })
      sent.on('error', reject)
      sent.write('{')
    })
  const type = { 'content-type': 'application/json' }
  expect(await announce({ ...type, 'content-length': String(200 * 1024 * 1024) })).toBe(413)
  expect(await announce({ ...type, 'transfer-encoding': 'chunked' })).toBe(413)
})

test('a link to a new password leads to this machine, whatever host the request claims', async ({ page }) => {
  const { hostname: name, port } = new URL(host)
  const body = JSON.stringify({ email: 'guest@hollowmere.example' })
  const status = await new Promise<number>((resolve, reject) => {
    const headers = { host: 'evil.example', 'content-type': 'application/json', 'content-length': body.length }
    const sent = http({ hostname: name, port, path: '/api/company/forgotten', method: 'POST', headers }, (answer) => {
      answer.resume()
      resolve(answer.statusCode!)
    })
    sent.on('error', reject)
    sent.end(body)
  })
  expect(status).toBe(200)
  await page.request.post('/api/company/sign-in', { data: { email: 'guest@hollowmere.example', password: PASSWORD } })
  const [letter] = (await (await page.request.get('/api/company/mails')).json()) as { body: string }[]
  expect(letter!.body).toContain('/password#')
  expect(letter!.body).not.toContain('evil.example')
})

test('pages say what browsers may do with them, and private answers are kept nowhere', async ({ page }) => {
  const said: string[] = []
  page.on('console', (message) => {
    if (['error', 'warning'].includes(message.type())) {
      said.push(message.text())
    }
  })
  await enter(page, '/')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  const headers = (await page.request.get('/')).headers()
  expect(headers).toMatchObject({
    'x-content-type-options': 'nosniff',
    'x-frame-options': 'DENY',
    'referrer-policy': 'same-origin',
  })
  const policy = headers['content-security-policy']!
  expect(policy).toContain("frame-ancestors 'none'")
  expect(policy).not.toMatch(/script-src[^;]*unsafe/)
  // A script that somebody slips into the page does not run.
  await page.evaluate(() => {
    const script = document.createElement('script')
    script.textContent = 'document.title = "slipped in"'
    document.body.append(script)
  })
  expect(await page.title()).not.toBe('slipped in')
  expect(said.filter((text) => !/slipped in|Content Security Policy/.test(text))).toEqual([])
  expect((await page.request.get('/api/stock/balances')).headers()['cache-control']).toBe('no-store')
})
