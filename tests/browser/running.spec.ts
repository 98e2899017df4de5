import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { randomUUID } from 'node:crypto'
import { expect, request as requests, test } from '@playwright/test'
import ICAL from 'ical.js'
import Ajv2020 from 'ajv/dist/2020.js'
import type { ApiDescription, ApiOperation } from '../../shared/running/api-description'
import { dialog, enter, faults, notice, row } from './helpers'
import { api, makeItem, references } from './own-goods'

/** The one operation whose summary says this; the script knows nothing else of the interface. */
function operationThat(description: ApiDescription, says: string): { path: string; method: string } & ApiOperation {
  const found = Object.entries(description.paths).flatMap(([path, methods]) =>
    Object.entries(methods).flatMap(([method, operation]) =>
      operation.summary?.startsWith(says) ? [{ path, method, ...operation }] : [],
    ),
  )
  expect(found.map(({ path }) => path)).toHaveLength(1)
  return found[0]!
}

test('a script that knows nothing but the description changes stock by a key, within what the key allows', async ({
  page,
  baseURL,
}) => {
  await enter(page, '/running?tab=programs')
  const itemId = await makeItem(page, 'BY-KEY')
  const { bins } = await references(page)
  await page.getByRole('button', { name: 'Make a key' }).click()
  await dialog(page).getByLabel('Name').fill('Scale at the bench')
  await dialog(page).getByRole('button', { name: 'Make the key' }).click()
  const token = (await page.locator('[data-test=key]').textContent())!
  await page.keyboard.press('Escape')
  await expect(row(page, 'Keys for scripts', 'Scale at the bench')).toContainText('never')
  expect(await faults(page)).toEqual([])

  const script = await requests.newContext({ baseURL, extraHTTPHeaders: { authorization: `Bearer ${token}` } })
  const description = (await (await script.get('/api/openapi.json')).json()) as ApiDescription
  expect(description.openapi).toBe('3.1.0')
  const correcting = operationThat(description, 'Changes a quantity on purpose')
  expect(correcting['x-right']).toBe('stock')
  const data = {
    key: randomUUID(),
    itemId,
    binId: bins[0]!.id,
    lot: '',
    direction: 'more',
    quantity: '12',
    unit: 'piece',
    reason: 'opening stock',
    unitCost: '1.50',
  }
  const { required = [] } = correcting.requestBody!.content['application/json']!.schema
  expect(Object.keys(data)).toEqual(expect.arrayContaining([...required]))
  const refused = await script.fetch(correcting.path, { method: correcting.method, data })
  expect([refused.status(), ((await refused.json()) as { detail: string }).detail]).toEqual([
    403,
    'This key may not do that: it needs the right “stock”.',
  ])
  const wider = await api<{ token: string }>(page, 'running/keys', { name: 'Scale', rights: ['see', 'stock'] })
  const other = await requests.newContext({ baseURL, extraHTTPHeaders: { authorization: `Bearer ${wider.token}` } })
  const done = await other.fetch(correcting.path, { method: correcting.method, data })
  expect(done.ok()).toBe(true)
  const answer = correcting.responses['200']!.content['application/json']!.schema!
  const ajv = new Ajv2020({ strict: false, schemas: [{ $id: 'tsumiki', components: description.components }] })
  expect(ajv.validate({ ...answer, $id: 'answer' }, await done.json())).toBe(true)

  await page.reload()
  await expect(row(page, 'Keys for scripts', 'Scale at the bench')).toContainText(/from (::ffff:)?127\.0\.0\.1/)
  await page.getByRole('button', { name: 'End the key Scale at the bench' }).click()
  await dialog(page).getByRole('button', { name: 'End it' }).click()
  await expect(notice(page, 'The key “Scale at the bench” opens nothing any more.')).toBeVisible()
  const after = await script.get('/api/openapi.json')
  expect([after.status(), after.headers()['www-authenticate']]).toEqual([401, 'Bearer error="invalid_token"'])
  // A key is for scripts: it is no person's sign-in.
  expect((await other.get('/api/company/me')).status()).toBe(401)
})

