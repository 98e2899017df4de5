import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, faults, notice, row, choose, expectChosen } from './helpers'

/*
 * CRATE: bought from Tully in 5 working days, 1.00 each, 0.80 from 100 on; the web shop wants 90 at Parkside on Friday
 * 30 October. The van to Parkside takes 2 working days: 90 leave the workshop on Wednesday 28, and are ordered 5
 * working days before, on Wednesday 21. 90 × 1.00 = 90.00; 10 more, and 100 × 0.80 = 80.00: 10.00 less in all.
 */
const TABLES: readonly (readonly [string, string])[] = [
  [
    'items',
    'code,name,group,source,stock unit,finest step,tracking,lead days\nCRATE,Wooden crate,TOOLS,bought,piece,1,none,0\n',
  ],
  ['supplier-terms', 'item,supplier,unit,price,minimum,multiple,lead_days\nCRATE,TULLY,piece,1.00,0,0,5\n'],
  ['price-tiers', 'item,supplier,from_quantity,from_on,until_on,price\nCRATE,TULLY,100,,,0.80\n'],
]
async function api<T>(page: Page, url: string, data: object): Promise<T> {
  const answer = await page.request.post(`/api/${url}`, { data })
  expect([url, answer.status(), answer.ok() ? '' : await answer.text()]).toEqual([url, 200, ''])
  return (await answer.json()) as T
}
const orders = async (page: Page): Promise<string[]> =>
  (await page.getByRole('table', { name: 'Planned orders' }).getByRole('row').allInnerTexts())
    .slice(1)
    .map((text) => text.replace(/\s+/g, ' ').trim())

test.describe.configure({ mode: 'serial' })

