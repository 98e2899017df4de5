import { expect, test } from '@playwright/test'
import { choose, chooseItem, dialog, enter, faults, notice, row } from './helpers'
import { makeBought } from './own-goods'

/* 500 at 0.18 are agreed; 120 are called off: 21.60, and 380 are left. */
test('quantity and price are agreed over a period, called off, and what is left is seen', async ({ page }) => {
  await enter(page, '/purchasing?tab=blankets')
  await makeBought(page, 'BO-TOOL')
  await page.getByRole('button', { name: 'New blanket order' }).click()
  await choose(dialog(page).getByLabel('Supplier', { exact: true }), 'Marrow Press')
  await chooseItem(dialog(page), 'Item, line 1', 'BO-TOOL')
  await dialog(page).getByRole('textbox', { name: 'Quantity, line 1' }).fill('500')
  await dialog(page).getByLabel('Price, line 1').fill('0.18')
  await dialog(page).getByLabel('Until').fill('2026-09-01')
  await dialog(page).getByRole('button', { name: 'Note the blanket order' }).click()
  await expect(dialog(page).getByText('It ends before it begins.')).toBeVisible()
  await dialog(page).getByLabel('Until').fill('2027-03-31')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Note the blanket order' }).click()
  await expect(page.getByRole('heading', { name: /^BO-\d+/ })).toBeVisible()
  await expect(row(page, 'Lines', 'BO-TOOL')).toContainText(/500\s*pc/)

  await page.getByRole('button', { name: 'Call off' }).click()
  await dialog(page).getByRole('textbox', { name: 'Call off of BO-TOOL' }).fill('501')
  await page.keyboard.press('Control+Enter')
  await expect(dialog(page).getByText('500 pc of BO-TOOL are left of it.')).toBeVisible()
  await dialog(page).getByRole('textbox', { name: 'Call off of BO-TOOL' }).fill('120')
  await dialog(page).getByLabel('Due date').fill('2026-10-20')
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Control+Enter')
  await expect(notice(page, /^PO-\d+ is ready to be sent\.$/)).toBeVisible()
  await expect(page.getByText(/21\.60/).first()).toBeVisible()
  await row(page, 'Order lines', 'BO-TOOL').getByRole('link', { name: /^BO-/ }).click()
  await expect(row(page, 'Lines', 'BO-TOOL')).toContainText(/380\s*pc/)
  expect(await faults(page)).toEqual([])
})
