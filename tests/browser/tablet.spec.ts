import { expect, test } from '@playwright/test'
import { dialog, enter, notice, row, choose } from './helpers'

test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true })

test('nothing of the bench hangs over the edge of a tablet', async ({ page }) => {
  await enter(page, '/')
  for (const path of [
    '/',
    '/catalogue',
    '/catalogue/38',
    '/demand',
    '/demand/orders/1',
    '/planning',
    '/purchasing',
    '/purchasing/3',
    '/workshop',
    '/workshop/builds/3',
    '/workshop/bench/3',
    '/workshop/cutting/1',
    '/stock',
    '/dispatch',
    '/dispatch/3',
    '/books',
  ]) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    expect([path, await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)]).toEqual([
      path,
      true,
    ])
    // The bench view has the screen to itself.
    if (!path.includes('/bench/')) {
      for (const area of ['Today', 'Books']) {
        await expect(page.getByRole('link', { name: area, exact: true })).toBeInViewport()
      }
    }
  }
})

test('goods in, by touch: what came is entered, shown before and after, and recorded', async ({ page }) => {
  await enter(page, '/purchasing')
  await page.getByRole('link', { name: 'PO-0045' }).tap()
  await page.getByRole('button', { name: 'Receive goods' }).tap()
  await dialog(page).getByLabel('Packing list number').fill('PL 118')
  await dialog(page).getByLabel('Received of LABEL', { exact: true }).fill('3/2')
  await expect(dialog(page).locator('[data-test=change-0]')).toContainText('received 0 → 1500 pc')
  await dialog(page).getByRole('button', { name: 'Receive 3/2 roll' }).tap()
  await expect(notice(page, 'Received 1500 pc LABEL.')).toBeVisible()
  await expect(page.getByText('Goods in for PO-0045, packing list PL 118')).toBeVisible()
  await expect(row(page, 'Order lines', 'LABEL').locator('[data-test=to-come]')).toHaveText(/500\s*pc/)
})

test('picking and shipping, by touch: a part is shipped, the rest stays open', async ({ page }) => {
  await enter(page, '/demand/orders/new')
  await choose(page.getByLabel('Customer', { exact: true }), 'Notch Coffee')
  await page.getByLabel('Due on').fill('2026-10-19')
  const field = page.getByRole('combobox', { name: 'Item' })
  await field.tap()
  await field.fill('TISSUE')
  await page.getByRole('option').filter({ hasText: 'TISSUE' }).tap()
  await page.getByLabel('Quantity', { exact: true }).fill('1 pack')
  await page.getByRole('button', { name: 'Enter the order' }).tap()
  // A pack is 480 sheets; 300 are there.
  await expect(row(page, 'Order lines', 'TISSUE').locator('[data-test=missing]')).toHaveText(/180\s*sheet/)
  await page.goto(page.url().replace('/demand/orders/', '/dispatch/'))
  await page.getByRole('button', { name: 'Allocate what is there' }).tap()
  await expect(notice(page, /Allocated 300 sheet TISSUE \(180 missing\)/)).toBeVisible()
  await page.getByRole('button', { name: 'Ship 300 sheet' }).tap()
  await expect(dialog(page)).toContainText('The rest of the order stays open.')
  await dialog(page).getByRole('button', { name: 'Ship 300 sheet' }).tap()
  await expect(notice(page, /shipped in part; the rest stays open/)).toBeVisible()
  await expect(page.getByText('shipped 300')).toBeVisible()
})
