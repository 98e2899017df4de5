import { randomUUID } from 'node:crypto'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { chooseItem, dialog, enter, faults, notice, row, choose } from './helpers'

/*
 * Every figure below is worked out here by hand:
 *
 * keyboard  three items over January to March 2027: 12, 15, 18 typed; 20 filled to the right of B; a block pasted over
 * C and all of row A:
 *           A 12 15 18 = 45; B 20 20 20 = 60, + 15 % = 23 23 23 = 69; C 100 spread evenly = 34 33 33 forecast  three
 *           years, October to September, each twice the one before: 1 × p, 2 × p, 4 × p with p = 5 8 12 4 3 6 5 7 6 4 3
 *           9.
 *           January is p[3] = 4, February 3, March 6: 8 × p = 32, 24, 48. “As last year, with its growth” of 2 is off
 *           by nothing.
 *           The test covers the last 11 of 36 months: two rounds of 12 and one are needed before. borrowed  half of
 *           that: the same month a year ago (4 × p = 16, 12, 24) gives 8, 6, 12 promise   10 on hand, 4 of them wanted
 *           by another order in November: 6 free, 3 more bought at 12 days from Monday 5 October: 17 October allocate
 *           10 there; 8 wanted on 20 September with priority 9, 6 on 1 September: by date 6 + 4, by priority 8 + 2
 */
const P = [5, 8, 12, 4, 3, 6, 5, 7, 6, 4, 3, 9]
const api = async <T = { id: number }>(page: Page, url: string, data: object): Promise<T> => {
  const answer = await page.request.post(`/api/${url}`, { data })
  expect([url, answer.status(), answer.ok() ? '' : await answer.text()]).toEqual([url, 200, ''])
  return (await answer.json()) as T
}
const references = async (page: Page) =>
  (await (await page.request.get('/api/catalogue/references')).json()) as {
    groups: { id: number; code: string }[]
    bins: { id: number; code: string }[]
    suppliers: { id: number; code: string }[]
    customers: { id: number; code: string }[]
  }
const item = async (page: Page, code: string, more: object = {}): Promise<number> =>
  (
    await api(page, 'catalogue/items', {
      code,
      name: `${code} to test with`,
      groupId: (await references(page)).groups.find((group) => group.code === 'CLOTH')!.id,
      stockUnit: 'piece',
      buyingUnit: 'piece',
      sellingUnit: 'piece',
      finestStep: '1',
      ...more,
    })
  ).id
const opening = async (page: Page, itemId: number, quantity: string): Promise<unknown> =>
  api(page, 'stock/corrections', {
    key: randomUUID(),
    itemId,
    binId: (await references(page)).bins.find((bin) => bin.code === 'SHELF-A')!.id,
    lot: '',
    direction: 'more',
    quantity,
    unit: 'piece',
    reason: 'opening stock',
    unitCost: '1.00',
  })
const order = async (
  page: Page,
  itemId: number,
  quantity: string,
  dueOn: string,
  more: object = {},
): Promise<{ id: number; number: string }> =>
  api(page, 'demand/orders', {
    key: randomUUID(),
    customerId: (await references(page)).customers.find((customer) => customer.code === 'FERN')!.id,
    dueOn,
    note: '',
    lines: [{ itemId, quantity, unit: 'piece', price: '1' }],
    ...more,
  })
async function pastSales(page: Page, lines: string): Promise<void> {
  const { id } = await api(page, 'catalogue/batches', {
    table: 'past-sales',
    fileName: 'past.csv',
    content: Buffer.from(`item,sold_on,quantity,value,cost\n${lines}`).toString('base64'),
  })
  await api(page, `catalogue/batches/${id}/apply`, {})
}
const doubling = (code: string): string =>
  Array.from({ length: 36 }, (_, index) => {
    const month = 9 + index
    return `${code},${2023 + Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}-10,${P[index % 12]! * 2 ** Math.floor(index / 12)},100.00,60.00`
  }).join('\n')
