import { expect, test } from '@playwright/test'
import { chooseItem, dialog, enter, choose, expectChosen } from './helpers'

test('an item that is in stock, ordered and in bills is not retired unasked', async ({ page }) => {
  await enter(page, '/catalogue?search=BLOCK-A5')
  await page.getByRole('row').filter({ hasText: 'BLOCK-A5' }).first().click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('BLOCK-A5')
  await page.getByRole('button', { name: /^Name and group/ }).click()
  await choose(page.getByLabel('Status', { exact: true }), 'retired')
  await expect(dialog(page)).toContainText('It is still in use.')
  await expect(dialog(page)).toContainText(/In stock: \d+ pc/)
  await expect(dialog(page)).toContainText(/In \d+ bills?: /)
  await dialog(page).getByRole('button', { name: 'Cancel' }).click()
  await expectChosen(page.getByLabel('Status', { exact: true }), 'active')
  await page.reload()
  await expectChosen(page.getByLabel('Status', { exact: true }), 'active')
})

test('a purchase order says what stands against the supplier’s terms, and takes what would be right', async ({
  page,
}) => {
  await enter(page, '/purchasing/new')
  await choose(page.getByLabel('Supplier', { exact: true }), 'Tully Threads and Tools')
  await page.getByLabel('Due date').fill('2026-10-05')
  await chooseItem(page, 'Item', 'BONE')
  await page.getByLabel('Quantity', { exact: true }).fill('1')
  const concern = page.locator('[data-test=concern]')
  await expect(concern.filter({ hasText: 'at the soonest' })).toBeVisible()
  await concern.getByRole('button', { name: /^Due date/ }).click()
  await expect(concern.filter({ hasText: 'at the soonest' })).toBeHidden()
  await page.getByRole('button', { name: 'Add a line' }).click()
  await chooseItem(page, 'Item', 'NB-A5-RED')
  await page.getByLabel('Quantity', { exact: true }).last().fill('2')
  await expect(concern.filter({ hasText: 'NB-A5-RED is made here' })).toBeVisible()
})

test('a supplier added on the way leaves the cursor where it was', async ({ page }) => {
  await enter(page, '/purchasing/new')
  const add = page.getByRole('button', { name: 'Add a supplier' })
  await add.click()
  await dialog(page).getByLabel('Code', { exact: true }).fill('ONWAY')
  await dialog(page).getByLabel('Name', { exact: true }).fill('On the Way Ltd')
  await dialog(page).getByRole('button', { name: 'Add the supplier' }).click()
  await expectChosen(page.getByLabel('Supplier', { exact: true }), 'On the Way Ltd')
  await expect(add).toBeFocused()
})
