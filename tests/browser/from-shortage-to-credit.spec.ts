import ExcelJS from 'exceljs'
import { expect, test, type Page } from '@playwright/test'
import { choose, dialog, enter, faults, notice, row } from './helpers'
import { api, makeItem, orderOf, references } from './own-goods'

/*
 * A customer wants 20 WW-CLIP on 30 October; 10 WW-LOT, which are inspected, are wanted besides.
 *
 * Quoted: Tully 20 × 1.00 + 10 × 4.00 + 8.00 freight = 68.00. Arden 20 × 0.90 + 10 × 5.00 + 2.00 = 70.00. Pell does not
 * quote. Clips from Arden and lots from Tully are 18.00 + 40.00 + 10.00 = 68.00 too, with one supplier more: Tully alone.
 * Ordered 68.00; confirmed a week late; changed to 12 WW-LOT: 20.00 + 48.00 + 8.00 = 76.00.
 * Received: 12 clips and 8 of lot L1; then 16 of WW-PIN, two of which stand in for one clip, and 5 of lot L2, one over.
 * Worth 12.00 + 32.00 + 8.00 + 20.00. The customer’s order has 12 clips allocated.
 * Inspected: L1 is accepted, L2 rejected.
 * Invoiced: clips 20.00 (8.00 dearer), pins 8.00, lots 52.00, and 8.00 of freight, a tenth of the 80.00: 88.00. So the
 * clips are worth 22.00, the pins 8.80, the lots 57.20, 4.40 each.
 * Returned: L2, 5 × 4.40 = 22.00; the supplier gives what they asked for it, 20.00, and 2.00 of freight are lost.
 * At the end: stock 22.00 + 35.20 + 8.80 = 66.00; payable 88.00 − 20.00 = 68.00; not invoiced nothing.
 * The 12 clips are shipped: cost of sales 22.00, stock 44.00.
 */
let saleId = 0
let order = { id: 0, number: '' }
test.describe.configure({ mode: 'serial' })

const worth = async (page: Page): Promise<Record<string, string>> => {
  const books = (await (await page.request.get('/api/books/value?by=item')).json()) as { code: string; value: string }[]
  return Object.fromEntries(books.filter(({ code }) => code.startsWith('WW-')).map(({ code, value }) => [code, value]))
}
const accountsOf = async (page: Page): Promise<Record<string, bigint>> => {
  const rows = (await (await page.request.get('/api/books/accounts')).json()) as { account: string; amount: string }[]
  return Object.fromEntries(rows.map(({ account, amount }) => [account, BigInt(amount)]))
}
const before: { accounts: Record<string, bigint> } = { accounts: {} }
/** What an account has gained since the test began, in minor units. */
const gained = async (page: Page, account: string): Promise<bigint> =>
  ((await accountsOf(page))[account] ?? 0n) - (before.accounts[account] ?? 0n)

test('a shortage is put to three suppliers, and their quotations stand side by side', async ({ page }) => {
  await enter(page, '/')
  before.accounts = await accountsOf(page)
  const pin = await makeItem(page, 'WW-PIN')
  const clip = await makeItem(page, 'WW-CLIP', { substitutes: [{ itemId: pin, rank: 1, per: '0.5' }] })
  const lot = await makeItem(page, 'WW-LOT', { tracking: 'lot' })
  await api(page, 'stock/inspection-plans', {
    key: crypto.randomUUID(),
    code: 'WW',
    name: 'Straightness',
    itemId: lot,
    rule: { kind: 'number', number: 1 },
    characteristics: [{ name: 'Straight', kind: 'yes or no', unit: '', low: '', high: '' }],
  })
  saleId = await orderOf(page, clip, '20', '2026-10-30')
  await page.goto(`/demand/orders/${saleId}`)
  await page.getByRole('button', { name: 'Buy it for this order' }).first().click()
  await dialog(page).getByRole('button', { name: 'Put it on the buying list' }).click()
  await expect(notice(page, 'WW-CLIP is on the buying list.')).toBeVisible()
  await api(page, 'purchasing/buying/wants', {
    key: crypto.randomUUID(),
    itemId: lot,
    quantity: '10',
    unit: 'piece',
    neededOn: '2026-10-30',
    siteId: null,
    note: '',
    salesLineId: null,
  })

  await page.goto('/purchasing?tab=list')
  for (const code of ['WW-CLIP', 'WW-LOT']) {
    await row(page, 'Buying list', code).getByRole('checkbox').check()
  }
  await page.getByRole('button', { name: 'Ask for quotations' }).click()
  for (const name of ['Tully Threads and Tools', 'Arden Paper Mill', 'Pell Packaging']) {
    await choose(dialog(page).getByLabel('Ask', { exact: true }), name)
    await expect(dialog(page).getByRole('button', { name: `Do not ask ${name}` })).toBeVisible()
  }
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Note the request' }).click()
  await expect(page.getByRole('heading', { name: /Quotation request QR-/ })).toBeVisible()
  await page.getByRole('button', { name: 'Send to 3' }).click()
  await expect(dialog(page).getByLabel('Letter')).toHaveValue(/please quote for our request QR-\d+, 2 lines/)
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Send to 3' }).click()
  await expect(notice(page, '3 letters are on the way.')).toBeVisible()
})