test('what is answered is what the description says, for everything that can be asked without knowing more', async ({
  page,
}) => {
  await enter(page, '/guide/api')
  await expect(page.getByRole('heading', { name: 'What a script can ask' })).toBeVisible()
  const description = (await (await page.request.get('/api/openapi.json')).json()) as ApiDescription
  const ajv = new Ajv2020({ strict: false, allErrors: true })
  ajv.addSchema({ $id: 'tsumiki', components: description.components })
  const wrong: string[] = []
  let answered = 0
  for (const [path, methods] of Object.entries(description.paths)) {
    const schema = methods.get?.responses['200']?.content['application/json']?.schema
    if (!schema || path === '/api/openapi.json') {
      continue
    }
    const answer = await page.request.get(path.replaceAll(/\{kind\}/g, 'suppliers').replaceAll(/\{\w+\}/g, '1'))
    if (!answer.ok() || answer.status() === 204) {
      continue
    }
    if (!answer.headers()['content-type']?.startsWith('application/json')) {
      wrong.push(`${path} is told as JSON, and gives ${answer.headers()['content-type']}`)
      continue
    }
    answered++
    const pointed = JSON.parse(JSON.stringify(schema).replaceAll('"#/', '"tsumiki#/')) as object
    const validate = ajv.compile(pointed)
    if (!validate(await answer.json())) {
      wrong.push(`${path} ${ajv.errorsText(validate.errors?.slice(0, 3))}`)
    }
  }
  expect(wrong).toEqual([])
  expect(answered).toBeGreaterThan(60)

  await page.getByLabel('Find a request').fill('corrections')
  await page.getByText('/api/stock/corrections').click()
  await expect(page.getByText('unitCost')).toBeVisible()
  expect(await faults(page)).toEqual([])
})

test('another program is told once, though it failed twice; its calls are looked at and sent again', async ({
  page,
}) => {
  const told: string[] = []
  const answers = [500, 500]
  const receiver = createServer((request, response) => {
    let body = ''
    request.on('data', (chunk: Buffer) => (body += String(chunk)))
    request.on('end', () => {
      const status = answers.shift() ?? 204
      if (status === 204) {
        told.push(body)
      }
      response.writeHead(status).end()
    })
  })
  await new Promise<void>((resolve) => receiver.listen(0, '127.0.0.1', resolve))
  await enter(page, '/running?tab=programs')
  await page.getByRole('button', { name: 'Add a web hook' }).click()
  await dialog(page).getByLabel('Name').fill('Web shop')
  await dialog(page).getByLabel('Address').fill('shop')
  await dialog(page).getByRole('button', { name: 'Add it' }).click()
  await expect(dialog(page).getByText('Give a whole address')).toBeVisible()
  await dialog(page)
    .getByLabel('Address')
    .fill(`http://127.0.0.1:${(receiver.address() as AddressInfo).port}/told`)
  for (const event of [/^Orders/, /^Receipts/, /^Builds/, /^Shipments/]) {
    await dialog(page).getByLabel(event).uncheck()
  }
  await dialog(page).getByRole('button', { name: 'Add it' }).click()
  await expect(page.locator('[data-test=secret]')).toContainText('whsec_')
  await page.keyboard.press('Escape')

  const itemId = await makeItem(page, 'BY-HOOK')
  const { bins } = await references(page)
  await api(page, 'stock/corrections', {
    key: randomUUID(),
    itemId,
    binId: bins[0]!.id,
    lot: '',
    direction: 'more',
    quantity: '3',
    unit: 'piece',
    reason: 'opening stock',
    unitCost: '1',
  })
  await expect.poll(() => told.length, { timeout: 30_000 }).toBe(1)
  expect(JSON.parse(told[0]!)).toMatchObject({ event: 'stock', moves: [{ item: 'BY-HOOK', quantity: '3' }] })
  await page.getByRole('button', { name: 'Calls of Web shop' }).click()
  await expect(page.getByRole('list', { name: 'Calls' })).toContainText('at try 3')
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: /^Send again: stock/ }).click()
  await expect.poll(() => told.length, { timeout: 30_000 }).toBe(2)
  expect(told[1]).toBe(told[0])
  await page.keyboard.press('Escape')

  await page.getByRole('button', { name: 'Change Web shop' }).click()
  await dialog(page).getByRole('button', { name: 'Take it away' }).click()
  await expect(notice(page, 'Web shop is told nothing any more.')).toBeVisible()
  await new Promise((resolve) => receiver.close(resolve))
})

