import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, faults, notice, row, choose } from './helpers'
import { api, makeBought, orderOf, references } from './own-goods'

/*
 * A lantern of three levels, today Monday 5 October; the workshop works Monday to Friday, the suppliers every day.
 *
 * LANTERN = 1 frame + 4 panes, 2 working days;  FRAME = 2.5 m of lath, 1 working day LATH    bought at 10 days, 1.20 a
 * metre, at least 20 m in steps of 10;  PANE bought at 4 days, 0.80 each, in steps of 12 Wanted  a forecast of 6 in the
 * week of 19 October, an order of 10 for 30 October; 3 lanterns are there.
 *
 * LANTERN 19 Oct: 6 − 3 = 3 built from Thu 15;  30 Oct: 10 built from Wed 28
 * FRAME   3 by Thu 15, built from Wed 14;  10 by Wed 28, built from Tue 27
 * PANE    4 × 3 = 12 by Thu 15, ordered Sun 11;  4 × 10 = 40, so 48 by Wed 28, ordered Sat 24: 60 × 0.80 = 48.00
 * LATH    2.5 × 3 = 7.5 by Wed 14: 20 m, ordered on 4 October at the latest, a day ago, so there on 15 October;
 *         12.5 left − 2.5 × 10 = 12.5 missing on Tue 27: 20 m, ordered Sat 17; 7.5 left: 40 × 1.20 = 48.00 Late by a
 *         day, the lath holds up the frame (16 Oct) and the lantern (20 Oct): the forecast of the 19th waits, the order
 *         does not. At 8 days the lath is there in time. 30 m instead of 20: 17.5 left at the end, 50 × 1.20 = 60.00.
 */
const TABLES: readonly (readonly [string, string])[] = [
  ['calendars', 'name,weekdays\nEvery day,Mon Tue Wed Thu Fri Sat Sun\n'],
  ['suppliers', 'code,name,calendar\nSAWMILL,Orrin Sawmill,Every day\nPANES,Pane Makers of Orrin,Every day\n'],
  [
    'items',
    'code,name,group,source,stock unit,finest step,tracking,lead days\nLANTERN,Paper lantern,PARTS,made,piece,1,none,2\nFRAME,Lantern frame,PARTS,made,piece,1,none,1\nLATH,Lath of ash,TOOLS,bought,m,0.5,none,0\nPANE,Paper pane,TOOLS,bought,piece,1,none,0\n',
  ],
  [
    'supplier-terms',
    'item,supplier,unit,price,minimum,multiple,lead_days\nLATH,SAWMILL,m,1.20,20,10,10\nPANE,PANES,piece,0.80,0,12,4\n',
  ],
  ['bills', 'item,revision,batch,unit\nLANTERN,1,1,piece\nFRAME,1,1,piece\n'],
  [
    'bill-lines',
    'item,revision,component,quantity,unit\nLANTERN,1,FRAME,1,piece\nLANTERN,1,PANE,4,piece\nFRAME,1,LATH,2.5,m\n',
  ],
  ['bills', 'item,revision,from_on\nLANTERN,1,2026-01-05\nFRAME,1,2026-01-05\n'],
  ['forecast', 'forecast,item,period,quantity\nLanterns,LANTERN,2026-10-19,6\n'],
]
async function begin(page: Page): Promise<void> {
  await api(page, 'demand/forecasts', {
    key: randomUUID(),
    name: 'Lanterns',
    note: '',
    step: 'week',
    firstOn: '2026-10-05',
    lastOn: '2026-11-29',
  })
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
    bins: { id: number; code: string }[]
    customers: { id: number; code: string }[]
  }
  const { rows: found } = (await (await page.request.get('/api/catalogue/items?search=LANTERN')).json()) as {
    rows: { id: number; code: string }[]
  }
  const lantern = found.find((match) => match.code === 'LANTERN')!
  await api(page, 'stock/corrections', {
    key: randomUUID(),
    itemId: lantern.id,
    binId: references.bins.find((bin) => bin.code === 'SHELF-A')!.id,
    lot: '',
    direction: 'more',
    quantity: '3',
    unit: 'piece',
    reason: 'opening stock',
    unitCost: '9.00',
    expiresOn: null,
    note: '',
    traits: {},
  })
  await api(page, 'demand/orders', {
    key: randomUUID(),
    customerId: references.customers.find((customer) => customer.code === 'LARK')!.id,
    dueOn: '2026-10-30',
    note: '',
    lines: [{ id: null, itemId: lantern.id, quantity: '10', unit: 'piece', price: '24.00' }],
  })
}
const figure = (page: Page, name: string) =>
  page.getByLabel('What the plan comes to').locator('div').filter({ hasText: name }).getByRole('definition')
