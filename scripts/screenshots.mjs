import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureBuild } from './lib/build.mjs'
import { chromiumPath, ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { freePort } from './lib/run.mjs'
import { orStop, say } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = path.join(root, 'docs/screenshots')
const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

/** `npm run screenshots` takes one picture of each main view from a fresh demo, at 1280 × 800. */
async function main() {
  ensureDebian({ chromium: true })
  await ensurePackages(root)
  ensureBuild(root)
  const postgres = await startPostgres({ root, name: 'test-postgres' })
  postgres.drop('screenshots')
  const port = await freePort()
  const server = await startServer({
    root,
    port,
    ...postgres.urls('screenshots'),
    sessionPassword: 'a throw-away password of the pictures',
    begin: 'demo',
  })
  try {
    await take(`http://127.0.0.1:${port}`)
  } finally {
    await server.stop()
    await postgres.stop()
  }
}

/** Sends what a form would send. */
async function send(page, url, data) {
  const answer = await page.request.post(`/api/${url}`, { data: { key: crypto.randomUUID(), ...data } })
  if (!answer.ok()) {
    throw new Error(`${url}: ${await answer.text()}`)
  }
  return answer.json()
}

/** A drum of glue comes in, becomes tubs, and goes into two batches of cases. */
async function recall(page, item) {
  const { bins, suppliers } = await (await page.request.get('/api/catalogue/references')).json()
  const bin = (code) => bins.find((bin) => bin.code === code).id
  const order = await send(page, 'purchasing/orders', {
    supplierId: suppliers.find((supplier) => supplier.code === 'SEALAND').id,
    note: '',
    lines: [{ itemId: await item('GLUE-DRUM'), quantity: '1', unit: 'drum', price: '780', dueOn: '2026-10-05' }],
  })
  const {
    lines: [line],
  } = await (await page.request.get(`/api/purchasing/orders/${order.id}`)).json()
  await send(page, `purchasing/orders/${order.id}/receive`, {
    version: 1,
    packingList: 'SA 4471',
    lines: [
      { lineId: line.id, quantity: '1', unit: 'drum', binId: bin('COOL'), lot: 'S-7001', expiresOn: '2028-03-01' },
    ],
  })
  const down = await send(page, 'workshop/break-downs', {
    itemId: await item('GLUE-DRUM'),
    times: '1',
    dueOn: '2026-10-05',
  })
  await send(page, `workshop/break-downs/${down.id}/complete`, { version: 1, binId: bin('COOL') })
  for (const [code, quantity] of [
    ['CASE-A5-RED', '10'],
    ['CASE-A5-GREEN', '10'],
  ]) {
    const build = await send(page, 'workshop/builds', {
      itemId: await item(code),
      quantity,
      unit: 'piece',
      dueOn: '2026-10-08',
    })
    await send(page, `workshop/builds/${build.id}/record`, {
      version: 1,
      made: quantity,
      unit: 'piece',
      binId: bin('FIN'),
    })
  }
  const { rows } = await (await page.request.get('/api/stock/lots?search=S-7001&held=')).json()
  await page.goto(`/stock/lots/${rows.find((row) => row.code === 'GLUE-DRUM').lotId}`)
}

/** Each of these begins from the company as the ones before it left it. */
const SERIES = [plan, lists, demand, bill, goodsIn, workshop, dispatchAndStock]

async function take(url) {
  const { chromium } = await import('@playwright/test')
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: FLAGS })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: url })
  const shoot = async (name) => {
    await page.waitForLoadState('networkidle')
    await page.waitForTimeout(300)
    await page.screenshot({ path: path.join(folder, `${name}.png`) })
    say(name)
  }
  const item = async (code) => {
    const { rows } = await (await page.request.get(`/api/catalogue/items?search=${code}`)).json()
    return rows.find((row) => row.code === code).id
  }
  fs.mkdirSync(folder, { recursive: true })
  await page.goto('/sign-in')
  await page.getByRole('button', { name: /Ines Hartwell/ }).click()
  await page.waitForURL(`${url}/`)
  for (const series of SERIES) {
    await series(page, shoot, item)
  }
  await browser.close()
}

