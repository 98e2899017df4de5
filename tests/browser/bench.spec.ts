import { expect, test } from '@playwright/test'
import { dialog, enter, scan, signIn } from './helpers'

test('find forgives typing errors, opens the side sheet, and sheets are pinned side by side', async ({ page }) => {
  await signIn(page)
  await page.keyboard.press('Control+k')
  await page.getByLabel('Find anything').fill('cloht nay')
  await expect(page.getByRole('option').first()).toContainText('CLOTH-NAVY')
  await page.keyboard.press('Enter')
  const sheet = page.getByRole('article', { name: 'Item CLOTH-NAVY' })
  await expect(sheet).toContainText('CASE-A5-NAVY')
  await sheet.getByRole('button', { name: 'Pin beside the next' }).click()
  await sheet.getByRole('button', { name: 'CASE-A5-NAVY' }).click()
  await expect(page.getByRole('article')).toHaveCount(2)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('article')).toHaveCount(1)
})

test('keys: digits go to areas, ? lists the keys of the page', async ({ page }) => {
  await signIn(page)
  await page.keyboard.press('7')
  await expect(page.getByRole('heading', { name: 'Stockroom' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(dialog(page)).toContainText('correct a quantity')
  await page.keyboard.press('Escape')
  await expect(dialog(page)).toBeHidden()
})

test('keys are commands however fast they follow each other; a code is none', async ({ page }) => {
  await enter(page, '/')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  // As fast as events can be: within a millisecond.
  const strike = (keys: readonly string[]): Promise<void> =>
    page.evaluate((struck) => {
      for (const key of struck) {
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
      }
    }, keys)
  await strike(['Escape', '7'])
  await expect(page.getByRole('heading', { name: 'Stockroom' })).toBeVisible()
  // Two at once: the first leads to another page, on which the second means something else.
  await strike(['3', 'c'])
  await expect(page.getByRole('heading', { name: 'Demand' })).toBeVisible()
  await expect(dialog(page)).toHaveCount(0)
  await strike(['7', '3', '5', '1', '0', 'Enter'])
  await expect(page.getByText('Nothing here is named “73510”.')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Demand' })).toBeVisible()
})

test('a scan opens what it names', async ({ page }) => {
  await signIn(page)
  await scan(page, 'FOIL-GOLD')
  await expect(page.getByRole('article', { name: 'Item FOIL-GOLD' })).toBeVisible()
})

test('exports are CSV', async ({ page }) => {
  await enter(page, '/')
  for (const [table, head] of [
    ['items', 'code,name,group'],
    ['balances', 'item,name,bin'],
    ['moves', 'id,effective_on'],
    ['journal', 'posting,effective_on'],
    ['stock-value', 'as_of,group,site,item'],
    ['not-invoiced', 'as_of,received_on,order'],
    ['sales-orders', 'number,customer'],
    ['purchase-orders', 'number,supplier'],
  ] as const) {
    const answer = await page.request.get(`/api/export/${table}`)
    expect(answer.headers()['content-type']).toContain('text/csv')
    expect((await answer.text()).replace('\uFEFF', '')).toMatch(new RegExp(`^${head}`))
  }
})