const orders = async (page: Page): Promise<string[]> => {
  await page.getByRole('tab', { name: 'Planned orders' }).click()
  return (await page.getByRole('table', { name: 'Planned orders' }).getByRole('row').allInnerTexts())
    .slice(1)
    .map((text) => text.replace(/\s+/g, ' ').trim())
}
let orderNumber = ''

test.describe.configure({ mode: 'serial' })

test('a trial plan: its hole, the why of it up to the customer, and what would close it', async ({ page }) => {
  await enter(page, '/planning')
  await begin(page)
  orderNumber = (
    (await (await page.request.get('/api/demand/orders?search=Larkhill&status=open&size=100')).json()) as {
      rows: { number: string }[]
    }
  ).rows
    .map((row) => row.number)
    .sort()
    .at(-1)!
  await page
    .getByRole('button', { name: /Make (a|the first) plan/ })
    .first()
    .click()
  const form = dialog(page)
  await choose(form.getByLabel('Kind'), /^Trial plan/)
  await form.getByLabel('Name').fill('Lanterns as they are')
  // What is wrong is told beside its field, before anything is sent.
  await form.getByLabel('Plan to').fill('2026-10-01')
  await expect(form.getByText('The plan begins today, 5 Oct. Choose a later end.')).toBeVisible()
  await form.getByLabel('Plan to').fill('2026-11-30')
  await form.getByLabel('Autumn 2026').uncheck()
  await form.getByLabel('Lanterns', { exact: true }).check()
  await choose(form.getByLabel('Shows and proposes'), /^a product and/)
  await expect(form.getByText('Choose the product.')).toBeVisible()
  await form.getByRole('combobox', { name: 'Product' }).fill('LANTERN')
  await form.getByRole('option').filter({ hasText: 'LANTERN' }).first().click()
  await form.getByRole('button', { name: 'Compute the plan' }).click()
  await expect(page.getByRole('heading', { name: 'Lanterns as they are' })).toBeVisible()
  for (const [name, text] of [
    ['Items that would run short', '4'],
    ['First on', '14 Oct'],
    ['Planned orders', '8'],
    ['Late', '1'],
    ['Order lines in time', '1 of 2'],
    ['To be bought', '€96.00'],
  ] as const) {
    await expect(figure(page, name)).toHaveText(text)
  }

  // The board: the hole of the lath hangs in the week of the 12th; its six lines.
  const lath = page.getByRole('row').filter({ hasText: 'LATH' })
  await expect(lath).toBeVisible()
  await page.getByRole('button', { name: 'Six lines of LATH' }).click()
  const line = async (name: string): Promise<string[]> =>
    (await page.getByRole('row', { name }).getByRole('gridcell').allInnerTexts()).slice(0, 4)
  expect(await line('Gross requirements')).toEqual(['', '7.5', '', '25'])
  expect(await line('Planned order receipts')).toEqual(['', '20', '', '20'])
  expect(await line('Projected available')).toEqual(['0', '12.5', '12.5', '7.5'])
  expect(await line('Planned order releases')).toEqual(['20', '20', '', ''])
  await choose(page.getByLabel('Order of rows'), 'products first, then parts')
  await expect(page.getByRole('grid', { name: 'Plan board' }).getByRole('rowheader').first()).toContainText('LANTERN')
  expect(await faults(page)).toEqual([])

  // Why the second lath: up to the customer.
  await page.getByRole('tab', { name: 'Planned orders' }).click()
  await row(page, 'Planned orders', 'LATH').filter({ hasText: '27 Oct' }).getByRole('button', { name: 'Why?' }).click()
  const why = dialog(page)
  await expect(why).toContainText('25 m wanted − 12.5 m there = 12.5 m missing.')
  await expect(why).toContainText('at least 20 m, in steps of 10 m; 2 of them make 20 m.')
  await expect(why).toContainText('10 working days of lead time before 27 Oct: release on 17 Oct.')
  for (const link of ['Build 10 pc FRAME', 'Build 10 pc LANTERN', `${orderNumber} Larkhill Books`]) {
    await expect(why).toContainText(link)
  }
  await page.keyboard.press('Escape')

  // Who would wait: the forecast of the 19th.
  await page.getByRole('tab', { name: 'Messages' }).click()
  await expect(page.getByRole('list', { name: 'Customers who would wait' })).toContainText('Forecast “Lanterns”')
  await expect(page.getByRole('list', { name: 'Customers who would wait' })).not.toContainText('Larkhill')
  await expect(page.getByRole('list', { name: 'Messages' })).toContainText(
    'LATH Lath of ash: 20 m needed on 14 Oct can be there on 15 Oct at the earliest, 1 working day of lead time too late.',
  )

  // What if the lath took eight days? Computed along, kept on a copy.
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Lanterns as they are, copy' })).toBeVisible()
  // A copy is computed first; until then its settings wait.
  await expect(figure(page, 'Planned orders')).toHaveText('8')
  await page.getByRole('button', { name: 'Settings' }).click()
  await dialog(page).getByLabel('Name').fill('Lanterns, faster lath')
  await dialog(page).getByRole('button', { name: 'Save and compute' }).click()
  await expect(page.getByRole('heading', { name: 'Lanterns, faster lath' })).toBeVisible()
  await page.getByRole('tab', { name: 'What if' }).click()
  await choose(page.getByLabel('What if'), 'Another lead time')
  await page.getByRole('button', { name: 'Try it' }).click()
  await expect(page.getByText('Give whole working days.')).toBeVisible()
  await page.getByLabel('Lead time (working days)').fill('8')
  await page.getByRole('combobox', { name: /Of the item/ }).fill('LATH')
  await page.getByRole('option').filter({ hasText: 'LATH' }).first().click()
  await page.getByRole('button', { name: 'Try it' }).click()
  await expect(figure(page, 'Late')).toHaveText('1 → 0')
  await expect(figure(page, 'Order lines in time')).toHaveText('1 of 2 → 2 of 2')
  await page.getByRole('button', { name: 'Keep with the plan' }).click()
  await expect(notice(page, 'Kept with the plan, and computed.')).toBeVisible()
  await expect(figure(page, 'Late')).toHaveText('0')
  await expect(page.getByRole('list', { name: 'What is tried out' })).toContainText('LATH: 8 working days of lead time')
})

