import { expect, test, type Page } from '@playwright/test'
import { choose, chooseItem, dialog, enter, faults, notice, PASSWORD } from './helpers'
import { api, itemNamed, makeItem, references } from './own-goods'

/*
 * Eight lines of a packing list: five by their codes, one by the carton's EAN-13 (from the prefix that is kept for
 * examples), two kept by lot, whose labels carry item and lot as GS1 element strings.
 */
const LINES = [
  ...['GS-ONE', 'GS-TWO', 'GS-SIX', 'GS-TEN', 'GS-ODD'].map((code, index) => ({
    code,
    scan: code,
    came: String(3 + index),
  })),
  { code: 'GS-EAN', scan: '9521234567899', came: '12' },
  { code: 'GS-LOT', scan: ']d2010952123456790510L-7', came: '8' },
  { code: 'GS-SET', scan: ']d2010952123456791210L-8', came: '9' },
]
const CODES: Readonly<Record<string, string>> = {
  'GS-EAN': '9521234567899',
  'GS-LOT': '9521234567905',
  'GS-SET': '9521234567912',
}
let order = { id: 0, number: '' }

async function make(page: Page): Promise<void> {
  const { suppliers } = await references(page)
  const lines = []
  for (const { code, came } of LINES) {
    const codes = CODES[code] ? [{ code: CODES[code], kind: 'barcode', unit: 'piece', whose: '' }] : []
    const tracking = ['GS-LOT', 'GS-SET'].includes(code) ? 'lot' : 'none'
    const itemId = await makeItem(page, code, { codes, tracking })
    lines.push({ itemId, quantity: String(Number(came) + 1), unit: 'piece', price: '1.00', dueOn: '2026-10-12' })
  }
  order = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines,
  })
}

test.describe.configure({ mode: 'serial' })

