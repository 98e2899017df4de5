import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { choose, chooseItem, dialog, enter, faults, notice, row, signIn } from './helpers'
import { api, itemNamed, makeItem, references } from './own-goods'

/*
 * An order to Tully: 10 pc of LF-A at 2.00 due 12 Oct, 4 pc of LF-B at 5.50 due 19 Oct: 42.00.
 * Confirmed: LF-A 8 pc at 2.10 on 16 Oct: 16.80 + 22.00 = 38.80.
 * Changed: LF-B to 6 pc: 16.80 + 33.00 = 49.80.
 */
let order = { id: 0, number: '' }

async function make(page: Page): Promise<void> {
  const { suppliers, customers } = await references(page)
  const [a, b] = [await makeItem(page, 'LF-A'), await makeItem(page, 'LF-B')]
  const line = { unit: 'piece', dueOn: '2026-10-12' }
  order = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines: [
      { ...line, itemId: a, quantity: '10', price: '2.00' },
      { ...line, itemId: b, quantity: '4', price: '5.50', dueOn: '2026-10-19' },
    ],
  })
  await api(page, 'demand/orders', {
    key: crypto.randomUUID(),
    customerId: customers.find(({ code }) => code === 'LARK')!.id,
    dueOn: '2026-10-13',
    note: '',
    lines: [{ id: null, itemId: a, quantity: '5', unit: 'piece', price: '9' }],
  })
}

test.describe.configure({ mode: 'serial' })

test('an order is sent with a letter that is read before it goes', async ({ page }) => {
  await enter(page, '/purchasing')
  await make(page)
  await page.goto(`/purchasing/${order.id}`)
  await expect(page.getByLabel('State: draft')).toBeVisible()
  await page.getByRole('button', { name: 'Send the order' }).click()
  await expect(dialog(page).getByLabel('To', { exact: true })).toHaveValue('hello@tully.example')
  await expect(dialog(page).getByLabel('Letter')).toHaveValue(
    new RegExp(`our purchase order ${order.number} of 5 Oct 2026, 2 lines, EUR 42.00 in all`),
  )
  expect(await faults(page)).toEqual([])
  await dialog(page).getByLabel('To', { exact: true }).fill('nobody')
  await dialog(page).getByRole('button', { name: 'Send the order' }).click()
  await expect(dialog(page).getByText('Write an e-mail address, such as orders@mill.example')).toBeVisible()
  await dialog(page).getByLabel('To', { exact: true }).fill('wren@tully.example')
  await dialog(page).getByRole('button', { name: 'Send the order' }).click()
  await expect(notice(page, `${order.number} is on its way to Tully Threads and Tools.`)).toBeVisible()
  await expect(page.getByLabel('State: sent')).toBeVisible()
  await expect(page.getByText('to wren@tully.example')).toBeVisible()
  await expect(page.getByText('in the mailbox here: no mail server is set')).toBeVisible()
})

test('a stand-in answers where nobody else does: what it confirms is read like a supplier’s own file', async ({
  page,
}) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Let a stand-in answer' }).click()
  await dialog(page).getByLabel('Late by, days').fill('soon')
  await dialog(page).getByRole('button', { name: 'Make its documents' }).click()
  await expect(dialog(page).getByText('Write whole days.')).toBeVisible()
  await dialog(page).getByLabel('Late by, days').fill('3')
  await dialog(page).getByRole('button', { name: 'Make its documents' }).click()
  const link = dialog(page).getByRole('link', { name: /^What it confirms/ })
  expect(await faults(page)).toEqual([])
  const saving = page.waitForEvent('download')
  await link.click()
  const path = await (await saving).path()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Confirm' }).click()
  await dialog(page)
    .getByLabel('Read their answer (UBL)')
    .setInputFiles({
      name: 'answer.xml',
      mimeType: 'application/xml',
      buffer: readFileSync(path),
    })
  await expect(dialog(page).getByLabel('The supplier’s number')).toHaveValue(`S-${order.number}`)
  await expect(dialog(page).getByLabel('Day on which LF-A comes')).toHaveValue(/15 Oct/)
})