test('two plans side by side, the better one made the working plan, an order changed, all released, nothing proposed twice', async ({
  page,
}) => {
  await enter(page, '/planning')
  await page.getByLabel('Choose Lanterns as they are').check()
  await page.getByLabel('Choose Lanterns, faster lath').check()
  await page.getByRole('button', { name: 'Compare 2' }).click()
  const line = async (name: string): Promise<string[]> =>
    page
      .getByRole('table', { name: 'Plans side by side' })
      .getByRole('row')
      .filter({ has: page.getByRole('rowheader', { name, exact: true }) })
      .getByRole('cell')
      .allInnerTexts()
  await expect(page.getByRole('heading', { name: 'Plans side by side' })).toBeVisible()
  // In the order in which they were chosen.
  expect(await line('Late orders')).toEqual(['1', expect.stringContaining('0')])
  expect(await line('Order lines in time')).toEqual(['50 %', expect.stringContaining('100 %')])
  expect(await line('To be bought for')).toEqual(['€96.00', '€96.00'])
  expect(await line('To buy')).toEqual(['4', '4'])
  expect(await faults(page)).toEqual([])

  // A trial plan releases nothing, and says so; as the working plan it is computed on what is so: the lath takes ten
  // days.
  await page.getByRole('link', { name: 'Lanterns, faster lath' }).click()
  await page.getByRole('tab', { name: 'Planned orders' }).click()
  await expect(page.getByText('A trial plan releases nothing.')).toBeVisible()
  await page.getByRole('button', { name: 'Make it the working plan' }).click()
  await expect(notice(page, /What was only tried out is taken out/)).toBeVisible()
  await expect(figure(page, 'Late')).toHaveText('1')

  // 30 m instead of 20, with what it does told before: 12.5 + 30 − 25 = 17.5, and no least below the 0 of today.
  await row(page, 'Planned orders', 'LATH')
    .filter({ hasText: '27 Oct' })
    .getByRole('button', { name: /^Change/ })
    .click()
  await dialog(page).getByLabel('Quantity, m').fill('30')
  await expect(dialog(page)).toContainText('Released on 17 Oct')
  await expect(dialog(page)).toContainText("No other item's orders change.")
  await dialog(page).getByRole('button', { name: 'Fix 30 m by 27 Oct' }).click()
  await expect(notice(page, 'LATH is fixed at 30 m by 27 Oct')).toBeVisible()
  await expect(row(page, 'Planned orders', 'LATH').filter({ hasText: '27 Oct' })).toContainText(/30\s*m/)
  // The answer says that it waits; by the time the page looks it is done.
  await page.route('**/api/planning/plans/*/run', async (route) => {
    const answer = await route.fetch()
    await expect
      .poll(async () => (await (await page.request.get(route.request().url())).json()) as { state: string })
      .toMatchObject({ state: 'done' })
    await route.fulfill({ response: answer, json: { ...(await answer.json()), state: 'waiting' } })
  })
  await page.getByRole('button', { name: 'Plan again' }).click()
  await expect(notice(page, 'Computed anew on what is there now.')).toBeVisible()
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  await expect(row(page, 'Planned orders', 'LATH').filter({ hasText: 'fixed' })).toContainText(/30\s*m/)
  expect(await orders(page)).toHaveLength(8)

  await page.getByLabel('Choose all').check()
  await page.getByRole('button', { name: 'Release 8 orders' }).click()
  await expect(dialog(page)).toContainText('Buying makes 2 purchase orders, one a supplier')
  await dialog(page).getByRole('button', { name: 'Release 8 orders' }).click()
  // Two purchase orders and four builds.
  await expect(notice(page, 'Released 6 documents; the plan is computed anew on them.')).toBeVisible()
  const after = await orders(page)
  expect(
    after
      .filter((text) => text.includes('LATH'))
      .map((text) => /(\d+) ?m/.exec(text)?.[1])
      .sort(),
  ).toEqual(['20', '30'])
  await expect(page.getByRole('checkbox', { name: /^Choose (Buy|Build|Move|Break down)/ })).toHaveCount(0)
  await expect(figure(page, 'Planned orders')).toHaveText('0')
  await page.getByRole('button', { name: 'Plan again' }).click()
  await expect(notice(page, 'Computed anew on what is there now.')).toBeVisible()
  await expect(figure(page, 'Planned orders')).toHaveText('0')

  await row(page, 'Planned orders', 'LATH').first().getByRole('link', { name: /^PO-/ }).click()
  await expect(page.getByText('€60.00').first()).toBeVisible()
  await page.goto('/workshop')
  await expect(page.getByText('LANTERN').first()).toBeVisible()
})

