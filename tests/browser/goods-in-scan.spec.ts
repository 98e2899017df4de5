import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, notice } from './helpers'
import { api, makeItem, references } from './own-goods'

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
