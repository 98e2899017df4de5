import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { choose, chooseItem, dialog, enter, expectChosen, notice, row } from './helpers'
import { api, makeItem, putInStock, references } from './own-goods'

/*
 * Fingers and scanners are faster than the server: what is typed stays in its line, and Enter records nothing.
 */
const codes = Array.from({ length: 10 }, (_, index) => `FAST-${String(index + 1).padStart(2, '0')}`)
const counted = (page: Page, code: string) => page.getByLabel(`Counted of ${code} in Shelf A`)

test('figures typed ahead of a slow server land each in its own line; a barcode leads to its line and is no quantity', async ({
  page,
}) => {
  await enter(page, '/stock')
  const ids: number[] = []
  for (const code of codes) {
    const id = await makeItem(page, code)
    await putInStock(page, id)
    ids.push(id)
  }
  const { id } = await api(page, 'stock/counts', {
    key: randomUUID(),
    name: 'Fast fingers',
    kind: 'items',
    itemIds: ids,
    blind: true,
  })
  await page.route('**/api/stock/counts/*/enter', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400))
    await route.continue()
  })
  await page.goto(`/stock/counts/${id}`)
  await counted(page, codes[0]!).focus()
  for (let figure = 11; figure <= 20; figure++) {
    await page.keyboard.type(`${figure}`)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByText('10 of 10 lines counted')).toBeVisible()
  for (const [index, code] of codes.entries()) {
    await expect(counted(page, code)).toHaveValue(String(index + 11))
  }
  await page.reload()
  for (const [index, code] of codes.entries()) {
    await expect(counted(page, code)).toHaveValue(String(index + 11))
  }
  // The scanner reads a code of something else while the cursor is in the third line, and behind a figure just typed.
  await counted(page, codes[2]!).focus()
  await page.keyboard.type('4006381333931')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“4006381333931” is not on this sheet.')).toBeVisible()
  await expect(counted(page, codes[2]!)).toHaveValue('13')
  await counted(page, codes[3]!).focus()
  await counted(page, codes[3]!).fill('')
  await page.keyboard.type('74006381333931')
  const saved = page.waitForResponse((answer) => answer.url().endsWith('/enter'))
  await page.keyboard.press('Enter')
  await expect(counted(page, codes[3]!)).toHaveValue('7')
  await saved
  await page.reload()
  await expect(counted(page, codes[2]!)).toHaveValue('13')
  await expect(counted(page, codes[3]!)).toHaveValue('7')
})

test('figures of a spreadsheet are pasted into a count: down from a line, or each to the line that it names', async ({
  page,
}) => {
  await enter(page, '/stock')
  const ids: number[] = []
  for (const code of ['PASTE-1', 'PASTE-2', 'PASTE-3']) {
    const id = await makeItem(page, code)
    await putInStock(page, id)
    ids.push(id)
  }
  const { id } = await api(page, 'stock/counts', {
    key: randomUUID(),
    name: 'Pasted',
    kind: 'items',
    itemIds: ids,
    blind: true,
  })
  await page.goto(`/stock/counts/${id}`)
  const paste = async (code: string, text: string): Promise<void> => {
    await counted(page, code).focus()
    await page.evaluate((pasted) => {
      const data = new DataTransfer()
      data.setData('text/plain', pasted)
      const event = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })
      document.activeElement!.dispatchEvent(event)
    }, text)
  }
  await paste('PASTE-2', '7\n8')
  await expect(page.getByText('2 of 3 lines counted')).toBeVisible()
  await paste('PASTE-1', 'PASTE-3\t12\nPASTE-1\tmany\nNOWHERE\t1')
  await expect(notice(page, 'Not on this sheet: NOWHERE.')).toBeVisible()
  // What is refused says so beside its line; the others are in.
  await expect(page.getByRole('alert').filter({ hasText: 'many' })).toBeVisible()
  await expect(counted(page, 'PASTE-1')).toHaveValue('many')
  await page.reload()
  await expect(counted(page, 'PASTE-1')).toHaveValue('')
  await expect(counted(page, 'PASTE-2')).toHaveValue('7')
  await expect(counted(page, 'PASTE-3')).toHaveValue('12')
})