const cell = (page: Page, code: string, period: string): Locator => page.locator(`[data-of="${code}, ${period}"]`)
async function paste(page: Page, text: string): Promise<void> {
  await page.evaluate((copied) => {
    const data = new DataTransfer()
    data.setData('text/plain', copied)
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    )
  }, text)
}
async function newForecast(page: Page, name: string): Promise<void> {
  await page.goto('/demand?tab=forecasts')
  await page.getByRole('button', { name: 'New forecast' }).click()
  await dialog(page).getByLabel('Name').fill(name)
  await dialog(page).getByLabel('From').fill('2027-01-04')
  await dialog(page).getByLabel('To').fill('2027-03-20')
  await dialog(page).getByRole('button', { name: 'Begin the forecast' }).click()
  await expect(page.getByRole('heading', { name })).toBeVisible()
}

test('a quarterly forecast by month for three items, by keyboard and paste', async ({ page }) => {
  await enter(page, '/demand?tab=forecasts')
  for (const code of ['TD-A', 'TD-B', 'TD-C']) {
    await item(page, code)
  }
  await newForecast(page, 'First quarter')
  await expect(page.getByText('1 Jan 2027 – 31 Mar 2027, by month')).toBeVisible()
  for (const code of ['TD-A', 'TD-B', 'TD-C']) {
    await chooseItem(page, 'Add an item', code)
    await expect(cell(page, code, 'Jan 2027')).toBeVisible()
  }
  await cell(page, 'TD-A', 'Jan 2027').click()
  // From here on the keyboard alone.
  await page.keyboard.type('12')
  await page.keyboard.press('Tab')
  await page.keyboard.type('15')
  await page.keyboard.press('Tab')
  await page.keyboard.type('18')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Home')
  await page.keyboard.type('20')
  await page.keyboard.press('Tab')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Shift+End')
  await page.keyboard.press('Control+r')
  await expect(cell(page, 'TD-B', 'Mar 2027')).toHaveText('20')
  await page.keyboard.press('Home')
  await page.keyboard.press('ArrowDown')
  await paste(page, '7\t8\t9\t10\n1\t2\n')
  await expect(cell(page, 'TD-C', 'Mar 2027')).toHaveText('9')
  await page.keyboard.press('Control+z')
  await expect(cell(page, 'TD-C', 'Mar 2027')).toHaveText('')
  await page.keyboard.press('Control+y')
  await page.keyboard.press('Control+s')
  await expect(notice(page, '9 cells are saved.')).toBeVisible()
  await page.reload()
  await expect(cell(page, 'TD-A', 'Mar 2027')).toHaveText('18')
  await expect(page.getByRole('row').filter({ hasText: 'TD-A' })).toContainText('45')
  await expect(
    page
      .getByRole('row')
      .filter({ hasText: 'Bookcloth' })
      .or(page.getByRole('row').filter({ hasText: 'in pc' }))
      .first(),
  ).toContainText('129')

  await cell(page, 'TD-B', 'Jan 2027').click()
  await page.keyboard.press('Shift+End')
  await page.getByRole('button', { name: '± %' }).click()
  await dialog(page).getByLabel('By per cent, − for less').fill('15')
  await dialog(page).getByRole('button', { name: 'Change them' }).click()
  await expect(page.getByRole('row').filter({ hasText: 'TD-B' })).toContainText('69')
  await cell(page, 'TD-C', 'Jan 2027').click()
  await page.keyboard.press('Shift+End')
  await page.getByRole('button', { name: 'Spread a total' }).click()
  await dialog(page).getByLabel('Total of each row').fill('100')
  await dialog(page).getByRole('button', { name: 'Spread it' }).click()
  for (const [period, text] of [
    ['Jan 2027', '34'],
    ['Feb 2027', '33'],
    ['Mar 2027', '33'],
  ] as const) {
    await expect(cell(page, 'TD-C', period)).toHaveText(text)
  }
  // What cannot be read is told, marked in its cell, and nothing is saved.
  await cell(page, 'TD-A', 'Feb 2027').click()
  await paste(page, 'a lot')
  await page.getByRole('button', { name: /^Save \d+ cells/ }).click()
  await expect(page.getByText('“a lot” is no number', { exact: false })).toBeVisible()
  await expect(cell(page, 'TD-A', 'Feb 2027')).toHaveText('a lot')
  await cell(page, 'TD-A', 'Feb 2027').click()
  await page.keyboard.type('15')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: /^Save \d+ cells/ }).click()
  await expect(notice(page, /cells are saved/)).toBeVisible()
  expect(await faults(page)).toEqual([])
  // A row goes only after a question.
  await cell(page, 'TD-C', 'Jan 2027').click()
  await page.getByRole('button', { name: 'Take the row out' }).click()
  await expect(dialog(page)).toContainText('TD-C: 100 in all')
  await dialog(page).getByRole('button', { name: 'Cancel' }).click()
  await expect(cell(page, 'TD-C', 'Jan 2027')).toHaveText('34')
  await page.getByRole('button', { name: 'Take the row out' }).click()
  await dialog(page).getByRole('button', { name: 'Take 1 row out' }).click()
  await expect(cell(page, 'TD-C', 'Jan 2027')).toHaveCount(0)

  await page.getByRole('button', { name: 'Copy as a what-if' }).click()
  await dialog(page).getByLabel('Name').fill('First quarter, a third more')
  await dialog(page).getByLabel('Per cent').fill('200')
  await dialog(page).getByRole('button', { name: 'Make the copy' }).click()
  await expect(cell(page, 'TD-A', 'Jan 2027')).toHaveText('24')
  const answer = await page.request.get(
    `${new URL(page.url()).pathname.replace('/demand/', '/api/demand/')}/file?format=csv`,
  )
  expect((await answer.text()).replace('\uFEFF', '').split('\n').slice(0, 2)).toEqual([
    'item,name,unit,2027-01-01,2027-02-01,2027-03-01',
    'TD-A,TD-A to test with,pc,24,30,36',
  ])
})