const answering = async (page: Page, supplier: string): Promise<void> => {
  await page
    .getByRole('columnheader', { name: new RegExp(supplier) })
    .getByRole('button', { name: 'Answer' })
    .click()
  await page.getByRole('menuitem', { name: 'Enter what they quote' }).click()
}

test('what they answer is typed, or read from their workbook; the least total is found, and taken into an order', async ({
  page,
}) => {
  await enter(page, '/purchasing?tab=quotations')
  await row(page, 'Quotation requests', 'WW-CLIP').getByRole('link').click()
  await answering(page, 'Tully')
  await dialog(page).getByLabel('Price of WW-CLIP').fill('1.00')
  await dialog(page).getByLabel('Lead time of WW-CLIP').fill('5')
  await dialog(page).getByLabel('Price of WW-LOT').fill('4.00')
  await dialog(page).getByLabel('Lead time of WW-LOT').fill('soon')
  await dialog(page).getByRole('button', { name: 'Add a charge' }).click()
  await dialog(page).getByLabel('Amount of charge 1').fill('8.00')
  await dialog(page).getByRole('button', { name: 'Record the quotation' }).click()
  await expect(dialog(page).getByText('Write whole working days.')).toBeVisible()
  await dialog(page).getByLabel('Lead time of WW-LOT').fill('5')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Record the quotation' }).click()
  await expect(notice(page, 'What Tully Threads and Tools quotes is recorded.')).toBeVisible()

  const { suppliers } = await references(page)
  const arden = suppliers.find(({ code }) => code === 'ARDEN')!.id
  const requestId = page.url().split('/').at(-1)!
  const blank = await page.request.get(`/api/purchasing/quotations/${requestId}/workbook?supplier=${arden}`)
  const book = new ExcelJS.Workbook()
  await book.xlsx.load((await blank.body()) as unknown as ArrayBuffer)
  const sheet = book.worksheets[0]!
  for (const [cell, value] of Object.entries({
    H2: 0.9,
    K2: 4,
    H3: 5,
    K3: 4,
    H5: '2.00',
    H8: 'next year',
    H9: 'A-77',
  })) {
    sheet.getCell(cell).value = value
  }
  await answering(page, 'Arden')
  await dialog(page)
    .getByLabel('Read their workbook')
    .setInputFiles({
      name: 'answer.xlsx',
      mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      buffer: Buffer.from(await book.xlsx.writeBuffer()),
    })
  await expect(dialog(page).getByText('Line 8: Prices hold until: “next year” is no date.')).toBeVisible()
  await expect(dialog(page).getByLabel('Price of WW-CLIP')).toHaveValue('0.9')
  await expect(dialog(page).getByLabel('The supplier’s number')).toHaveValue('A-77')
  await dialog(page).getByRole('button', { name: 'Record the quotation' }).click()
  await expect(notice(page, 'What Arden Paper Mill quotes is recorded.')).toBeVisible()
  await answering(page, 'Pell')
  await dialog(page).getByLabel('They do not quote').check()
  await dialog(page).getByRole('button', { name: 'Record the quotation' }).click()

  await expect(page.locator('[data-test=least]')).toContainText(/68\.00.*from\s+Tully Threads and Tools\./)
  const total = page.getByRole('row').filter({ hasText: 'all they quote' })
  await expect(total).toContainText('70.00')
  await page.getByRole('button', { name: /^WW-CLIP from Arden Paper Mill/ }).click()
  await expect(page.locator('[data-test=chosen-total]')).toHaveText(/68\.00/)
  await page.locator('[data-test=least]').getByRole('button', { name: 'Choose that' }).click()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Take 2 lines' }).click()
  await dialog(page).getByLabel('Keep these prices as the suppliers’ terms of the items').uncheck()
  await dialog(page).getByRole('button', { name: 'Take them' }).click()
  await expect(page.getByRole('heading', { name: /^PO-\d+/ })).toBeVisible()
  await expect(page.getByText(/68\.00/).first()).toBeVisible()
  await expect(page.getByText('Freight 8.00')).toBeVisible()
  order = {
    id: Number(page.url().split('/').at(-1)),
    number: /PO-\d+/.exec((await page.getByRole('heading', { level: 1 }).textContent()) ?? '')![0],
  }
})

