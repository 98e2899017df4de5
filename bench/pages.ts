import { chromium, type Browser, type BrowserContext, type Page } from '@playwright/test'
import { ensureBuild } from '../scripts/lib/build.mjs'
import { chromiumPath, ensureDebian } from '../scripts/lib/packages.mjs'
import { freePort } from '../scripts/lib/run.mjs'
import { startServer } from '../scripts/lib/server.mjs'
import type { Figure } from './figure'

/**
 * What somebody waits for in Chromium, with the demo: each page beside a picture of 1 kB that the same server sends to
 * the same browser.
 */
const RUNS = 3
const MOST_REQUESTS = 40
const MOST_KILOBYTES = 250
const MOST_TASK = 200
const PASSWORD = 'boards-and-thread'

interface Looked {
  readonly name: string
  readonly address: string
  /** What is there once the page answers what one came for. */
  readonly content: string
  /** How one gets there from another page; by its link in the strip, or in the page. */
  readonly link: string
  readonly from: string
}
interface Loaded {
  readonly ms: number
  readonly requests: number
  readonly kilobytes: number
  readonly longestTask: number
}

export async function* run({ root }: { readonly root: string }): AsyncGenerator<Figure> {
  ensureDebian({ chromium: true })
  ensureBuild(root)
  const port = await freePort()
  const server = await startServer({
    root,
    port,
    databaseUrl: process.env.DATABASE_URL!,
    sessionPassword: 'a throw-away password of the bench',
    begin: 'demo',
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: ['--no-sandbox', '--disable-gpu'] })
  try {
    const base = `http://127.0.0.1:${port}`
    const item = await itemNamed(browser, base, 'NB-POCKET')
    const bare = await leastOf(() => loadBare(browser, base))
    for (const page of pagesWith(item)) {
      yield* measure(browser, base, page, bare)
    }
  } finally {
    await browser.close()
    await server.stop()
  }
}

const pagesWith = (item: number): readonly Looked[] => [
  { name: 'Today', address: '/', content: 'section h2', link: 'nav a[href="/"]', from: '/catalogue' },
  {
    name: 'Catalogue',
    address: '/catalogue',
    content: '.data-table tbody [role=row]',
    link: 'nav a[href="/catalogue"]',
    from: '/',
  },
  {
    name: 'an item',
    address: `/catalogue/${item}`,
    content: '[aria-label="Projected balance by week"]',
    link: '.data-table tbody [role=row]',
    from: '/catalogue?search=NB-POCKET',
  },
  {
    name: 'Stock on hand',
    address: '/stock',
    content: '.data-table tbody [role=row]',
    link: 'nav a[href="/stock"]',
    from: '/',
  },
  {
    name: 'Sales history',
    address: '/demand?tab=history',
    content: '[role=figure] svg',
    link: '',
    from: '',
  },
]

async function* measure(browser: Browser, base: string, page: Looked, bare: number): AsyncGenerator<Figure> {
  const loads: Loaded[] = []
  for (let at = 0; at < RUNS; at++) {
    loads.push(await loadCold(browser, base, page))
  }
  const least = (of: (load: Loaded) => number): number => Math.min(...loads.map(of))
  const row = (figure: string, value: number, unit: string, comparedWith: string, than: number): Figure => ({
    bench: 'pages',
    figure: `${page.name}: ${figure}`,
    value,
    unit,
    comparedWith,
    ratio: value / than,
  })
  const cold = least((load) => load.ms)
  yield row('content, with nothing kept', cold, 'ms', 'a picture of 1 kB from the same server', bare)
  yield row(
    'longest task until then',
    least((load) => load.longestTask),
    'ms',
    `${MOST_TASK} ms`,
    MOST_TASK,
  )
  yield row(
    'requests',
    least((load) => load.requests),
    '',
    `${MOST_REQUESTS}, the most that is wanted`,
    MOST_REQUESTS,
  )
  yield row(
    'over the wire',
    least((load) => load.kilobytes),
    'kB',
    `${MOST_KILOBYTES} kB`,
    MOST_KILOBYTES,
  )
  if (page.link) {
    const next = await leastOf(() => goThere(browser, base, page))
    yield row('content, from another page', next, 'ms', 'the same with nothing kept', cold)
  }
}

async function leastOf(work: () => Promise<number>): Promise<number> {
  let least = Infinity
  for (let at = 0; at < RUNS; at++) {
    least = Math.min(least, await work())
  }
  return least
}

async function signedIn(browser: Browser, base: string): Promise<BrowserContext> {
  const context = await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } })
  await context.request.post('/api/company/sign-in', { data: { email: 'ines@hollowmere.example', password: PASSWORD } })
  return context
}

async function itemNamed(browser: Browser, base: string, code: string): Promise<number> {
  const context = await signedIn(browser, base)
  const answer = await context.request.get(`/api/catalogue/items?search=${code}`)
  const { rows } = (await answer.json()) as { rows: { id: number; code: string }[] }
  await context.close()
  return rows.find((row) => row.code === code)!.id
}

async function loadBare(browser: Browser, base: string): Promise<number> {
  const context = await browser.newContext({ baseURL: base })
  const page = await context.newPage()
  const start = performance.now()
  await page.goto('/tsumiki.svg')
  const took = performance.now() - start
  await context.close()
  return took
}

async function loadCold(browser: Browser, base: string, { address, content }: Looked): Promise<Loaded> {
  const context = await signedIn(browser, base)
  const page = await context.newPage()
  await page.addInitScript(() => {
    const tasks = ((window as unknown as { tasks: number[] }).tasks = [])
    new PerformanceObserver((list) =>
      list.getEntries().forEach((entry) => tasks.push(entry.duration as never)),
    ).observe({
      type: 'longtask',
      buffered: true,
    })
  })
  const sent = await countTraffic(page)
  const start = performance.now()
  await page.goto(address)
  await page.locator(content).first().waitFor()
  const ms = performance.now() - start
  await page.waitForLoadState('networkidle')
  const longestTask = await page.evaluate(() => Math.max(0, ...(window as unknown as { tasks: number[] }).tasks))
  const { requests, bytes } = sent
  await context.close()
  return { ms, requests, kilobytes: bytes / 1000, longestTask }
}

/** Requests, and bytes as they come over the wire: compressed, with their heads. */
async function countTraffic(page: Page): Promise<{ requests: number; bytes: number }> {
  const sent = { requests: 0, bytes: 0 }
  const session = await page.context().newCDPSession(page)
  await session.send('Network.enable')
  session.on('Network.loadingFinished', ({ encodedDataLength }) => {
    sent.requests++
    sent.bytes += encodedDataLength
  })
  return sent
}

/** From a page that is at rest, by its link. */
async function goThere(browser: Browser, base: string, { from, link, content }: Looked): Promise<number> {
  const context = await signedIn(browser, base)
  const page = await context.newPage()
  await page.goto(from)
  await page.locator(link).first().waitFor()
  await page.waitForLoadState('networkidle')
  const start = performance.now()
  await page.locator(link).first().click()
  await page.locator(content).first().waitFor()
  const took = performance.now() - start
  await context.close()
  return took
}