/* WICK: 5 wanted on 20 October, 8 ordered today for the 25th at 5 days, so that they can be there from the 12th on: pulled in to the 20th rather than ordered anew; 3 are left. */
test('an open order is moved to the day on which it is needed; a figure says what it is made of', async ({ page }) => {
  await enter(page, '/planning')
  const itemId = await makeBought(page, 'WICK')
  const { suppliers } = await references(page)
  const bought = await api<{ number: string }>(page, 'purchasing/orders', {
    key: randomUUID(),
    supplierId: suppliers.find((supplier) => supplier.code === 'TULLY')!.id,
    note: '',
    lines: [{ itemId, quantity: '8', unit: 'piece', price: '0.20', dueOn: '2026-10-25' }],
  })
  await orderOf(page, itemId, '5', '2026-10-20')
  const { id: plan } = await api(page, 'planning/plans', {
    name: 'Wicks',
    kind: 'trial',
    endsOn: '2026-11-30',
    demandRule: 'orders only',
    scope: { items: 'product', of: [itemId] },
  })
  await page.goto(`/planning/${plan}`)
  await choose(page.getByLabel('Rows', { exact: true }), 'All items')
  await page.getByRole('button', { name: 'Six lines of WICK' }).click()
  await page.getByRole('button', { name: /^Scheduled receipts of WICK, 19 Oct: 8/ }).click()
  await expect(dialog(page)).toContainText(`${bought.number}, pulled in from 25 Oct`)
  await expect(dialog(page)).toContainText('Larkhill Books')
  await expect(dialog(page).getByText('There after').locator('..')).toContainText('3 pc')
  await dialog(page).getByRole('button', { name: 'Close' }).click()

  await page.getByRole('tab', { name: 'Messages' }).click()
  await page.getByRole('button', { name: `Move ${bought.number} to 20 Oct` }).click()
  await dialog(page).getByLabel('It comes on').fill('2026-10-01')
  await dialog(page)
    .getByRole('button', { name: /^Move it to/ })
    .click()
  await expect(dialog(page).getByText('This day is over. Choose today or later.')).toBeVisible()
  await dialog(page).getByLabel('It comes on').fill('2026-10-20')
  await dialog(page).getByRole('button', { name: 'Move it to 20 Oct' }).click()
  await expect(notice(page, `${bought.number}: 25 Oct → 20 Oct`)).toBeVisible()
  await expect(page.getByText('Nothing to say')).toBeVisible()
})