test('Enter goes from field to field in a receipt and records nothing; Ctrl+Enter does, and too much asks for a reason', async ({
  page,
}) => {
  await enter(page, '/purchasing')
  const itemId = await makeItem(page, 'FAST-BUY')
  const order = await api(page, 'purchasing/orders', {
    key: randomUUID(),
    supplierId: 1,
    note: '',
    lines: [{ itemId, quantity: '1', unit: 'piece', price: '2.00', dueOn: '2026-10-20' }],
  })
  await page.goto(`/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('Packing list number').fill('L-77')
  await page.keyboard.press('Enter')
  await expect(dialog(page).getByLabel('Received on')).toBeFocused()
  await dialog(page).getByLabel('Received of FAST-BUY', { exact: true }).fill('100')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Enter')
  await dialog(page).getByLabel('Into').focus()
  await page.keyboard.press('Enter')
  await expect(dialog(page).getByText('Enter what came.')).toBeVisible()
  expect(
    ((await (await page.request.get(`/api/purchasing/orders/${order.id}`)).json()) as { version: number }).version,
  ).toBe(1)
  await dialog(page).getByLabel('Received of FAST-BUY', { exact: true }).focus()
  await page.keyboard.press('Control+Enter')
  await expect(dialog(page).getByText('99 pc FAST-BUY more than was ordered.')).toBeVisible()
  await dialog(page).getByLabel('Received of FAST-BUY', { exact: true }).fill('1')
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, 'Received 1 pc FAST-BUY.')).toBeVisible()
})

test('a correction of goods on hold is of those goods', async ({ page }) => {
  await enter(page, '/stock')
  const itemId = await makeItem(page, 'FAST-HELD')
  await putInStock(page, itemId)
  const { bins } = await references(page)
  const bin = bins.find((entry) => entry.code === 'SHELF-A')!.id
  await api(page, 'stock/moves', {
    key: randomUUID(),
    itemId,
    fromBinId: bin,
    toBinId: bin,
    toStatus: 'on hold',
    lot: '',
    quantity: '5',
    unit: 'piece',
  })
  await page.goto('/stock?search=FAST-HELD')
  await page.getByRole('button', { name: 'Correct', exact: true }).click()
  await expectChosen(dialog(page).getByLabel('Status'), 'on hold')
  await dialog(page).getByLabel('By how much', { exact: true }).fill('2')
  await expect(dialog(page)).toContainText(/on hold:\s*5 → 3/)
  await dialog(page).getByRole('button', { name: 'Record 2 pc less' }).click()
  await expect(notice(page, 'FAST-HELD: 2 pc less recorded')).toBeVisible()
  await expect(row(page, 'Balances', 'FAST-HELD')).toContainText('on hold')
})

test('a price that is typed before the item has answered stays: it is not replaced by what the terms say', async ({
  page,
}) => {
  await enter(page, '/purchasing')
  const id = await makeItem(page, 'FAST-PRICE')
  let answer = (): void => undefined
  const held = new Promise<void>((resolve) => (answer = resolve))
  await page.route(`**/api/catalogue/items/${id}`, async (route) => {
    await held
    await route.continue()
  })
  await page.goto('/purchasing/new')
  await choose(page.getByLabel('Supplier', { exact: true }), 'Tully Threads and Tools')
  await chooseItem(page, 'Item', 'FAST-PRICE')
  await page.getByLabel('Quantity', { exact: true }).fill('2')
  await page.getByLabel('Unit price').fill('10')
  answer()
  await expect(page.getByText('typed; the rules say 0')).toBeVisible()
  await expect(page.getByLabel('Unit price')).toHaveValue('10')
})