test('an automatic forecast, its choice explained; typed over by hand and computed again; another method', async ({
  page,
}) => {
  await enter(page, '/demand')
  await item(page, 'TD-AUTO')
  await pastSales(page, doubling('TD-AUTO'))
  await newForecast(page, 'Automatic')
  await chooseItem(page, 'Add an item', 'TD-AUTO')
  await page.getByRole('button', { name: 'Compute from past sales' }).first().click()
  await choose(dialog(page).getByLabel('For', { exact: true }), 'all 1 in this forecast')
  await dialog(page).getByRole('button', { name: 'Compute', exact: true }).click()
  await expect(notice(page, '1 item is forecast.')).toBeVisible()
  for (const [period, text] of [
    ['Jan 2027', '32'],
    ['Feb 2027', '24'],
    ['Mar 2027', '48'],
  ] as const) {
    await expect(cell(page, 'TD-AUTO', period)).toHaveText(text)
  }
  const shown = page.locator('[data-test=sentence]')
  await expect(shown).toContainText(
    'Forecast as last year, with its growth: forecasting the last 11 months up to 3 months ahead, it was off by 0.00 pc a month, least of',
  )
  await expect(shown).toContainText('100 % less than repeating what was sold.')
  const errors = page.getByRole('table', { name: 'Errors by method' })
  await expect(errors.getByRole('row').nth(1)).toContainText('last year')
  await expect(errors.getByRole('row').filter({ hasText: 'the yardstick' })).toBeVisible()
  await expect(
    page.getByRole('figure', { name: 'History and forecast of TD-AUTO' }).locator('svg').first(),
  ).toBeVisible()
  await expect(page.getByRole('figure', { name: 'Error by method' }).locator('svg').first()).toBeVisible()

  await cell(page, 'TD-AUTO', 'Feb 2027').click()
  await page.keyboard.type('99')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(notice(page, '1 cell is saved.')).toBeVisible()
  await expect(cell(page, 'TD-AUTO', 'Feb 2027')).toHaveText(/24\s*99/)
  const panel = page.locator('[data-test=forecast-of-TD-AUTO]')
  await choose(panel.getByLabel('Method', { exact: true }), /^naive/)
  await panel.getByRole('button', { name: 'Compute', exact: true }).click()
  // Repeating last year: 4 × p.
  await expect(cell(page, 'TD-AUTO', 'Jan 2027')).toHaveText('16')
  await expect(cell(page, 'TD-AUTO', 'Feb 2027')).toHaveText(/12\s*99/)
  await expect(shown).toContainText('because a person chose that')
  // An emptied cell goes back to what was computed.
  await cell(page, 'TD-AUTO', 'Feb 2027').click()
  await page.keyboard.press('Delete')
  await page.keyboard.press('Control+s')
  await expect(cell(page, 'TD-AUTO', 'Feb 2027')).toHaveText('12')
  await choose(panel.getByLabel('Service level'), '99 %')
  await expect(panel.locator('[data-test=suggested]')).toBeVisible()
})

