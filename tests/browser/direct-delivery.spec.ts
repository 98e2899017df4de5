import { expect, test } from '@playwright/test'
import { dialog, enter, faults, notice, row } from './helpers'
import { makeBought, orderOf } from './own-goods'

/*
 * A customer wants 6 DD-TOOL at 6.50. Tully sells them at 0.20 and delivers 4 of them to the customer, then the rest:
 * cost of sales 0.80 and 0.40, nothing in our bins.
 */
test('something is bought for a customer and delivered to them directly, in two parts', async ({ page }) => {
  await enter(page, '/')
  const itemId = await makeBought(page, 'DD-TOOL')
  const saleId = await orderOf(page, itemId, '6', '2026-10-30')
  await page.goto(`/demand/orders/${saleId}`)
  await page.getByRole('button', { name: 'Buy it for this order' }).first().click()
  await dialog(page).getByLabel('The supplier delivers it to the customer directly').check()
  await expect(dialog(page).getByText('It goes on an order of its own, with the customer’s address')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Put it on the buying list' }).click()
  await expect(notice(page, 'DD-TOOL is on the buying list.')).toBeVisible()

  await page.goto('/purchasing?tab=list')
  const line = row(page, 'Buying list', 'DD-TOOL')
  await expect(line).toContainText('delivered directly')
  await line.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Order 1' }).click()
  await dialog(page).getByRole('button', { name: 'Write 1 order' }).click()
  await expect(page.getByText(/delivered directly to Larkhill Books/)).toBeVisible()

  await page.getByRole('button', { name: 'Confirm the delivery' }).click()
  await dialog(page).getByLabel('Delivered of DD-TOOL', { exact: true }).fill('7')
  await dialog(page).getByRole('button', { name: 'Confirm 1 line' }).click()
  await expect(dialog(page).getByText(/^This order has 6 pc DD-TOOL open\./)).toBeVisible()
  await dialog(page).getByLabel('Delivered of DD-TOOL', { exact: true }).fill('4')
  await expect(dialog(page).locator('[data-test=change-0]')).toContainText(/delivered\s*0\s*→\s*4/)
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^Delivered to Larkhill Books; SO-\d+ has more open\.$/)).toBeVisible()
  await expect(row(page, 'Order lines', 'DD-TOOL').locator('[data-test=to-come]')).toHaveText(/2\s*pc/)
  await page.getByRole('button', { name: 'Confirm the delivery' }).click()
  await dialog(page).getByRole('button', { name: 'all of it' }).click()
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^SO-\d+ is shipped to Larkhill Books\.$/)).toBeVisible()

  const sale = (await (await page.request.get(`/api/demand/orders/${saleId}`)).json()) as {
    status: string
    lines: { shipped: string }[]
    postings: { label: string }[]
  }
  expect([sale.status, sale.lines[0]!.shipped, sale.postings.length]).toEqual(['shipped', '6', 2])
  const answer = await page.request.get(`/api/stock/balances?item=${itemId}`)
  const lying = ((await answer.json()) as { rows: { onHand: string }[] }).rows.filter(({ onHand }) => onHand !== '0')
  expect(lying).toEqual([])
  const moves = (await (await page.request.get(`/api/stock/moves?item=${itemId}&size=20`)).json()) as {
    rows: { value: string }[]
  }
  expect(moves.rows.map(({ value }) => value).sort()).toEqual(['40', '40', '80', '80'])
})
