import { expect, test, type Page } from '@playwright/test'
import { choose, chooseItem, dialog, enter, faults, notice, PASSWORD, row } from './helpers'
import { api, makeItem, references } from './own-goods'

/*
 * Twelve boards of 4.00 come in as lots X (8) and Y (4). Five of each lot are measured: of X one is 2.15, above 2.1. With
 * none allowed to fail, X is sorted: 7 may be used, 1 goes back to the supplier. All four of Y are good. So 11 are
 * available, and 12 × 4.00 − 4.00 = 44.00 stay in the stock.
 */
let itemId = 0
let order = { id: 0, number: '' }
test.describe.configure({ mode: 'serial' })

async function receive(page: Page): Promise<void> {
  const { suppliers, bins } = await references(page)
  order = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: suppliers.find((supplier) => supplier.code === 'TULLY')!.id,
    note: '',
    lines: [{ itemId, quantity: '12', unit: 'piece', price: '4.00', dueOn: '2026-10-12' }],
  })
  const { lines } = (await (await page.request.get(`/api/purchasing/orders/${order.id}`)).json()) as {
    lines: { id: number }[]
  }
  const shelf = bins.find((bin) => bin.code === 'SHELF-A')!.id
  const lot = (lotNumber: string, quantity: string) => ({
    lineId: lines[0]!.id,
    quantity,
    unit: 'piece',
    binId: shelf,
    lot: lotNumber,
  })
  await api(page, `purchasing/orders/${order.id}/receive`, {
    key: crypto.randomUUID(),
    version: 1,
    packingList: '',
    lines: [lot('X', '8'), lot('Y', '4')],
  })
}

test('a plan is written: what is looked at, within which limits, of how many', async ({ page }) => {
  await enter(page, '/stock?tab=plans')
  itemId = await makeItem(page, 'IB-BOARD', { tracking: 'lot' })
  await page.getByRole('button', { name: 'New inspection plan' }).first().click()
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(dialog(page).getByText('Give a code.')).toBeVisible()
  await dialog(page).getByLabel('Code').fill('BOARDS')
  await dialog(page).getByLabel('Name').fill('Thickness of boards')
  await chooseItem(dialog(page), 'Item', 'IB-BOARD')
  await dialog(page).getByLabel('Looked at, line 1').fill('Thickness')
  await dialog(page).getByLabel('At least, line 1').fill('1.9')
  await dialog(page).getByLabel('At most, line 1').fill('1.8')
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(dialog(page).getByText('The upper limit is below the lower one.')).toBeVisible()
  await dialog(page).getByLabel('At most, line 1').fill('2.1')
  await dialog(page).getByLabel('Unit, line 1').fill('mm')
  await dialog(page).getByRole('button', { name: 'Add a line' }).click()
  await dialog(page).getByLabel('Looked at, line 2').fill('Flat')
  await choose(dialog(page).getByLabel('Recorded as, line 2'), 'yes or no')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(notice(page, 'Goods are inspected by BOARDS.')).toBeVisible()
  await expect(row(page, 'Inspection plans', 'BOARDS')).toContainText('5 of each lot')
})

