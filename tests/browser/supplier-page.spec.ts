import { expect, test } from '@playwright/test'
import { enter, row } from './helpers'

test('a supplier’s page is reached from an order: its record, its orders, what it delivers and at which price', async ({
  page,
}) => {
  await enter(page, '/purchasing')
  await page.getByLabel('Filter orders').fill('PO-0043')
  await page.getByRole('link', { name: 'PO-0043' }).click()
  await page.getByRole('heading', { level: 1 }).getByRole('link', { name: 'Glint Foils' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Glint Foils')
  await expect(page.locator('[data-test=record]')).toContainText('Nothing of theirs was due within a year.')
  await expect(row(page, 'Purchase orders', 'PO-0043')).toContainText('confirmed')
  await expect(row(page, 'What they deliver', 'FOIL-GOLD')).toContainText(/28\.50\s*\/ roll/)
  await row(page, 'What they deliver', 'FOIL-GOLD').click()
  await expect(page.getByRole('table', { name: 'Prices of FOIL-GOLD' })).toContainText('28 Sep')
})