test('a figure that is being typed stays with its item while other rows come in above', async ({ page }) => {
  await enter(page, '/demand')
  await item(page, 'TD-ROW-A')
  await item(page, 'TD-ROW-Z')
  await newForecast(page, 'Rows that move')
  await chooseItem(page, 'Add an item', 'TD-ROW-Z')
  let answer = (): void => undefined
  const held = new Promise<void>((resolve) => (answer = resolve))
  await page.route('**/api/demand/history/series', async (route) => {
    await held
    await route.continue()
  })
  await chooseItem(page, 'Add an item', 'TD-ROW-A')
  await cell(page, 'TD-ROW-Z', 'Feb 2027').click()
  await page.keyboard.type('7')
  answer()
  await expect(cell(page, 'TD-ROW-A', 'Feb 2027')).toBeVisible()
  await page.keyboard.type('8')
  await page.keyboard.press('Enter')
  await expect(cell(page, 'TD-ROW-Z', 'Feb 2027')).toHaveText('78')
  await expect(cell(page, 'TD-ROW-A', 'Feb 2027')).toHaveText('')
})

test('a forecast can be begun while the list of forecasts is still on its way', async ({ page }) => {
  await enter(page, '/demand')
  let answer = (): void => undefined
  const held = new Promise<void>((resolve) => (answer = resolve))
  await page.route('**/api/demand/forecasts', async (route) => {
    await held
    await route.continue()
  })
  await page.goto('/demand?tab=forecasts')
  await page.getByRole('button', { name: 'New forecast' }).click()
  await expect(dialog(page).getByLabel('Name')).toBeVisible()
  answer()
})