test('an item wanted at another site is bought, moved there by the van, and both are released', async ({ page }) => {
  await enter(page, '/planning')
  for (const [table, content] of TABLES) {
    const { id, faults: found } = await api<{ id: number; faults: unknown[] }>(page, 'catalogue/batches', {
      table,
      fileName: `${table}.csv`,
      content: Buffer.from(content).toString('base64'),
    })
    expect([table, found]).toEqual([table, []])
    await api(page, `catalogue/batches/${id}/apply`, {})
  }
  const references = (await (await page.request.get('/api/catalogue/references')).json()) as {
    customers: { id: number; code: string }[]
  }
  const { rows: found } = (await (await page.request.get('/api/catalogue/items?search=CRATE')).json()) as {
    rows: { id: number; code: string }[]
  }
  const crate = found.find((match) => match.code === 'CRATE')!
  await api(page, 'demand/orders', {
    key: randomUUID(),
    customerId: references.customers.find((customer) => customer.code === 'WEB')!.id,
    dueOn: '2026-10-30',
    note: '',
    lines: [{ id: null, itemId: crate.id, quantity: '90', unit: 'piece', price: '4.00' }],
  })
  const { id } = await api<{ id: number }>(page, 'planning/plans', {
    name: 'Crates',
    kind: 'trial',
    endsOn: '2026-12-31',
    demandRule: 'orders only',
    forecastIds: [],
    forecastFalls: 'first day',
    scope: { items: 'product', of: [crate.id] },
  })
  await page.goto(`/planning/${id}`)

  // Two rows: what a site lacks stands by itself.
  const board = page.getByRole('grid', { name: 'Plan board' })
  await expect(board.getByRole('rowheader')).toHaveCount(2)
  await expect(board.getByRole('rowheader').filter({ hasText: 'Parkside Warehouse' })).toContainText('CRATE')
  await expect(board.locator('[data-hole]')).toHaveCount(2)
  await choose(page.getByLabel('Order of rows'), 'by supplier')
  await expect(board.getByRole('rowheader').first()).toContainText('Tully Threads and Tools')
  await choose(page.getByLabel('Order of rows'), 'by group')
  await expect(board.getByRole('rowheader').first()).toContainText('Tools · Wooden crate')
  await page.getByLabel('Filter items').fill('parkside')
  await expect(board.getByRole('rowheader')).toHaveCount(1)
  await board.getByRole('button', { name: 'Six lines of CRATE at Parkside Warehouse' }).click()
  await expect(board.getByRole('button', { name: /^Gross requirements of CRATE, 26 Oct: 90/ })).toBeVisible()
  await page.getByLabel('Filter items').fill('')
  expect(await faults(page)).toEqual([])

  await page.getByRole('tab', { name: 'Planned orders' }).click()
  expect((await orders(page)).map((text) => text.replace(/ in time.*/, ''))).toEqual([
    'Buy CRATE Wooden crate 90pc Tully Threads and Tools 21 Oct 28 Oct',
    'Move CRATE Wooden crate 90pc Workshop → Parkside Warehouse 28 Oct 30 Oct',
  ])
  await row(page, 'Planned orders', 'Move').getByRole('button', { name: 'Why?' }).click()
  await expect(dialog(page)).toContainText('Workshop → Parkside Warehouse')
  await expect(dialog(page)).toContainText('2 working days on the way before 30 Oct: release on 28 Oct.')
  await expect(dialog(page)).toContainText('Web shop')
  await dialog(page).getByRole('button', { name: 'Close' }).click()
  await row(page, 'Planned orders', 'Buy').getByRole('button', { name: 'Why?' }).click()
  await expect(dialog(page)).toContainText('Move 90 pc CRATE')
  await dialog(page).getByRole('button', { name: 'Close' }).click()

  // A little more costs less.
  await page.getByRole('tab', { name: 'Spend' }).click()
  await expect(page.getByRole('list', { name: 'A little more reaches a lower price' })).toContainText(
    '90 pc for €90.00; 10 pc more, and it is €80.00: €10.00 less in all',
  )

  await page.getByRole('button', { name: 'Make it the working plan' }).click()
  await expect(notice(page, /This is the working plan now/)).toBeVisible()
  await page.getByRole('tab', { name: 'Planned orders' }).click()
  await page.getByLabel('Choose all').check()
  await page.getByRole('button', { name: 'Release 2 orders' }).click()
  await dialog(page).getByRole('button', { name: 'Release 2 orders' }).click()
  await expect(notice(page, 'Released 2 documents')).toBeVisible()
  await expect(page.getByRole('checkbox', { name: /^Choose (Buy|Build|Move|Break down)/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Plan again' }).click()
  await expect(notice(page, 'Computed anew on what is there now.')).toBeVisible()
  await expect(page.getByRole('checkbox', { name: /^Choose (Buy|Build|Move|Break down)/ })).toHaveCount(0)
  await row(page, 'Planned orders', 'Move').getByRole('link', { name: /^TR-/ }).click()
  await page.waitForURL(/\/stock\/transfers\/\d+/)
  // The address changes before the page does.
  await expect(page.getByRole('table', { name: 'Planned orders' })).toHaveCount(0)
  await expect(page.getByRole('row').filter({ hasText: 'CRATE' })).toContainText('90')
})

test('what runs low: told in the Stockroom and on Today, mailed in the morning, further ahead where somebody says so', async ({
  page,
}) => {
  await enter(page, '/stock?tab=low')
  const table = page.getByRole('table', { name: 'Low stock' })
  const kit = table.getByRole('row').filter({ hasText: 'KIT-FIRST' }).filter({ hasText: 'Parkside Warehouse' })
  await expect(kit).toContainText(/Move 12\s*pc/)
  await expect(kit).toContainText('2 days late')
  const before = await table.getByRole('row').count()
  expect(await faults(page)).toEqual([])
  await page.getByLabel('Working days ahead').fill('sixty')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('Give working days.')).toBeVisible()
  await page.getByLabel('Working days ahead').fill('30')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(notice(page, 'Told 30 working days before the last day to order')).toBeVisible()
  await expect.poll(() => table.getByRole('row').count()).toBeGreaterThan(before)
  await page.getByLabel('Filter item or lot').fill('kit-first')
  await expect(table.getByRole('row').filter({ hasText: 'KIT-FIRST' }).first()).toBeVisible()
  await expect(table.getByRole('row').filter({ hasText: 'BOX-GIFT' })).toHaveCount(0)
  await page.getByLabel('Working days ahead').fill('5')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(notice(page, 'Told 5 working days before')).toBeVisible()

  await page.getByRole('link', { name: 'Your mailbox' }).click()
  await expect(page.locator('[data-test=letter]')).toContainText(
    'KIT-FIRST First binding kit, Parkside Warehouse: 0 pc left on 5 Oct, 6 to keep; move 12 pc from Workshop at once: 2 working days late',
  )
  expect(await faults(page)).toEqual([])
  const saved = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Save as .eml' }).click()
  expect((await saved).suggestedFilename()).toMatch(/items run low.*\.eml$/)
  await page.goto('/')
  await page
    .getByRole('region')
    .or(page.locator('section'))
    .filter({ hasText: 'Stock to look at' })
    .getByRole('button', { name: /more$/ })
    .click()
    .catch(() => undefined)
  await expect(page.getByText('KIT-FIRST runs low at Parkside Warehouse')).toBeVisible()

  await page.goto('/stock?tab=low')
  // From the row to the order: what is to go to Parkside from the Workshop goes in one van, and is not told again.
  await expect(kit).toBeVisible()
  const moves = table
    .getByRole('row')
    .filter({ hasText: /Move \d/ })
    .filter({ hasText: 'Parkside Warehouse' })
  const many = await moves.count()
  expect(many).toBeGreaterThan(1)
  await table.getByRole('button', { name: `Move all ${many} from Workshop for Parkside Warehouse` }).click()
  await expectChosen(page.getByLabel('From', { exact: true }), 'Workshop')
  await expect(page.getByLabel(/^Quantity of line/)).toHaveCount(many + 1)
  const codes = page.getByRole('combobox', { name: /^Item of line/ })
  const index = (
    await codes.evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value))
  ).findIndex((value) => value.startsWith('KIT-FIRST'))
  await expect(page.getByLabel(`Quantity of line ${index + 1}`, { exact: true })).toHaveValue('12')
  await page.getByRole('button', { name: 'Write the transfer' }).click()
  await expect(table).toBeVisible()
  await expect(kit).toHaveCount(0)
  await expect(moves).toHaveCount(0)
  // One alone is bought: of the supplier and at the price that its terms say, for the first day on which it can be
  // there: five working days from the 5th, Monday the 12th.
  const awl = table
    .getByRole('row')
    .filter({ hasText: 'AWL' })
    .filter({ hasText: /Buy \d/ })
  const [, wanted] = /Buy (\d+)/.exec((await awl.textContent())!)!
  await awl.getByRole('button', { name: /^Buy \d+ pc AWL/ }).click()
  await expectChosen(page.getByLabel('Supplier', { exact: true }), 'Tully Threads and Tools')
  await expect(page.getByText(`= ${wanted} pc`)).toBeVisible()
  await expect(page.getByLabel('Due date')).toHaveValue('12 Oct 2026')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(table).toBeVisible()
  await expect(awl).toHaveCount(0)
  await page.goto('/')
  await expect(page.getByText('Stock to look at')).toBeVisible()
  await expect(page.getByText('KIT-FIRST runs low at Parkside Warehouse')).toHaveCount(0)
})