test('what comes in waits; its sample is measured, sorted, accepted, and what failed goes back', async ({ page }) => {
  await enter(page, '/')
  await receive(page)
  await page.goto('/stock?tab=inspection')
  const waiting = page.getByRole('table', { name: 'Inspections' })
  await expect(waiting.getByRole('row').filter({ hasText: 'IB-BOARD' })).toHaveCount(2)
  await waiting
    .getByRole('row')
    .filter({ hasText: 'IB-BOARD' })
    .filter({ hasText: '8 pc' })
    .getByRole('link')
    .first()
    .click()
  await expect(page.getByText('Sample: 5 of each lot; none may fail.')).toBeVisible()
  expect(await faults(page)).toEqual([])

  // Down the column by Enter; what was typed is kept as one goes.
  await page.getByLabel('Thickness, number 1').click()
  for (const value of ['2.00', '1.9', '2.15', '2.05']) {
    await page.keyboard.type(value)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.type('2.1')
  // What cannot be read is told beside its field, and the rest is not lost; words are typed whole.
  await page.getByLabel('Thickness, number 5').fill('2.x')
  await page.getByLabel('Flat, number 1').fill('')
  await page.getByLabel('Flat, number 1').pressSequentially('yes')
  await page.keyboard.press('Tab')
  await expect(page.getByLabel('Flat, number 1')).toHaveValue('yes')
  await expect(page.getByText('“2.x” is no measure for Thickness.').first()).toBeVisible()
  await page.getByLabel('Thickness, number 5').fill('2.1')
  await page.getByLabel('Thickness, number 5').press('Tab')
  await expect(page.getByText('“2.x” is no measure for Thickness.')).toHaveCount(0)
  await page.getByRole('button', { name: 'The rest: yes' }).click()
  await expect(page.locator('[data-test=said]')).toHaveText('1 of 5 fails; none may.')
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Thickness, number 3')).toHaveValue('2.15')

  await choose(page.getByLabel('Decision'), 'Accept: it may be used')
  await page.getByRole('button', { name: 'Record the decision' }).click()
  await expect(page.getByText('1 of 5 failed; at most 0 may.')).toBeVisible()
  await choose(page.getByLabel('Decision'), 'Sort: part of it may be used')
  await page.getByRole('textbox', { name: 'Quantity that may be used' }).fill('7')
  await page.getByLabel('Reason').fill('one too thick')
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^IN-\d+: sorted\.$/)).toBeVisible()
  await expect(page.locator('[data-test=decided]')).toContainText(/7\s*pc may be used/)
  await expect(page.locator('[data-test=decided]')).toContainText(/1\s*pc may not/)

  // The other lot, pasted from a spreadsheet.
  await page.goto('/stock?tab=inspection')
  await waiting.getByRole('row').filter({ hasText: 'IB-BOARD' }).getByRole('link').first().click()
  await page.getByLabel('Thickness, number 1').evaluate((field) => {
    const data = new DataTransfer()
    data.setData('text/plain', '2.0\ty\n2.0\tyes\n2.02\t1\n1.98\tx')
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  })
  await expect(page.locator('[data-test=said]')).toHaveText('0 of 4 fail; none may.')
  await expect(page.getByText('Of 1 inspection of it before, 1 was sorted or rejected.')).toBeVisible()
  await page.getByRole('button', { name: 'Record the decision' }).click()
  await expect(notice(page, /^IN-\d+: accepted\.$/)).toBeVisible()

  const answer = await page.request.get(`/api/stock/balances?item=${itemId}`)
  const lying = ((await answer.json()) as { rows: { lot: string; onHand: string; status: string }[] }).rows
  expect(lying.map(({ lot, onHand, status }) => `${lot} ${onHand} ${status}`).sort()).toEqual([
    'X 1 damaged',
    'X 7 available',
    'Y 4 available',
  ])

  // What failed is offered first where goods go back.
  await page.goto(`/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Return goods' }).click()
  await expect(dialog(page).getByLabel('From')).toContainText('lot X')
  await expect(dialog(page).getByLabel('From')).toContainText('damaged')
  await dialog(page).getByLabel('Returned quantity').first().fill('1')
  await dialog(page).getByLabel('Reason').fill('too thick')
  await dialog(page).getByRole('button', { name: 'Return 1 pc' }).click()
  await expect(notice(page, /goes back to/)).toBeVisible()
  const books = (await (await page.request.get('/api/books/value?by=item')).json()) as { code: string; value: string }[]
  expect(books.find(({ code }) => code === 'IB-BOARD')?.value).toBe('4400')
})

test('who may not inspect sees what waits, and cannot release it', async ({ page }) => {
  await enter(page, '/')
  await receive(page)
  await page.request.post('/api/company/sign-in', { data: { email: 'nell@hollowmere.example', password: PASSWORD } })
  await page.goto('/stock?tab=inspection')
  await page.getByRole('row').filter({ hasText: 'IB-BOARD' }).getByRole('link').first().click()
  await expect(page.getByText('Only whoever may inspect says what becomes of it.')).toBeVisible()
  await expect(page.getByLabel('Thickness, number 1')).toBeDisabled()
})