test('the board by keys: a late shortage says what fills it and why, and is released in three acts', async ({
  page,
}) => {
  await enter(page, '/planning')
  const itemId = await makeBought(page, 'TAPER')
  // Wanted on Wednesday; five working days from Monday 5 October are Monday 12 October.
  await orderOf(page, itemId, '5', '2026-10-07')
  const { id: plan } = await api(page, 'planning/plans', {
    name: 'Tapers',
    kind: 'working',
    endsOn: '2026-11-30',
    demandRule: 'orders only',
    scope: { items: 'product', of: [itemId] },
  })
  await page.goto(`/planning/${plan}`)
  const board = page.getByRole('grid', { name: 'Plan board' })
  const first = board.getByRole('gridcell', { name: /^TAPER, 5 Oct: 0 pc.*5 pc short, late/ })
  await expect(first).toBeVisible()
  await expect(board.getByRole('columnheader', { name: '5 Oct' })).toContainText('1 late')
  await expect(board.getByRole('gridcell', { name: /^TAPER, 12 Oct: / })).not.toContainText('late')

  // One stop of Tab; arrows within; the head of the row opens its six lines.
  await expect(board.locator('[tabindex="0"], button:not([tabindex="-1"])')).toHaveCount(1)
  await first.focus()
  await page.keyboard.press('End')
  await expect(board.getByRole('gridcell', { name: /^TAPER, 30 Nov: / })).toBeFocused()
  await page.keyboard.press('Home')
  await expect(board.getByRole('rowheader').first()).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(board.getByRole('rowheader', { name: 'Net requirements' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(board.getByRole('rowheader', { name: 'Net requirements' })).toHaveCount(0)
  await page.keyboard.press('ArrowRight')
  await expect(first).toBeFocused()
  expect(await faults(page)).toEqual([])

  await page.keyboard.press('Enter')
  await expect(dialog(page).locator('[data-test=shortage]')).toContainText('5 pc short')
  await expect(dialog(page).getByRole('region', { name: 'What fills it' })).toContainText('there on 12 Oct')
  await expect(dialog(page).getByRole('region', { name: 'What the figures are made of' })).toContainText(
    'Larkhill Books',
  )
  await dialog(page).getByRole('button', { name: 'Why?' }).click()
  await expect(dialog(page).locator('[data-test=why]')).toContainText('5 pc wanted − 0 pc there = 5 pc missing')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Release 5 pc' }).click()
  await dialog(page).getByRole('button', { name: 'Release 1 order' }).click()
  await expect(page.getByText(/Released 1 document; the plan is computed anew/)).toBeVisible()
})