test('the owner sees whether everything is in order, has the ledger checked, and what was done in the background', async ({
  page,
}) => {
  await enter(page, '/running')
  await expect(page.getByRole('list', { name: 'Checks' })).toContainText('PostgreSQL')
  await page.getByRole('button', { name: 'Check the ledger' }).click()
  await expect(notice(page, 'The ledger is worked out again')).toBeVisible()
  await expect(async () => {
    await page.getByRole('button', { name: 'Look again' }).click()
    await expect(page.getByText('every quantity and value agreed with the moves')).toBeVisible({ timeout: 1000 })
  }).toPass()
  expect(await faults(page)).toEqual([])
  await page.getByRole('tab', { name: 'Background work' }).click()
  await expect(row(page, 'Background work', 'Check the ledger').first()).toContainText('done')
  expect(await faults(page)).toEqual([])
})

test('a key that asks without end is told when to ask again; people are not kept waiting by it', async ({
  page,
  baseURL,
}) => {
  await enter(page, '/')
  const { token } = await api<{ token: string }>(page, 'running/keys', { name: 'Without end', rights: ['see'] })
  const script = await requests.newContext({ baseURL, extraHTTPHeaders: { authorization: `Bearer ${token}` } })
  const first = await script.get('/api/find?q=glue')
  expect([first.status(), first.headers()['ratelimit-limit'], first.headers()['ratelimit-remaining']]).toEqual([
    200,
    '600',
    '599',
  ])
  for (let batch = 0; batch < 24; batch++) {
    await Promise.all(Array.from({ length: 25 }, () => script.get('/api/find?q=glue')))
  }
  const refused = await script.get('/api/find?q=glue')
  expect(refused.status()).toBe(429)
  const { detail } = (await refused.json()) as { detail: string }
  expect(detail).toMatch(/^This key has asked 600 times within a minute\. Ask again in \d+ seconds?\.$/)
  expect(Number(refused.headers()['retry-after'])).toBeGreaterThan(0)
  expect((await page.request.get('/api/find?q=glue')).status()).toBe(200)
  await script.dispose()
})

test('a watching program reads figures by a key, in the format of OpenMetrics; each answer names its request', async ({
  page,
  baseURL,
}) => {
  await enter(page, '/')
  const { token } = await api<{ token: string }>(page, 'running/keys', { name: 'Watch', rights: ['see', 'people'] })
  const script = await requests.newContext({ baseURL, extraHTTPHeaders: { authorization: `Bearer ${token}` } })
  const answer = await script.get('/api/metrics')
  expect(answer.headers()['content-type']).toContain('application/openmetrics-text; version=1.0.0')
  const text = await answer.text()
  expect(text).toMatch(
    /^tsumiki_request_seconds_count\{method="GET",route="\/api\/company\/session",status="200"\} \d+$/m,
  )
  expect(text).toMatch(/^# TYPE tsumiki_work gauge$/m)
  // OpenMetrics 1.0.0: the exposition ends with this line.
  expect(text.endsWith('# EOF\n')).toBe(true)
  const ids = await Promise.all([script.get('/api/find'), script.get('/api/find')])
  expect(new Set(ids.map((found) => found.headers()['x-request-id'])).size).toBe(2)
})

/* RFC 5545, read by the library ical.js. */
test('a calendar program reads what is due by a private address, until it is ended', async ({ page, baseURL }) => {
  await enter(page, '/company/me')
  await page.getByRole('button', { name: /^Make an? (?:new )?address/ }).click()
  const address = (await page.locator('[data-test=feed]').textContent())!.trim()
  expect(await faults(page)).toEqual([])
  const outside = await requests.newContext({ baseURL })
  const answer = await outside.get(address)
  expect(answer.headers()['content-type']).toBe('text/calendar; charset=utf-8')
  const events = new ICAL.Component(ICAL.parse(await answer.text()) as unknown[])
    .getAllSubcomponents('vevent')
    .map((event) => new ICAL.Event(event))
  expect(events.length).toBeGreaterThan(5)
  expect(events.every((event) => event.startDate.isDate)).toBe(true)
  const orders = (await (await page.request.get('/api/demand/orders?status=open&size=500')).json()) as {
    rows: { number: string; dueOn: string; customer: string }[]
  }
  for (const { number, dueOn, customer } of orders.rows) {
    const own = events.find((event) => event.summary === `Ship ${number} to ${customer}`)
    expect([number, own?.startDate.toString()]).toEqual([number, dueOn])
  }
  await page.getByRole('button', { name: 'End it' }).click()
  await expect(notice(page, 'The address opens nothing any more.')).toBeVisible()
  expect((await outside.get(address)).status()).toBe(404)
})
