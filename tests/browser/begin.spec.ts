import { expect, test } from '@playwright/test'
import { chooseItem, dialog, notice, row, choose } from './helpers'

test.use({ baseURL: process.env.TSUMIKI_EMPTY_URL })

test('an empty company: first owner, first item, opening stock, a file of items', async ({ page }) => {
  await page.goto('/')
  await expect(page).toHaveURL(/\/begin$/)
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.getByText('Give the company’s name.')).toBeVisible()
  await page.getByLabel('Company').fill('Little Press')
  await page.getByLabel('Set-up code').fill('GUESSED')
  await page.getByLabel('Your name').fill('Asa Moor')
  await page.getByLabel('Your e-mail address').fill('asa@press.example')
  await page.getByLabel(/A password/).fill('letters-and-ink')
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.getByText('This is not the set-up code.')).toBeVisible()
  await page.getByLabel('Set-up code').fill('test-code')
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.getByText('Nothing is here yet')).toBeVisible()

  await page.getByRole('button', { name: 'Add the first item' }).click()
  await page.getByLabel('Code', { exact: true }).fill('INK-BLACK')
  await page.getByLabel('Name', { exact: true }).fill('Black ink')
  await page.getByRole('button', { name: 'Add a group' }).click()
  await dialog(page).getByLabel('Code').fill('INK')
  await dialog(page).getByLabel('Name', { exact: true }).fill('Inks')
  await dialog(page).getByRole('button', { name: 'Add the group' }).click()
  await choose(page.getByLabel('Stock unit'), 'kilogram')
  await choose(page.getByLabel('Buying unit'), 'kilogram')
  await choose(page.getByLabel('Selling unit'), 'kilogram')
  await page.getByLabel('Finest step').fill('0.001')
  await page.getByRole('button', { name: 'Add the item' }).click()
  await expect(page.getByRole('heading', { name: /INK-BLACK/ })).toBeVisible()

  await page.getByRole('button', { name: 'Correct stock' }).click()
  await choose(dialog(page).getByLabel('More or less'), 'more is there')
  await dialog(page).getByLabel('By how much', { exact: true }).fill('2 lb')
  await choose(dialog(page).getByLabel('Reason'), 'opening stock')
  await dialog(page).getByLabel('Cost of one, else the average').fill('10')
  await dialog(page)
    .getByRole('button', { name: /^Record/ })
    .click()
  await expect(row(page, 'Balances', 'INK-BLACK')).toContainText(/0\.907\s*kg/)

  await page.goto('/company')
  const file = (text: string) => ({ name: 'items.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await page
    .getByLabel('Files to import')
    .setInputFiles(
      file('code,name,group,stock_unit,finest_step\nCARD-A,Card A,INK,sheet,1\nCARD-B,Card B,NOWHERE,sheet,1\n'),
    )
  await page.getByRole('button', { name: 'Import 1 file' }).click()
  await expect(page.getByRole('alert')).toHaveText('items.csv line 3, group: There is no group “NOWHERE”.')
  await page
    .getByLabel('Files to import')
    .setInputFiles(
      file('code,name,group,stock_unit,finest_step\nCARD-A,Card A,INK,sheet,1\nCARD-B,Card B,INK,sheet,1\n'),
    )
  await page.getByRole('button', { name: 'Import 1 file' }).click()
  await expect(notice(page, 'Brought in 2 rows of items.csv.')).toBeVisible()
  await page.goto('/stock')
  await page.getByRole('button', { name: 'Correct stock' }).click()
  await chooseItem(dialog(page), 'Item', 'CARD-B')
})
