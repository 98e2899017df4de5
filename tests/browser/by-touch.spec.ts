import { randomUUID } from 'node:crypto'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { dialog, enter, faults, notice } from './helpers'
import { api, makeItem, references } from './own-goods'

/*
 * A day on a phone, by touch alone: what waits today, goods in, a count, a job at the bench. What is tapped there is
 * large enough for a thumb, and nothing stands outside of the screen.
 */
test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })

/** CSS pixels of what a thumb can hit (look.md; WCAG 2.2 asks for 24 at AA, 44 at AAA). */
const THUMB = 44

/** Names and heights of what is too small to tap, and what reaches out of the screen. */
const tooSmall = (scope: Locator): Promise<string[]> =>
  scope.evaluate((root, least) => {
    const isSeen = (element: Element): boolean => {
      const { width, height } = element.getBoundingClientRect()
      return width > 0 && height > 0 && getComputedStyle(element).visibility !== 'hidden'
    }
    // A tick box is tapped by its label, a link in a sentence as in any text, an item's chip only opens what is told
    // of it.
    const targets = [
      ...root.querySelectorAll(
        'button:not([data-chip]), input:not([type=checkbox], [type=file]), textarea, label:has([type=checkbox])',
      ),
    ]
    return targets.filter(isSeen).flatMap((target) => {
      const { height, right } = target.getBoundingClientRect()
      const name = (target.getAttribute('aria-label') ?? target.textContent ?? target.id).trim().slice(0, 40)
      return [
        ...(height < least ? [`${target.tagName} “${name}” is ${Math.round(height)} high`] : []),
        ...(right > window.innerWidth + 1 ? [`${target.tagName} “${name}” ends at ${Math.round(right)}`] : []),
      ]
    })
  }, THUMB)
const main = (page: Page): Locator => page.getByRole('main')

async function expectForThumbs(page: Page, scope: Locator): Promise<void> {
  expect.soft(await tooSmall(scope)).toEqual([])
  expect.soft(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  expect.soft(await faults(page)).toEqual([])
}
async function openArea(page: Page, name: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Areas' }).getByRole('button').tap()
  await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).tap()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

test('a day on the phone: today, goods in, a count, the bench', async ({ page }) => {
  await enter(page, '/')
  await test.step('Today leads to what waits', async () => {
    await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
    await expectForThumbs(page, main(page))
    await page.getByRole('button', { name: 'See the order' }).first().tap()
    await expect(page.getByRole('heading', { name: /^SO-/ })).toBeVisible()
  })

  await test.step('goods in', async () => {
    const itemId = await makeItem(page, 'TOUCH-REEL')
    const { suppliers } = await references(page)
    const { number } = await api<{ number: string }>(page, 'purchasing/orders', {
      key: randomUUID(),
      supplierId: suppliers.find((supplier) => supplier.code === 'TULLY')!.id,
      note: '',
      lines: [{ itemId, quantity: '3', unit: 'piece', price: '2.00', dueOn: '2026-10-20' }],
    })
    await openArea(page, 'Purchasing')
    await page.getByLabel('Filter orders').tap()
    await page.getByLabel('Filter orders').fill('TOUCH-REEL')
    await expect(page.getByRole('link', { name: /^PO-/ })).toHaveCount(1)
    await page.getByRole('link', { name: number }).tap()
    await page.getByRole('button', { name: 'Receive goods' }).tap()
    await expect(dialog(page).getByLabel('Packing list number')).toBeVisible()
    await expectForThumbs(page, dialog(page).first())
    await dialog(page).getByLabel('Received of TOUCH-REEL', { exact: true }).tap()
    await dialog(page).getByLabel('Received of TOUCH-REEL', { exact: true }).fill('2')
    await dialog(page).getByRole('button', { name: 'Receive 2 pc' }).tap()
    await expect(notice(page, 'Received 2 pc TOUCH-REEL.')).toBeVisible()
  })

  await test.step('long lists show their rows', async () => {
    await openArea(page, 'Stockroom')
    await expect(page.getByRole('table', { name: 'Balances' }).getByRole('row').first()).toBeVisible()
    await page.getByRole('button', { name: 'Filter, columns …' }).tap()
    await expect(page.getByRole('button', { name: 'Export' })).toBeVisible()
    await page.getByRole('button', { name: 'Filter, columns …' }).tap()
    await expect(page.getByRole('button', { name: 'Export' })).toBeHidden()
  })

  await test.step('a count', async () => {
    await page.getByRole('tab', { name: 'Counts' }).tap()
    await page.getByRole('button', { name: 'Open a count' }).first().tap()
    await page.getByText('Glue cupboard', { exact: true }).tap()
    await page.getByRole('button', { name: 'Open the count' }).tap()
    await expect(page.getByText(/0 of \d+ lines counted/)).toBeVisible()
    await expectForThumbs(page, main(page))
    const first = page.getByLabel(/^Counted of /).first()
    await first.tap()
    await first.fill('1')
    await page
      .getByLabel(/^Counted of /)
      .nth(1)
      .tap()
    await expect(page.getByText(/1 of \d+ lines counted/)).toBeVisible()
  })

  await test.step('the bench', async () => {
    await openArea(page, 'Workshop')
    await page.getByRole('link', { name: 'B-0880' }).tap()
    await page.getByRole('link', { name: 'At the bench' }).first().tap()
    await expect(page.getByRole('button', { name: 'Start the watch' })).toBeVisible()
    await expectForThumbs(page, main(page))
    await page.getByRole('button', { name: 'Start the watch' }).tap()
    await page.getByRole('button', { name: 'One more' }).tap()
    await page.getByRole('button', { name: 'Record 1', exact: true }).tap()
    await expect(dialog(page).getByRole('heading', { name: /^Record 1 pc/ })).toBeVisible()
    await expectForThumbs(page, dialog(page).first())
    await dialog(page).getByRole('button', { name: 'Record 1' }).tap()
    await expect(page.locator('[data-test=bench-made]')).toHaveText('1')
  })
})
