import { expect, test, type Page } from '@playwright/test'
import { choose, dialog, enter, faults, notice, PASSWORD, row } from './helpers'
import { api, makeItem, references } from './own-goods'

/*
 * An order to Tully: 10 pc of GI-A at 2.00, 5 pc of GI-B at 8.00: 20.00 and 40.00. The packing list comes as rows of a
 * spreadsheet. The invoice asks for 22.00 and 40.00, and 6.00 of freight by value: 62.00 bear it, 22 × 6 / 62 = 2.12…
 * and the rest, 3.88. So GI-A is worth 24.12 and GI-B 43.88, together 68.00. A carrier asks for 3.00 more by quantity, of
 * 15 pieces: 2.00 and 1.00. GI-A: 26.12, GI-B: 44.88. Then 4.00 are given back for GI-B: 40.88.
 */
let order = { id: 0, number: '' }
const ITEMS = ['GI-A', 'GI-B'] as const

async function make(page: Page): Promise<void> {
  const { suppliers } = await references(page)
  const [a, b] = [await makeItem(page, 'GI-A'), await makeItem(page, 'GI-B')]
  const line = { unit: 'piece', dueOn: '2026-10-12' }
  order = await api<typeof order>(page, 'purchasing/orders', {
    key: crypto.randomUUID(),
    supplierId: suppliers.find(({ code }) => code === 'TULLY')!.id,
    note: '',
    lines: [
      { ...line, itemId: a, quantity: '10', price: '2.00' },
      { ...line, itemId: b, quantity: '5', price: '8.00' },
    ],
  })
}
/** What each of the two items is worth, as the books show it. */
async function worth(page: Page): Promise<string[]> {
  const answer = (await (await page.request.get('/api/books/value?by=item')).json()) as {
    code: string
    value: string
  }[]
  return ITEMS.map((code) => answer.find((found) => found.code === code)?.value ?? '0')
}

test.describe.configure({ mode: 'serial' })

test('a stockkeeper pastes a packing list: its faults by line, then all of it is received, and taken back as one', async ({
  page,
}) => {
  await enter(page, '/purchasing')
  await make(page)
  await page.request.post('/api/company/sign-in', { data: { email: 'nell@hollowmere.example', password: PASSWORD } })
  await page.goto('/purchasing')
  await page.getByRole('button', { name: 'Goods in from a file' }).click()
  await expect(page.getByRole('heading', { name: 'Goods in from a file' })).toBeVisible()
  await page.getByRole('button', { name: 'Paste rows' }).click()
  const rowsOf = (b: string): string =>
    `order\titem\tquantity\tpacking list\n${order.number}\tGI-A\t10\tTT 9\n${order.number}\tGI-B\t${b}\tTT 9`
  await page.getByLabel('Rows, with their headings in the first').fill(rowsOf('6'))
  await page.getByRole('button', { name: 'Look through these rows' }).click()
  await expect(page.getByText('1 pc GI-B more than was ordered. Say why it is taken in.')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Receive/ })).toBeDisabled()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Paste rows' }).click()
  await page.getByLabel('Rows, with their headings in the first').fill(rowsOf('5'))
  await page.getByRole('button', { name: 'Look through these rows' }).click()
  await expect(page.getByText(`${order.number} GI-A: received 0 → 10 pc`)).toBeVisible()
  await page.getByRole('button', { name: 'Receive 2 lines' }).click()
  await expect(notice(page, 'pasted rows.csv: 2 lines are received.')).toBeVisible()
  await page.locator('[aria-live=polite]').getByRole('button', { name: 'Undo' }).click()
  await expect(notice(page, 'Undone: everything is as it was.')).toBeVisible()
  await expect(page.getByText('taken back').first()).toBeVisible()
  await page.getByRole('button', { name: 'Paste rows' }).click()
  await page.getByLabel('Rows, with their headings in the first').fill(rowsOf('5'))
  await page.getByRole('button', { name: 'Look through these rows' }).click()
  await page.getByRole('button', { name: 'Receive 2 lines' }).click()
  await expect(notice(page, 'pasted rows.csv: 2 lines are received.')).toBeVisible()
})