async function plan(page, shoot) {
  await page.goto('/planning')
  await page.getByRole('button', { name: 'Make the first plan' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Compute the plan' }).click()
  await page.getByRole('tab', { name: 'Plan board' }).waitFor()
  await page.getByRole('button', { name: 'Six lines of CLOTH-RED' }).click()
  await shoot('plan-board')
  await page.getByRole('tab', { name: /Planned orders/ }).click()
  await page
    .getByRole('row', { name: /CLOTH-RED/ })
    .first()
    .getByRole('button', { name: 'Why?' })
    .click()
  await page.getByRole('dialog').getByText('Net requirement').waitFor()
  await shoot('plan-why')
}

async function lists(page, shoot, item) {
  const views = [
    ['today', '/'],
    ['catalogue', '/catalogue'],
    ['item', `/catalogue/${await item('PAPER-100')}`],
    ['demand', '/demand'],
    ['workshop', '/workshop?tab=board'],
    ['books', '/books'],
  ]
  await page.goto('/catalogue')
  await page.evaluate(() =>
    localStorage.setItem(
      'tsumiki-item-sections',
      JSON.stringify({
        basics: false,
        units: false,
        supply: true,
        selling: false,
        marks: false,
        codes: false,
        substitutes: false,
        texts: false,
      }),
    ),
  )
  for (const [name, address] of views) {
    await page.goto(address)
    await page.getByRole('heading', { level: 1 }).waitFor()
    await shoot(name)
  }
}

async function demand(page, shoot, item) {
  await page.goto(`/demand?tab=history&item=${await item('NB-A5-NAVY')}`)
  await page.getByRole('figure').locator('svg').first().waitFor()
  await shoot('history')
  await page.goto('/demand')
  await page.getByRole('link', { name: 'SO-0201' }).click()
  await page.getByRole('button', { name: /NB-A5-NAVY.*why/ }).click()
  await shoot('promise')
  await page.goto('/demand?tab=forecasts')
  await page.getByRole('link', { name: 'Autumn 2026' }).click()
  await page.getByRole('button', { name: 'Compute from past sales' }).first().click()
  await page.getByRole('dialog').getByRole('button', { name: 'Compute', exact: true }).click()
  await page.getByText('items are forecast').waitFor()
  await page.getByRole('dialog').waitFor({ state: 'detached' })
  await page.locator('[data-of="NB-POCKET, 26 Oct"]').click()
  await page
    .getByRole('figure', { name: /NB-POCKET/ })
    .locator('svg')
    .first()
    .waitFor()
  await shoot('forecast')
}

async function bill(page, shoot, item) {
  await page.goto(`/structure/${await item('GB-A4')}`)
  await page.getByRole('button', { name: /Revision 2 draft/ }).click()
  await page.getByRole('group', { name: 'Tower of GB-A4' }).waitFor()
  await page.getByRole('button', { name: 'What CASE-A4 is made of' }).click()
  await page.locator('[data-block]').nth(1).focus()
  await shoot('bill')
}

async function goodsIn(page, shoot) {
  await page.goto('/purchasing')
  await page.getByRole('link', { name: 'PO-0042' }).click()
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await page.getByLabel('Received of NEEDLE', { exact: true }).fill('1 pack + 5')
  await shoot('goods-in')
}

async function workshop(page, shoot) {
  await page.goto('/workshop')
  await page.getByRole('link', { name: 'B-0877' }).click()
  await page.getByRole('table', { name: 'Cost against the bill' }).waitFor()
  await shoot('build')
  const bench = await page.getByRole('link', { name: 'At the bench' }).getAttribute('href')
  await page.setViewportSize({ width: 1024, height: 768 })
  await page.goto(bench)
  await page.getByRole('button', { name: 'Step 1 is done' }).click()
  await page.getByRole('button', { name: /PAPER-80/ }).click()
  await page.getByLabel('Made now').fill('4')
  await shoot('bench')
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto('/workshop/cutting')
  await page.getByRole('link', { name: 'CJ-0001' }).click()
  await page.getByText('cut from 3 pieces').waitFor()
  await shoot('cutting')
}

async function dispatchAndStock(page, shoot, item) {
  await page.goto('/dispatch')
  await page.getByRole('link', { name: 'SO-0212' }).click()
  await page.getByRole('button', { name: 'Allocate what is there' }).click()
  await page.getByRole('button', { name: /^Ship/ }).waitFor()
  await shoot('dispatch')
  await page.goto('/stock')
  await page.getByRole('button', { name: 'GLUE-BOTTLE' }).first().click()
  await page.getByRole('article').waitFor()
  await shoot('stockroom')
  await recall(page, item)
  await page.getByRole('tab', { name: 'Where it went' }).click()
  await page.getByRole('group', { name: 'Genealogy, drawn' }).waitFor()
  await shoot('genealogy')
}

await orStop(main())