test('the supplier’s file confirms it late and dearer; who waits is told; the order goes by it', async ({ page }) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Confirm' }).click()
  const answer = (number: string) => `<?xml version="1.0" encoding="UTF-8"?>
    <OrderResponse xmlns="urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2"
      xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
      xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
      <cbc:ID>R-5</cbc:ID><cbc:SalesOrderID>TT-881</cbc:SalesOrderID>
      <cac:OrderReference><cbc:ID>${number}</cbc:ID></cac:OrderReference>
      <cac:OrderLine><cac:LineItem><cbc:ID>1</cbc:ID><cbc:Quantity unitCode="H87">8</cbc:Quantity>
        <cac:Delivery><cac:PromisedDeliveryPeriod><cbc:EndDate>2026-10-16</cbc:EndDate></cac:PromisedDeliveryPeriod></cac:Delivery>
        <cac:Price><cbc:PriceAmount currencyID="EUR">2.10</cbc:PriceAmount></cac:Price></cac:LineItem>
        <cac:OrderLineReference><cbc:LineID>1</cbc:LineID></cac:OrderLineReference></cac:OrderLine>
    </OrderResponse>`
  const file = (text: string) => ({ name: 'answer.xml', mimeType: 'application/xml', buffer: Buffer.from(text) })
  const chosen = dialog(page).getByLabel('Read their answer (UBL)')
  await chosen.setInputFiles(file(answer('PO-9999')))
  await expect(dialog(page).getByText(`It answers PO-9999, not ${order.number}.`)).toBeVisible()
  await chosen.setInputFiles(file(answer(order.number)))
  await expect(dialog(page).getByLabel('Confirmed quantity of LF-A')).toHaveValue('8')
  await expect(dialog(page).getByLabel('The supplier’s number')).toHaveValue('TT-881')
  await expect(dialog(page).getByRole('listitem').filter({ hasText: 'LF-A' })).toContainText(
    'wants 5 pc LF-A on 13 Oct; they are there on 16 Oct',
  )
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Record the confirmation' }).click()
  await expect(notice(page, `${order.number} is confirmed.`)).toBeVisible()
  await expect(page.getByLabel('State: confirmed')).toBeVisible()
  const line = row(page, 'Order lines', 'LF-A')
  await expect(line).toContainText('asked for 10')
  await expect(line).toContainText('asked for 12 Oct')
  await expect(page.getByText(/EUR 38\.80|38\.80/).first()).toBeVisible()
  await expect(page.getByText('their number TT-881')).toBeVisible()
})