test('it is sent, confirmed late, which tells who waits, and changed', async ({ page }) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Send the order' }).click()
  await dialog(page).getByRole('button', { name: 'Send the order' }).click()
  await expect(page.getByLabel('State: sent')).toBeVisible()
  await page.getByRole('button', { name: 'Confirm' }).click()
  await dialog(page).getByLabel('Day on which WW-CLIP comes').fill('2026-11-06')
  await expect(dialog(page).getByRole('listitem').filter({ hasText: 'WW-CLIP' })).toContainText(
    'wants 20 pc WW-CLIP on 30 Oct; they are there on 6 Nov',
  )
  await dialog(page).getByRole('button', { name: 'Record the confirmation' }).click()
  await expect(page.getByLabel('State: confirmed')).toBeVisible()
  await page.getByRole('button', { name: 'Change the order' }).click()
  await page.getByLabel('Quantity', { exact: true }).nth(1).fill('12')
  await page.getByRole('button', { name: 'Save the order' }).click()
  await expect(page.getByText(/76\.00/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Send the change' }).click()
  await expect(dialog(page).getByLabel('Letter')).toHaveValue(/WW-LOT: 10 pc → 12 pc\./)
  await dialog(page).getByRole('button', { name: 'Send the order' }).click()
  await expect(notice(page, `${order.number} is on its way to Tully Threads and Tools.`)).toBeVisible()
  await expect(page.getByText(`Change to purchase order ${order.number}`)).toBeVisible()
})

/** Scans a code, and types how many of it came. */
async function scanned(page: Page, code: string, came: string, field: string): Promise<void> {
  await dialog(page).getByLabel('Scan an item').focus()
  await page.keyboard.type(code)
  await page.keyboard.press('Enter')
  await expect(dialog(page).getByRole('textbox', { name: field })).toBeFocused()
  await page.keyboard.type(came)
}

test('it comes in two parts by scanner: one lot over, and pins instead of clips', async ({ page }) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await scanned(page, 'WW-CLIP', '12', 'Received of WW-CLIP')
  // A pin is no clip: what was typed of these stays theirs.
  await dialog(page).getByLabel('Scan an item').focus()
  await page.keyboard.type('WW-PIN')
  await page.keyboard.press('Enter')
  await expect(dialog(page).getByText('WW-CLIP is being received on this line. Record that first.')).toBeVisible()
  await expect(dialog(page).getByRole('textbox', { name: 'Received of WW-CLIP' })).toHaveValue('12')
  await scanned(page, 'WW-LOT', '8', 'Received of WW-LOT')
  await dialog(page).getByLabel('Lot of WW-LOT').fill('L1')
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^Received 12 pc WW-CLIP, 8 pc WW-LOT/)).toBeVisible()

  await page.getByRole('button', { name: 'Receive goods' }).click()
  await scanned(page, 'WW-PIN', '16', 'Received of WW-PIN')
  await expect(dialog(page).getByText('WW-PIN instead of WW-CLIP')).toBeVisible()
  await expect(dialog(page).locator('[data-test=change-0]')).toContainText('nothing left to come')
  await scanned(page, 'WW-LOT', '5', 'Received of WW-LOT')
  await dialog(page).getByLabel('Lot of WW-LOT').fill('L2')
  await page.keyboard.press('Control+Enter')
  await expect(dialog(page).getByText('1 pc WW-LOT more than was ordered. Say why it is taken in.')).toBeVisible()
  await dialog(page).getByLabel('Why WW-LOT is taken in all the same').fill('thirteen in the box')
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^Received 16 pc WW-PIN, 5 pc WW-LOT/)).toBeVisible()
  await expect(page.locator('[data-test=replaces]')).toHaveText(/instead of 8\s*pc WW-CLIP/)
  expect(await worth(page)).toEqual({ 'WW-CLIP': '1200', 'WW-LOT': '5200', 'WW-PIN': '800' })
  const sale = (await (await page.request.get(`/api/demand/orders/${saleId}`)).json()) as {
    lines: { allocated: string }[]
  }
  expect(sale.lines[0]!.allocated).toBe('12')
})

