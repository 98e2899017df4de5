import { expect, test, type Page } from '@playwright/test'
import { COST_FIELDS } from '../../server/utils/costs'
import { dialog, enter, faults, notice, row, signIn } from './helpers'

/*
 * Who may not see costs sees none: not on screens, in files, PDFs, or answers. A viewer of the demo is one of them; the
 * owner sees the same pages with them.
 */
const VIEWER = 'guest@hollowmere.example'
/** Pages where owners see costs; ids are those of the demo. */
const PAGES = [
  '/catalogue',
  '/catalogue/1',
  '/structure',
  '/planning',
  '/purchasing',
  '/purchasing/1',
  '/workshop',
  '/workshop/builds/1',
  '/stock',
  '/stock?tab=moves',
  '/stock?tab=counts',
  '/stock/counts/1',
  '/demand?tab=history',
  '/books',
]
const FILES = [
  '/api/catalogue/tables/items',
  '/api/catalogue/tables/supplier-terms?format=xlsx',
  '/api/purchasing/orders/1/print',
  '/api/export/journal?from=2026-01-01&until=2026-12-31',
  '/api/structure/bills/file',
  '/api/structure/1/explode?format=csv',
  '/api/stock/moves?sort=value',
  '/api/books/value',
]

/** The values that stand at a path of an answer; lists are gone through. */
function at(value: unknown, [name, ...inner]: readonly string[]): unknown[] {
  if (Array.isArray(value)) {
    return value.flatMap((entry) => at(entry, [name!, ...inner]))
  }
  const own = (value as Record<string, unknown> | null)?.[name!]
  if (own === undefined) {
    return []
  }
  return inner.length === 0 ? [own] : at(own, inner)
}

async function figures(page: Page): Promise<Map<string, unknown[]>> {
  const found = new Map<string, unknown[]>()
  for (const [route, fields] of Object.entries(COST_FIELDS)) {
    const answer = await page.request.get(route.replace(':kind', 'bills').replaceAll(/:\w+/g, '1'))
    if (answer.ok() && answer.headers()['content-type']?.startsWith('application/json')) {
      const body: unknown = await answer.json()
      fields.forEach((field) => found.set(`${route} ${field}`, at(body, field.split('.'))))
    }
  }
  return found
}

test('a viewer is answered no costs, where the owner is', async ({ page, browser }) => {
  await signIn(page)
  const seen = [...(await figures(page))].filter(([, values]) => values.some((value) => value !== null))
  expect(seen.length).toBeGreaterThan(12)
  const other = await (await browser.newContext()).newPage()
  await signIn(other, VIEWER)
  const told = [...(await figures(other))].filter(([, values]) => values.some((value) => value !== null))
  expect(told).toEqual([])
  for (const file of FILES) {
    expect([file, (await page.request.get(file)).status()]).toEqual([file, 200])
    const refused = await other.request.get(file)
    expect([file, refused.status()]).toEqual([file, 403])
  }
})

test('a viewer sees every page without costs and without a fault; the right alone brings them', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000)
  const other = await (await browser.newContext()).newPage()
  const said: string[] = []
  other.on('console', (message) => message.type() === 'error' && said.push(message.text()))
  other.on('pageerror', (error) => said.push(error.message))
  await signIn(other, VIEWER)
  const { rows: bills } = (await (await other.request.get('/api/structure/bills?size=500')).json()) as {
    rows: { id: number; billId: number | null }[]
  }
  const made = bills.find(({ billId }) => billId !== null)!.id
  for (const path of [`/structure/${made}`, `/structure/${made}?tab=levels`, ...PAGES]) {
    await other.goto(path)
    await expect(other.getByRole('heading').first()).toBeVisible()
    await expect(other.getByText(/NaN|undefined|null/)).toHaveCount(0)
  }
  expect(said).toEqual([])
  await expect(other.getByText('The books are not for everybody here')).toBeVisible()
  await expect(other.getByRole('navigation', { name: 'Areas' }).first().getByText('Books')).toHaveCount(0)
  await other.goto('/purchasing/1')
  await expect(other.getByRole('columnheader', { name: 'Ordered' })).toBeVisible()
  await expect(other.getByText('€')).toHaveCount(0)
  expect(await faults(other)).toEqual([])
  await other.goto('/stock?tab=moves')
  await expect(other.getByRole('columnheader', { name: 'Quantity' }).first()).toBeVisible()
  await expect(other.getByRole('columnheader', { name: 'Value' })).toHaveCount(0)

  await enter(page, '/company')
  await row(page, 'People', VIEWER)
    .getByRole('button', { name: /^Change/ })
    .click()
  await dialog(page).getByLabel('See what things cost').check()
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(notice(page, 'is changed.')).toBeVisible()
  await signIn(other, VIEWER)
  await other.goto('/purchasing/1')
  await expect(other.getByText('€').first()).toBeVisible()
  await other.goto('/books')
  await expect(other.getByText('in stock', { exact: true })).toBeVisible()

  // As it was, for whoever comes after.
  const people = (await (await page.request.get('/api/company/people')).json()) as Person[]
  const { id, name, role, version } = people.find(({ email }) => email === VIEWER)!
  await page.request.put(`/api/company/people/${id}`, { data: { name, role, version, rights: [], active: true } })
})
interface Person {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly role: string
  readonly version: number
}