test('it is changed; the change is sent by itself, line by line; then the rest is cancelled and wanted again', async ({
  page,
}) => {
  await enter(page, `/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Change the order' }).click()
  const quantities = page.getByLabel('Quantity', { exact: true })
  await quantities.nth(1).fill('6')
  await page.getByRole('button', { name: 'Save the order' }).click()
  await expect(notice(page, `${order.number} is changed. Send the change to the supplier.`)).toBeVisible()
  await expect(page.getByText(/49\.80/).first()).toBeVisible()
  // What the supplier confirmed themselves is no change to them but to what was sent; both are told.
  await page.getByRole('button', { name: 'Send the change' }).click()
  await expect(dialog(page).getByLabel('Subject')).toHaveValue(`Change to purchase order ${order.number}`)
  await expect(dialog(page).getByLabel('Letter')).toHaveValue(/LF-B: 4 pc → 6 pc\./)
  await dialog(page).getByRole('button', { name: 'Send the order' }).click()
  await expect(page.getByRole('button', { name: 'Send the change' })).toHaveCount(0)

  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Cancel the order' }).click()
  await expect(dialog(page)).toContainText('Nothing of it is expected any more. Tell the supplier.')
  await dialog(page).getByRole('button', { name: 'Cancel the order' }).click()
  await expect(notice(page, `${order.number} is cancelled.`)).toBeVisible()
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Reopen the order' }).click()
  await expect(notice(page, `${order.number} is open.`)).toBeVisible()
})

test('several are chosen in the list, printed into one PDF and sent at once', async ({ page }) => {
  await enter(page, '/purchasing')
  const numbers: string[] = []
  const { suppliers } = await references(page)
  const itemId = await itemNamed(page, 'LF-B')
  for (let made = 0; made < 2; made++) {
    const { number } = await api<{ number: string }>(page, 'purchasing/orders', {
      key: crypto.randomUUID(),
      supplierId: suppliers.find(({ code }) => code === 'PELL')!.id,
      note: '',
      lines: [{ itemId, quantity: '1', unit: 'piece', price: '5.50', dueOn: '2026-11-20' }],
    })
    numbers.push(number)
  }
  await page.goto('/purchasing')
  await choose(page.getByLabel('Status'), 'draft')
  await page.getByLabel('Filter orders').fill('Pell')
  for (const number of numbers) {
    await page.getByLabel(`Choose ${number}`).check()
  }
  const printed = page.context().waitForEvent('page')
  await page.getByRole('button', { name: 'Print', exact: true }).click()
  await (await printed).close()
  await page.getByRole('button', { name: 'Send 2' }).click()
  await expect(notice(page, '2 orders are on the way.')).toBeVisible()
  await choose(page.getByLabel('Status'), 'sent')
  await expect(row(page, 'Purchase orders', numbers[0]!)).toContainText('sent')
})

test('above the sum that the company sets, a buyer’s order is approved by the owner', async ({ page, browser }) => {
  await enter(page, '/company/settings')
  await page.getByLabel('Approved before they are sent, above').fill('30')
  await page.getByRole('button', { name: 'Save the settings' }).click()
  await expect(notice(page, 'The company’s settings are saved.')).toBeVisible()
  const { suppliers } = await references(page)
  const itemId = await itemNamed(page, 'LF-B')
  const dear = await api<{ id: number; number: string }>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines: [{ itemId, quantity: '6', unit: 'piece', price: '5.50', dueOn: '2026-11-20' }],
  })
  const other = await browser.newContext()
  const desk = await other.newPage()
  await signIn(desk, 'petra@hollowmere.example')
  await desk.goto(`/purchasing/${dear.id}`)
  await expect(desk.getByText('It comes to more than 30, and is approved before it is sent.')).toBeVisible()
  await expect(desk.getByRole('button', { name: 'Approve' })).toHaveCount(0)
  await desk.getByRole('button', { name: 'Send the order' }).click()
  await dialog(desk).getByRole('button', { name: 'Send the order' }).click()
  await expect(dialog(desk).getByText(/has to be approved before it is sent/)).toBeVisible()
  await page.goto(`/purchasing/${dear.id}`)
  await page.getByRole('button', { name: 'Approve' }).click()
  await expect(notice(page, `${dear.number} is approved.`)).toBeVisible()
  await desk.reload()
  await desk.getByRole('button', { name: 'Send the order' }).click()
  await dialog(desk).getByRole('button', { name: 'Send the order' }).click()
  await expect(desk.getByLabel('State: sent')).toBeVisible()
  await other.close()
  await page.goto('/company/settings')
  await page.getByLabel('Approved before they are sent, above').fill('')
  await page.getByRole('button', { name: 'Save the settings' }).click()
  await expect(notice(page, 'The company’s settings are saved.')).toBeVisible()
})

/* 10 at 2.00 less 2.5 % are 19.50; with 4.50 of freight 24.00. */
test('an order has a number of one’s own, a discount and freight; a number that is taken is told', async ({ page }) => {
  await enter(page, '/purchasing/new')
  await choose(page.getByLabel('Supplier', { exact: true }), 'Tully Threads and Tools')
  await page.getByLabel('Due date').fill('2026-10-20')
  await page.getByLabel('Number').fill(order.number.toLowerCase())
  await chooseItem(page, 'Item', 'LF-A')
  await page.getByLabel('Quantity', { exact: true }).fill('10')
  await page.getByLabel('Unit price').fill('2.00')
  await page.getByLabel('Discount, %').pressSequentially('2.5')
  await expect(page.getByLabel('Discount, %')).toHaveValue('2.5')
  await page.getByRole('button', { name: 'Add a charge' }).click()
  await page.getByLabel('Amount of charge 1').fill('4.50')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(page.getByText(`There is a purchase order ${order.number.toLowerCase()} already.`)).toBeVisible()
  await page.getByLabel('Number').fill('MILL-7')
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(page.getByRole('heading', { name: /^MILL-7/ })).toBeVisible()
  await expect(page.getByText(/24\.00/).first()).toBeVisible()
  await expect(row(page, 'Order lines', 'LF-A')).toContainText('€2.00 less 2.5 %')
  await expect(row(page, 'Order lines', 'LF-A')).toContainText('19.50')
  await page.getByRole('button', { name: 'Change the order' }).click()
  await expect(page.getByLabel('Discount, %')).toHaveValue('2.5')
  await page.getByLabel('Discount, %').fill('100')
  await page.getByRole('button', { name: 'Save the order' }).click()
  await expect(page.getByText('Write per cent below a hundred, such as 5 or 2.5.')).toBeVisible()
})