test('eight mixed lines are received in at most 25 keys and scans; Enter records nothing', async ({ page }) => {
  await enter(page, '/')
  await make(page)
  await page.goto(`/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('Scan an item').focus()
  let acts = 0
  const scan = async (code: string): Promise<void> => {
    acts++
    await page.keyboard.type(code)
    await page.keyboard.press('Enter')
  }
  for (const { code, scan: label, came } of LINES) {
    await scan(label)
    await expect(dialog(page).getByRole('textbox', { name: `Received of ${code}` })).toBeFocused()
    for (const key of came) {
      acts++
      await page.keyboard.press(key)
    }
  }
  for (const { code, came } of LINES) {
    await expect(dialog(page).getByRole('textbox', { name: `Received of ${code}` })).toHaveValue(came)
  }
  await expect(dialog(page).getByLabel('Lot of GS-LOT')).toHaveValue('L-7')
  acts++
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^Received 3 pc GS-ONE, 4 pc GS-TWO/)).toBeVisible()
  expect(acts).toBeLessThanOrEqual(25)
  const { lines } = (await (await page.request.get(`/api/purchasing/orders/${order.id}`)).json()) as {
    lines: { code: string; received: string }[]
  }
  expect(lines.map(({ code, received }) => `${code} ${received}`)).toEqual(
    LINES.map(({ code, came }) => `${code} ${came}`),
  )
})

test('each scan counts one more, where somebody sets it; what is not on the order is told', async ({ page }) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('each scan counts one more').check()
  const field = dialog(page).getByLabel('Scan an item')
  await field.focus()
  for (const code of ['GS-ONE', 'FOIL-GOLD']) {
    await page.keyboard.type(code)
    await page.keyboard.press('Enter')
  }
  await expect(dialog(page).getByText('“FOIL-GOLD” is not to come on this order.')).toBeVisible()
  await expect(dialog(page).getByRole('textbox', { name: 'Received of GS-ONE' })).toHaveValue('1')
  await expect(field).toBeFocused()
  await dialog(page).getByLabel('each scan counts one more').uncheck()
})

test('keys typed ahead of a slow server are those of the line that was scanned; another lot is not mixed in', async ({
  page,
}) => {
  await enter(page, '/')
  const slow = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: (await references(page)).suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines: await Promise.all(
      ['GS-ODD', 'GS-EAN', 'GS-LOT'].map(async (code) => ({
        itemId: await itemNamed(page, code),
        quantity: '50',
        unit: 'piece',
        price: '1.00',
        dueOn: '2026-10-12',
      })),
    ),
  })
  await page.goto(`/purchasing/${slow.id}`)
  await page.route('**/api/find?*', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 500))
    await route.continue()
  })
  await page.getByRole('button', { name: 'Receive goods' }).click()
  const of = (code: string) => dialog(page).getByRole('textbox', { name: `Received of ${code}` })
  await of('GS-ODD').focus()
  await page.keyboard.type('7')
  // Behind the figure the scanner reads the next code, and the next figure comes before the server has answered.
  await page.keyboard.type(CODES['GS-EAN']!)
  await page.keyboard.press('Enter')
  await page.keyboard.type('12')
  await expect(of('GS-EAN')).toBeFocused()
  await expect(of('GS-EAN')).toHaveValue('12')
  await expect(of('GS-ODD')).toHaveValue('7')
  await page.keyboard.type('3')
  await expect(of('GS-EAN')).toHaveValue('123')
  await dialog(page).getByLabel('Scan an item').focus()
  for (const lot of ['A', 'B']) {
    await page.keyboard.type(`]d2010${CODES['GS-LOT']}10${lot}`)
    await page.keyboard.press('Enter')
    await expect(dialog(page).getByLabel('Lot of GS-LOT')).toHaveValue('A')
    await dialog(page).getByLabel('Scan an item').focus()
  }
  await expect(dialog(page).getByText('This is lot B, and lot A of GS-LOT is being received.')).toBeVisible()
})

test('of two lines of one item a scan leads to the first that nothing stands in', async ({ page }) => {
  await enter(page, '/')
  const itemId = await itemNamed(page, 'GS-ONE')
  const line = { itemId, unit: 'piece', price: '1.00' }
  const twice = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: (await references(page)).suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines: [
      { ...line, quantity: '2', dueOn: '2026-10-12' },
      { ...line, quantity: '3', dueOn: '2026-10-19' },
    ],
  })
  await page.goto(`/purchasing/${twice.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  const of = (index: number) => dialog(page).getByRole('textbox', { name: 'Received of GS-ONE' }).nth(index)
  for (const index of [0, 1]) {
    await dialog(page).getByLabel('Scan an item').focus()
    await page.keyboard.type('GS-ONE')
    await page.keyboard.press('Enter')
    await expect(of(index)).toBeFocused()
    await page.keyboard.type('2')
  }
  await of(0).fill('')
  await of(1).fill('')
  await dialog(page).getByLabel('each scan counts one more').check()
  for (let scans = 0; scans < 3; scans++) {
    await dialog(page).getByLabel('Scan an item').focus()
    await page.keyboard.type('GS-ONE')
    await page.keyboard.press('Enter')
    await expect(dialog(page).getByRole('status').filter({ hasText: 'GS-ONE' })).toBeVisible()
  }
  await expect(of(0)).toHaveValue('2')
  await expect(of(1)).toHaveValue('1')
  await dialog(page).getByLabel('each scan counts one more').uncheck()
})

test('what came on no order is taken in by a stockkeeper, and waits on hold', async ({ page }) => {
  await enter(page, '/')
  await makeItem(page, 'GS-EXTRA')
  await page.request.post('/api/company/sign-in', { data: { email: 'nell@hollowmere.example', password: PASSWORD } })
  await page.goto('/purchasing')
  await page.getByRole('button', { name: 'Goods in without an order' }).click()
  await chooseItem(dialog(page), 'Item, line 1', 'GS-EXTRA')
  await choose(dialog(page).getByLabel('From'), 'Tully Threads and Tools')
  await dialog(page).getByRole('textbox', { name: 'Received, line 1' }).fill('4')
  await dialog(page).getByRole('button', { name: 'Receive 1 line' }).click()
  await expect(dialog(page).getByText('The supplier has no terms for GS-EXTRA.')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await dialog(page).getByLabel('Price, line 1').fill('0')
  await dialog(page).getByRole('button', { name: 'Receive 1 line' }).click()
  await expect(notice(page, /^PO-\d+: Received 4 pc GS-EXTRA\. It waits on hold as not ordered\.$/)).toBeVisible()
})

/* Three of GS-ONE at 1.00 are asked for at 1.10, 3.30, with 2.00 of freight: 5.30 in all. */
test('the supplier’s invoice is read from a file; what does not fit is told, and it is entered as it was read', async ({
  page,
}) => {
  await enter(page, `/purchasing/${order.id}`)
  const components = 'urn:oasis:names:specification:ubl:schema:xsd:Common'
  const line = (id: number, item: string, quantity: number, amount: string): string =>
    `<cac:InvoiceLine><cbc:ID>${id}</cbc:ID><cbc:InvoicedQuantity unitCode="C62">${quantity}</cbc:InvoicedQuantity>
    <cbc:LineExtensionAmount currencyID="EUR">${amount}</cbc:LineExtensionAmount><cac:Item><cbc:Name>${item}</cbc:Name>
    <cac:BuyersItemIdentification><cbc:ID>${item}</cbc:ID></cac:BuyersItemIdentification></cac:Item></cac:InvoiceLine>`
  const text = `<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"
    xmlns:cac="${components}AggregateComponents-2" xmlns:cbc="${components}BasicComponents-2">
    <cbc:ID>TT-51</cbc:ID><cbc:IssueDate>2026-10-05</cbc:IssueDate>
    <cac:OrderReference><cbc:ID>${order.number}</cbc:ID></cac:OrderReference>
    <cac:AllowanceCharge><cbc:ChargeIndicator>true</cbc:ChargeIndicator>
    <cbc:AllowanceChargeReason>Freight</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">2.00</cbc:Amount>
    </cac:AllowanceCharge>${line(1, 'GS-ONE', 3, '3.30')}${line(2, 'POSTCARDS', 10, '4.00')}</Invoice>`
  await page.getByRole('button', { name: 'Enter an invoice' }).click()
  await dialog(page)
    .getByLabel('Read it from a file (UBL)')
    .setInputFiles({ name: 'invoice.xml', mimeType: 'application/xml', buffer: Buffer.from(text) })
  await expect(dialog(page).getByLabel('Invoice number')).toHaveValue('TT-51')
  await expect(dialog(page).getByRole('list', { name: 'What does not fit' })).toContainText(
    `Line 2, POSTCARDS, is not on ${order.number}: 4.00.`,
  )
  await expect(dialog(page).getByText('+€0.30 against the order')).toBeVisible()
  await expect(dialog(page).locator('[data-test=invoice-total]')).toContainText('5.30')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Enter the invoice' }).click()
  await expect(notice(page, /^Invoice TT-51 is entered\./)).toBeVisible()
})