test('the invoice has freight on it, a carrier asks for more, and some is given back: the goods cost all of that', async ({
  page,
}) => {
  await enter(page, `/purchasing/${order.id}`)
  expect(await worth(page)).toEqual(['2000', '4000'])
  await page.getByRole('button', { name: 'Enter an invoice' }).click()
  await dialog(page).getByLabel('Invoice number').fill('TT-R 9')
  await dialog(page).getByLabel('Amount for GI-A').fill('22.00')
  await dialog(page).getByLabel('Amount for GI-B').fill('40.00')
  await dialog(page).getByRole('button', { name: 'Add a charge' }).click()
  await dialog(page).getByLabel('Its amount').fill('6.00')
  const bearing = dialog(page).getByRole('table', { name: 'Goods that bear the charges' })
  await expect(bearing.getByRole('row').filter({ hasText: 'GI-A' })).toContainText('2.12')
  await expect(bearing.getByRole('row').filter({ hasText: 'GI-B' })).toContainText('3.88')
  await expect(dialog(page).locator('[data-test=invoice-total]')).toContainText('68.00')
  await choose(dialog(page).getByLabel('Spread', { exact: true }), 'by mass')
  await expect(dialog(page).getByText('How much GI-A weighs is not known.')).toBeVisible()
  await choose(dialog(page).getByLabel('Spread', { exact: true }), 'by value')
  await expect(bearing.getByRole('row').filter({ hasText: 'GI-B' })).toContainText('3.88')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Enter the invoice' }).click()
  await expect(notice(page, 'Invoice TT-R 9 is entered. It changed stock by €8.00.')).toBeVisible()
  expect(await worth(page)).toEqual(['2412', '4388'])
  await expect(page.getByText('of it Freight €6.00 by value')).toBeVisible()

  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Enter charges' }).click()
  const invoicedBy = dialog(page).getByRole('combobox', { name: 'Invoiced by' })
  await invoicedBy.click()
  await invoicedBy.fill('Pell')
  await page.getByRole('option', { name: /Pell Packaging/ }).click()
  await dialog(page).getByLabel('Invoice number').fill('F-31')
  await dialog(page).getByLabel('Its amount').fill('3')
  await choose(dialog(page).getByLabel('Spread', { exact: true }), 'by quantity')
  await expect(bearing.getByRole('row').filter({ hasText: 'GI-A' })).toContainText('2.00')
  await dialog(page).getByRole('button', { name: 'Enter the invoice' }).click()
  await expect(notice(page, /^Invoice F-31 is entered\. It changed stock by €3\.00\./)).toBeVisible()
  expect(await worth(page)).toEqual(['2612', '4488'])

  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Enter a credit note' }).click()
  await dialog(page).getByLabel('Credit note number').fill('TT-G 1')
  await dialog(page).getByLabel('Given back for GI-B').fill('41')
  await dialog(page).getByRole('button', { name: 'Enter the credit note' }).click()
  await expect(dialog(page).getByText('40.00 is what was invoiced for it and not given back')).toBeVisible()
  await dialog(page).getByLabel('Given back for GI-B').fill('4')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Enter the credit note' }).click()
  await expect(notice(page, /^Credit note TT-G 1 is entered\./)).toBeVisible()
  expect(await worth(page)).toEqual(['2612', '4088'])
  const invoices = page.getByRole('listitem').filter({ hasText: 'TT-G 1' })
  await invoices.getByRole('button', { name: 'Take back' }).click()
  await expect(notice(page, 'Credit note TT-G 1 is taken back.')).toBeVisible()
  expect(await worth(page)).toEqual(['2612', '4488'])
  await expect(row(page, 'Order lines', 'GI-A')).toContainText('10')
})

/*
 * GI-A: 10 are worth 26.12, for which Tully asked 22.00. 2 go back: 26.12 × 2 / 10 = 5.22 leave the stock, and
 * 22.00 × 2 / 10 = 4.40 are expected. Of GI-B, 5 worth 44.88, one goes back for another: 8.98 leave the stock.
 */
test('two go back for a credit note, one for a replacement that is not paid for; the note is printed', async ({
  page,
}) => {
  await enter(page, `/purchasing/${order.id}`)
  const goBack = async (item: string, quantity: string, expects: RegExp): Promise<void> => {
    await page.getByRole('button', { name: 'More' }).click()
    await page.getByRole('menuitem', { name: 'Return goods' }).click()
    await choose(dialog(page).getByLabel('Item', { exact: true }), item)
    await dialog(page).getByLabel('Returned quantity', { exact: true }).fill(quantity)
    await choose(dialog(page).getByLabel('Expected for it'), expects)
    await dialog(page).getByLabel('Reason').fill('torn')
  }
  await goBack('GI-A GI-A to test with', '2', /^a credit note/)
  await expect(dialog(page).locator('[data-test=change]')).toContainText('10')
  await dialog(page).getByLabel('Reason').fill('')
  await dialog(page).getByRole('button', { name: 'Return 2 pc' }).click()
  await expect(dialog(page).getByText('Give why it goes back.')).toBeVisible()
  await dialog(page).getByLabel('Reason').fill('torn')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Return 2 pc' }).click()
  await expect(notice(page, /^SR-\d+ goes back to Tully Threads and Tools\.$/)).toBeVisible()
  expect(await worth(page)).toEqual(['2090', '4488'])
  const returned = page.getByRole('listitem').filter({ hasText: /^SR-/ })
  await expect(returned.first()).toContainText('credit note expected, €4.40')
  const note = await page.request.get((await returned.first().getByRole('link').getAttribute('href'))!)
  expect((await note.body()).subarray(0, 5).toString()).toBe('%PDF-')
  await returned.first().getByRole('button', { name: 'Enter the credit note' }).click()
  await dialog(page).getByLabel('Credit note number').fill('TT-G 2')
  await expect(dialog(page).getByLabel('Its amount')).toHaveValue('4.40')
  await dialog(page).getByRole('button', { name: 'Enter the credit note' }).click()
  await expect(returned.first()).toContainText('credit note TT-G 2: €4.40')

  await goBack('GI-B GI-B to test with', '1', /^a replacement/)
  await dialog(page).getByRole('button', { name: 'Return 1 pc' }).click()
  await expect(returned.first()).toContainText('replacement expected')
  expect(await worth(page)).toEqual(['2090', '3590'])
  await expect(row(page, 'Order lines', 'GI-B').locator('[data-test=to-come]')).toHaveText(/1\s*pc/)
  await returned.first().getByRole('button', { name: 'It was replaced' }).click()
  await expect(page.getByText(/^What replaces SR-\d+ has not come yet\./)).toBeVisible()
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('Received of GI-B', { exact: true }).fill('1')
  await dialog(page).getByRole('button', { name: 'Receive 1 pc' }).click()
  await expect(dialog(page)).toHaveCount(0)
  await returned.first().getByRole('button', { name: 'It was replaced' }).click()
  await expect(returned.first().getByRole('button', { name: 'It was replaced' })).toHaveCount(0)
  await expect(returned.first()).toContainText('replaced')
  const left = (await (await page.request.get(`/api/purchasing/orders/${order.id}`)).json()) as { uninvoiced: [] }
  expect(left.uninvoiced).toEqual([])
  expect(await faults(page)).toEqual([])
})