test('a new item borrows half of another’s history; an odd month counts as said', async ({ page }) => {
  await enter(page, '/demand')
  const [old, young] = [await item(page, 'TD-OLD'), await item(page, 'TD-YOUNG')]
  await pastSales(page, doubling('TD-OLD'))
  await page.goto(`/demand?tab=history&item=${young}`)
  await page.getByRole('button', { name: 'All items' }).waitFor()
  await expect(page.getByText('Nothing sold here')).toBeVisible()
  await page.goto(`/demand?tab=history&item=${old}`)
  const years = page.getByRole('table', { name: 'Sales by month and year' })
  // January 2026: 4 × 4; the year 2024: January to September of 1 × p, and October to December of 2 × p.
  await expect(years.getByRole('row').filter({ hasText: 'Jan' })).toContainText(/4.*8.*16/)
  await expect(years.getByRole('row').filter({ hasText: 'Year' })).toContainText(
    String(P.slice(3).reduce((a, b) => a + b, 0) + 2 * (5 + 8 + 12)),
  )
  await choose(page.getByLabel('Measure'), /^margin/)
  // 100 sold at a cost of 60, in every month.
  await expect(years.getByRole('row').filter({ hasText: 'Jan' })).toContainText(/40.*40.*40/)
  await choose(page.getByLabel('Measure'), /^units/)
  await years.getByRole('row').filter({ hasText: 'Jan' }).getByRole('button').last().click()
  await dialog(page).getByLabel('Counts as').fill('10')
  await dialog(page).getByLabel('Why').fill('one order for a wedding')
  await dialog(page).getByRole('button', { name: 'Count it as 10' }).click()
  await expect(page.getByText('counts as 10 pc: one order for a wedding')).toBeVisible()
  await expect(years.getByRole('row').filter({ hasText: 'Jan' })).toContainText('16')
  await page.getByRole('button', { name: 'take back' }).click()
  await expect(page.getByText('counts as 10 pc')).toHaveCount(0)
  expect(await faults(page)).toEqual([])

  await pastSales(page, 'TD-YOUNG,2026-09-28,1,10,6\n')
  await page.goto(`/demand?tab=history&item=${young}`)
  await page.getByRole('button', { name: 'Borrow another item’s history' }).click()
  await chooseItem(dialog(page), 'From', 'TD-OLD')
  await dialog(page).getByLabel('Per cent').fill('50')
  await dialog(page).getByLabel('Up to').fill('2026-08-31')
  await dialog(page).getByRole('button', { name: 'Borrow it' }).click()
  await expect(page.getByText('Borrows 50 % of what')).toBeVisible()
  await newForecast(page, 'Borrowed')
  await chooseItem(page, 'Add an item', 'TD-YOUNG')
  await cell(page, 'TD-YOUNG', 'Jan 2027').click()
  const panel = page.locator('[data-test=forecast-of-TD-YOUNG]')
  await choose(panel.getByLabel('Method', { exact: true }), /^naive/)
  await panel.getByRole('button', { name: 'Compute', exact: true }).click()
  for (const [period, text] of [
    ['Jan 2027', '8'],
    ['Feb 2027', '6'],
    ['Mar 2027', '12'],
  ] as const) {
    await expect(cell(page, 'TD-YOUNG', period)).toHaveText(text)
  }
})