test('one lot is accepted, one rejected; it is invoiced dearer with freight; the rejected lot goes back', async ({
  page,
}) => {
  await enter(page, '/stock?tab=inspection')
  const decide = async (lot: string, answer: string, decision: string | RegExp): Promise<void> => {
    await page.goto('/stock?tab=inspection')
    await page
      .getByRole('table', { name: 'Inspections' })
      .getByRole('row')
      .filter({ hasText: 'WW-LOT' })
      .filter({ hasText: lot })
      .getByRole('link')
      .first()
      .click()
    await page.getByLabel('Straight, number 1').pressSequentially(answer)
    await page.keyboard.press('Tab')
    await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
    await choose(page.getByLabel('Decision'), decision)
    if (answer === 'n') {
      await page.getByLabel('Reason').fill('bent')
    }
    await page.getByRole('button', { name: 'Record the decision' }).click()
    await expect(page.locator('[data-test=decided]')).toBeVisible()
  }
  await decide('L1', 'y', 'Accept: it may be used')
  await decide('L2', 'n', /^Reject/)

  await page.goto(`/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Enter an invoice' }).click()
  await dialog(page).getByLabel('Invoice number').fill('WW-INV')
  await dialog(page).getByLabel('Amount for WW-CLIP').fill('20.00')
  await dialog(page).getByLabel('Amount for WW-PIN').fill('8.00')
  await dialog(page).getByLabel('Amount for WW-LOT').fill('52.00')
  await expect(dialog(page).getByLabel('Its amount')).toHaveValue('8.00')
  await expect(dialog(page).locator('[data-test=invoice-total]')).toContainText('88.00')
  await dialog(page).getByRole('button', { name: 'Enter the invoice' }).click()
  await expect(notice(page, 'Invoice WW-INV is entered. It changed stock by €16.00.')).toBeVisible()
  expect(await worth(page)).toEqual({ 'WW-CLIP': '2200', 'WW-LOT': '5720', 'WW-PIN': '880' })

  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Return goods' }).click()
  await choose(dialog(page).getByLabel('Item', { exact: true }), 'WW-LOT WW-LOT to test with')
  await expect(dialog(page).getByLabel('From')).toContainText('lot L2')
  await dialog(page).getByLabel('Returned quantity', { exact: true }).fill('5')
  await choose(dialog(page).getByLabel('Expected for it'), /^a credit note/)
  await dialog(page).getByLabel('Reason').fill('bent')
  await dialog(page).getByRole('button', { name: 'Return 5 pc' }).click()
  await expect(notice(page, /^SR-\d+ goes back to Tully Threads and Tools\.$/)).toBeVisible()
  const returned = page.getByRole('listitem').filter({ hasText: /^SR-/ })
  await returned.getByRole('button', { name: 'Enter the credit note' }).click()
  await dialog(page).getByLabel('Credit note number').fill('WW-CN')
  await expect(dialog(page).getByLabel('Its amount')).toHaveValue('20.00')
  await dialog(page).getByRole('button', { name: 'Enter the credit note' }).click()
  await expect(returned).toContainText('credit note WW-CN: €20.00')

  expect(await worth(page)).toEqual({ 'WW-CLIP': '2200', 'WW-LOT': '3520', 'WW-PIN': '880' })
  expect(await gained(page, 'accounts payable')).toBe(-6800n)
  expect(await gained(page, 'goods received not invoiced')).toBe(0n)
  expect(await gained(page, 'returns to suppliers')).toBe(200n)
  expect(await gained(page, 'stock')).toBe(6600n)
})

test('what was bought for the customer is shipped to them; the journal is sound', async ({ page }) => {
  await enter(page, `/dispatch/${saleId}`)
  await page.getByRole('button', { name: 'Ship 12 pc' }).click()
  await dialog(page).getByRole('button', { name: 'Ship 12 pc' }).click()
  await expect(dialog(page)).toHaveCount(0)
  expect(await worth(page)).toEqual({ 'WW-LOT': '3520', 'WW-PIN': '880' })
  expect(await gained(page, 'cost of sales')).toBe(2200n)
  expect(await gained(page, 'stock')).toBe(4400n)
})
