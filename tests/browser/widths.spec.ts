import { expect, test, type Page } from '@playwright/test'
import { enter, faults } from './helpers'

/*
 * Every page at the three widths, by day and by lamp: nothing scrolls sideways, nothing is said in the console, and axe
 * finds nothing. What is wider than a phone scrolls in a frame of its own.
 */

const WIDTHS = [1280, 1024, 390]
/** A window of 1280 × 800 at 200 %. */
const DOUBLED = 640

/** The first of a list, for the page of one of its things. */
async function firstOf(page: Page, address: string): Promise<{ id: number; kind?: string; jobId?: number }> {
  const answer = (await (await page.request.get(address)).json()) as { rows?: never[] }
  return (answer.rows ?? (answer as unknown as never[]))[0]!
}

const PAGES: readonly (string | ((page: Page) => Promise<string>))[] = [
  '/',
  '/catalogue',
  '/catalogue/new',
  async (page) => `/catalogue/${(await firstOf(page, '/api/catalogue/items?search=CASE&size=1')).id}`,
  '/catalogue/lists/suppliers?open=1',
  '/catalogue/lists/customers',
  '/catalogue/lists/groups?open=1',
  '/catalogue/lists/calendars?open=1',
  '/catalogue/lists/price-lists',
  '/catalogue/files',
  '/structure',
  async (page) => `/structure/${(await firstOf(page, '/api/catalogue/items?search=CASE&size=1')).id}`,
  '/demand',
  '/demand?tab=history',
  '/demand?tab=forecasts',
  '/demand/orders/new',
  async (page) => `/demand/orders/${(await firstOf(page, '/api/demand/orders?size=1')).id}`,
  '/demand/shop',
  '/planning',
  '/purchasing',
  '/purchasing?tab=list',
  '/purchasing?tab=arrivals',
  '/purchasing?tab=quotations',
  '/purchasing/quotations/1',
  '/purchasing?tab=blankets',
  '/purchasing/blankets/1',
  '/purchasing/new',
  async (page) => `/purchasing/${(await firstOf(page, '/api/purchasing/orders?size=1')).id}`,
  '/purchasing/suppliers/3',
  '/purchasing/goods-file',
  '/workshop',
  '/workshop?tab=board',
  async (page) => {
    const job = await firstOf(page, '/api/workshop/jobs?kind=build&state=&size=1')
    return `/workshop/builds/${job.jobId}`
  },
  '/workshop/cutting',
  '/workshop/cutting/1',
  '/workshop/bench/3',
  '/stock',
  '/stock?tab=sites',
  '/stock?tab=lots',
  '/stock?tab=moves',
  '/stock?tab=low',
  '/stock?tab=transfers',
  '/stock?tab=counts',
  '/stock?tab=inspection',
  '/stock?tab=plans',
  async (page) => `/stock/inspections/${(await firstOf(page, '/api/stock/inspections?size=1')).id}`,
  '/stock/counts/new',
  '/stock/transfers/new',
  '/dispatch',
  async (page) => `/dispatch/${(await firstOf(page, '/api/dispatch')).id}`,
  '/books',
  '/books?tab=months',
  '/company',
  '/company/settings',
  '/company/me',
  '/company/audit',
  '/running',
  '/running?tab=work',
  '/running?tab=programs',
  '/guide/api',
  '/company/mail',
  '/company/kit',
  '/guide',
  '/guide/planning',
  '/guide/forecasts',
]

/** What sticks out of the page to the right, if anything does. */
const sticksOut = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const main = document.querySelector('#page')!
    const room = document.documentElement.clientWidth
    if (document.documentElement.scrollWidth <= room && main.scrollWidth <= main.clientWidth) {
      return ''
    }
    const isFramed = (element: Element): boolean => {
      for (let above = element.parentElement; above && above !== main; above = above.parentElement) {
        if (/auto|hidden|scroll/.test(getComputedStyle(above).overflowX)) {
          return true
        }
      }
      return false
    }
    const out = [...document.querySelectorAll('body *')].filter(
      (element) => element.getBoundingClientRect().right > room + 1 && !isFramed(element),
    )
    return (
      out
        .slice(0, 3)
        .map((element) => element.outerHTML.slice(0, 120))
        .join(' | ') || 'the page itself'
    )
  })

/** Names of buttons, fields, tabs, columns and headings that are cut off: what leads on must be read in full. */
const cutOff = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('#page :is(button, label, h1, h2, h3, [role=tab], th)')]
      .filter(
        (element) =>
          element.checkVisibility() &&
          element.textContent.trim() !== '' &&
          !element.closest('.sr-only, [data-chip]') &&
          [element, ...element.querySelectorAll<HTMLElement>('*')].some(
            (part) =>
              getComputedStyle(part).overflowX === 'hidden' &&
              !part.classList.contains('sr-only') &&
              part.scrollWidth > part.clientWidth + 1,
          ),
      )
      .map((element) => `${element.tagName} ${element.textContent.trim().slice(0, 40)}`),
  )

/** Lists that can only be read by scrolling sideways: where their columns have no room, rows stand apart. */
const scrollingLists = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('#page .data-table')]
      .filter((list) => list.checkVisibility() && list.scrollWidth > list.parentElement!.clientWidth + 1)
      .map((list) => list.ariaLabel ?? ''),
  )

const light = (page: Page, theme: 'day' | 'lamp'): Promise<void> =>
  page.evaluate((chosen) => {
    document.documentElement.dataset.theme = chosen
  }, theme)

for (const entry of PAGES) {
  const name = typeof entry === 'string' ? entry : entry.toString().match(/`([^`$]*)/)![1]!
  test(`${name}… fits every width, by day and by lamp`, async ({ page }) => {
    // A button that is on its way from one theme to the other has the contrast of neither.
    await page.emulateMedia({ reducedMotion: 'reduce' })
    const said: string[] = []
    page.on('console', (message) => {
      if (['error', 'warning'].includes(message.type())) {
        said.push(message.text())
      }
    })
    if (typeof entry === 'string') {
      await enter(page, entry)
    } else {
      await enter(page, '/company/mail')
      await page.goto(await entry(page))
    }
    await expect(page.locator('#page h1').first()).toBeVisible()
    for (const width of WIDTHS) {
      await page.setViewportSize({ width, height: 800 })
      await light(page, 'day')
      expect(await faults(page), `at ${width} by day`).toEqual([])
      expect(await sticksOut(page), `at ${width}`).toBe('')
      expect.soft(await cutOff(page), `at ${width}`).toEqual([])
      // By lamp nothing is different but the colours.
      await light(page, 'lamp')
      expect(await faults(page, 'color-contrast'), `at ${width} by lamp`).toEqual([])
    }
    await page.setViewportSize({ width: DOUBLED, height: 400 })
    expect(await sticksOut(page), 'at 200 %').toBe('')
    await expect.poll(() => scrollingLists(page), 'at 200 %').toEqual([])
    expect(said).toEqual([])
  })
}