test('sales orders come from a file with faults; the corrected file is taken in and taken back', async ({ page }) => {
  await enter(page, '/demand')
  await page.getByRole('link', { name: 'From a file' }).click()
  const file = (text: string) => ({ name: 'orders.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await page
    .getByLabel('File', { exact: true })
    .setInputFiles(
      file(
        'number,customer,due_on,item,quantity,unit,price\nFILE-1,LARK,2026-12-01,BONE,3,piece,4.80\nFILE-1,LARK,2026-12-01,BONES,1,piece,4.80\nFILE-2,LARKS,2026-12-01,BONE,1,piece,\n',
      ),
    )
  const shown = page.getByRole('table', { name: 'Faults of the file' })
  await expect(shown.getByRole('row').nth(1)).toContainText('There is no item “BONES”.')
  await expect(shown.getByRole('row').nth(2)).toContainText('There is no customer “LARKS”.')
  await expect(page.getByRole('button', { name: /^Take in/ })).toBeDisabled()
  await page
    .getByLabel('File', { exact: true })
    .setInputFiles(
      file(
        'number,customer,due_on,item,quantity,unit,price\nFILE-1,LARK,2026-12-01,BONE,3,piece,4.80\nFILE-1,LARK,2026-12-01,WAX,1,piece,\nFILE-2,FERN,2026-12-01,BONE,1,piece,\n',
      ),
    )
  await page.getByRole('button', { name: 'Take in 2 sales orders' }).click()
  await expect(notice(page, 'orders.csv: 2 added, 0 changed.')).toBeVisible()
  await page.goto('/demand')
  await page.getByLabel('Filter orders').fill('FILE-1')
  await row(page, 'Sales orders', 'FILE-1').click()
  await expect(row(page, 'Order lines', 'BONE')).toContainText('€4.80')
  await expect(row(page, 'Order lines', 'WAX')).toContainText('€2.80')
  await page.goto('/catalogue/files')
  await page
    .getByRole('listitem')
    .filter({ hasText: 'orders.csv' })
    .first()
    .getByRole('button', { name: 'Undo' })
    .click()
  await expect(notice(page, 'Undone: everything is as it was.')).toBeVisible()
  await page.goto('/demand?search=FILE-1')
  await expect(page.getByText('No orders here')).toBeVisible()
})

test('a promise is explained while an order is entered; late ones move the due date', async ({ page }) => {
  await enter(page, '/demand')
  const { suppliers } = await references(page)
  const calendarless = suppliers.find((supplier) => supplier.code === 'TULLY')!.id
  const wanted = await item(page, 'TD-WANT', {
    terms: [
      {
        supplierId: calendarless,
        rank: 1,
        supplierCode: '',
        unit: 'piece',
        price: '2',
        minimum: '0',
        multiple: '0',
        leadDays: 12,
        tiers: [],
      },
    ],
  })
  await opening(page, wanted, '10')
  await order(page, wanted, '4', '2026-11-20')
  await page.getByRole('button', { name: 'New sales order' }).click()
  await choose(page.getByLabel('Customer', { exact: true }), 'Fernway Gifts')
  await page.getByLabel('Due on').fill('2026-10-12')
  await page.getByRole('button', { name: 'Add a line' }).waitFor()
  await chooseItem(page, 'Item', 'TD-WANT')
  await page.getByLabel('Quantity', { exact: true }).fill('6')
  const shown = page.locator('[data-test=promise]')
  await expect(shown).toContainText('All of it on 5 Oct, in time for 12 Oct')
  await page.getByLabel('Quantity', { exact: true }).fill('9')
  await expect(shown).toContainText('All of it on 21 Oct, after it is due on 12 Oct')
  await page.getByRole('button', { name: /TD-WANT.*why/ }).click()
  const why = page.locator('[data-test=why-day]')
  await expect(why).toContainText('6 pc TD-WANT: free now.')
  await expect(why).toContainText('3 pc TD-WANT: bought today, here on 21 Oct (12 working days).')
  await expect(why).toContainText('Free by site: Workshop 10 pc')
  await page.getByRole('button', { name: 'Make that the due date' }).click()
  await expect(page.getByLabel('Due on')).toHaveValue('21 Oct 2026')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(page.locator('[data-test=promise]')).toContainText('All of it on 21 Oct, in time for 21 Oct')
  await page.getByRole('button', { name: 'Buy it for this order' }).click()
  await expect(dialog(page).getByRole('textbox', { name: 'Quantity' })).toHaveValue('3')
  await dialog(page).getByRole('button', { name: 'Put it on the buying list' }).click()
  await page.getByRole('link', { name: 'buying list' }).click()
  await expect(row(page, 'Buying list', 'TD-WANT')).toContainText('3 pc')
})

test('goods are set aside for all orders by date or by priority, and freed again', async ({ page }) => {
  await enter(page, '/dispatch')
  const few = await item(page, 'TD-FEW')
  await opening(page, few, '10')
  // Due before anything else of the demo, so that only these are served.
  const [late, soon] = [
    await order(page, few, '8', '2026-09-20', { priority: 9 }),
    await order(page, few, '6', '2026-09-01'),
  ]
  await page.getByRole('button', { name: 'Allocate for all' }).click()
  await dialog(page).getByLabel('Only what is due by').fill('2026-09-20')
  const list = page.getByRole('table', { name: 'Proposed allocation' })
  await expect(list.getByRole('row')).toHaveCount(3)
  await expect(list.getByRole('row').nth(1)).toContainText(new RegExp(`${soon.number}.*6 pc TD-FEW`))
  await expect(list.getByRole('row').nth(2)).toContainText(new RegExp(`${late.number}.*4 pc TD-FEW.*4 pc TD-FEW`))
  await choose(dialog(page).getByLabel('Where there is not enough, first'), /^the highest priority/)
  await expect(list.getByRole('row').nth(1)).toContainText(new RegExp(`${late.number}.*8 pc TD-FEW`))
  await expect(list.getByRole('row').nth(2)).toContainText(new RegExp(`${soon.number}.*2 pc TD-FEW.*4 pc TD-FEW`))
  // A look changes nothing.
  const allocated = async (id: number): Promise<string> =>
    ((await (await page.request.get(`/api/demand/orders/${id}`)).json()) as { lines: { allocated: string }[] })
      .lines[0]!.allocated
  expect([await allocated(late.id), await allocated(soon.id)]).toEqual(['0', '0'])
  await dialog(page).getByRole('button', { name: 'Allocate for 2 orders' }).click()
  await expect(notice(page, 'Allocated goods for 2 orders.')).toBeVisible()
  expect([await allocated(late.id), await allocated(soon.id)]).toEqual(['8', '2'])
  await page.goto(`/dispatch/${late.id}`)
  await page.getByRole('button', { name: 'Deallocate' }).click()
  await expect(page.getByRole('button', { name: 'Allocate what is there' })).toBeEnabled()
  expect([await allocated(late.id), await allocated(soon.id)]).toEqual(['0', '2'])
  await page.goto(`/dispatch/${soon.id}`)
  await page.getByRole('button', { name: 'Allocate what is there' }).click()
  await expect(notice(page, /Allocated 4 pc TD-FEW/)).toBeVisible()
  await page.getByRole('button', { name: 'Deallocate' }).click()
  await expect.poll(() => allocated(soon.id)).toBe('0')
})

test('orders are left in the shop and fetched; a code nobody knows is told', async ({ page }) => {
  await enter(page, '/demand')
  await page.getByRole('button', { name: 'Web shop' }).click()
  await page.getByLabel('How many Notebook A5 navy', { exact: true }).fill('2')
  await page.getByLabel('Your name').fill('Anna Example')
  await page.getByLabel('Your e-mail').fill('nonsense')
  await page.getByRole('button', { name: 'Place the order' }).click()
  await expect(page.getByText('Give an e-mail address.')).toBeVisible()
  await page.getByLabel('Your e-mail').fill('anna@far.example')
  await expect(page.getByText('1 thing, €48.00')).toBeVisible()
  await page.getByRole('button', { name: 'Place the order' }).click()
  await expect(page.getByText('waits to be fetched')).toBeVisible()
  await page.getByLabel('How many Bone folder', { exact: true }).fill('1')
  await page.getByLabel('A code of the shop’s that Tsumiki may not know').fill('WS-404')
  await page.getByRole('button', { name: 'Place the order' }).click()
  await expect(page.getByText('WS-404: no item has this code.', { exact: false })).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Fetch 1 order' }).click()
  await expect(notice(page, /is entered/)).toBeVisible()
  await page.getByText('fetched:').getByRole('link').click()
  await expect(row(page, 'Order lines', 'NB-A5-NAVY')).toContainText('€24.00')
  await expect(page.getByText('Anna Example, anna@far.example', { exact: false })).toBeVisible()
})

for (const path of ['/demand?tab=history', '/demand?tab=forecasts', '/demand/forecasts/1']) {
  test(`${path} has no accessibility fault that axe can find`, async ({ page }) => {
    await enter(page, path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    expect(await faults(page)).toEqual([])
  })
}
