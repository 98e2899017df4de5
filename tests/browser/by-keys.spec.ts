import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, notice } from './helpers'

/*
 * A walk through the whole of it without a pointer: an item is set up, an order entered, a plan made and released,
 * goods received, a job built, stock counted, an order shipped. Whatever Tab does not reach is not found.
 */

/** What a screen reader would call what has the focus. */
const focusedName = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const focused = document.activeElement as HTMLElement & { labels?: NodeListOf<HTMLLabelElement> }
    const byIds = (focused.getAttribute('aria-labelledby') ?? '')
      .split(' ')
      .map((id) => (id ? document.getElementById(id)?.textContent : ''))
      .join(' ')
    const name =
      focused.getAttribute('aria-label') ||
      byIds.trim() ||
      focused.labels?.[0]?.textContent ||
      focused.textContent ||
      ''
    return name.replace(/\s+/g, ' ').trim()
  })

async function tabTo(page: Page, name: RegExp): Promise<void> {
  const MOST = 150
  const passed: string[] = []
  for (let at = 0; at < MOST; at++) {
    const focused = await focusedName(page)
    if (name.test(focused)) {
      return
    }
    passed.push(focused.slice(0, 30))
    await page.keyboard.press('Tab')
  }
  throw new Error(`Tab does not reach ${name}: ${passed.slice(-40).join(' · ')}`)
}
async function press(page: Page, name: RegExp): Promise<void> {
  await tabTo(page, name)
  await page.keyboard.press('Enter')
}
async function type(page: Page, field: RegExp, text: string): Promise<void> {
  await tabTo(page, field)
  await page.keyboard.press('Control+a')
  await page.keyboard.type(text)
}
/** From a field that opens a list: down, some letters, Enter. */
async function pick(page: Page, field: RegExp, text: string): Promise<void> {
  await tabTo(page, field)
  await page.keyboard.press('ArrowDown')
  await page.keyboard.type(text, { delay: 20 })
  await expect(page.getByRole('option').filter({ hasText: text }).first()).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('option')).toHaveCount(0)
}
/** Keys are commands again once Tab has left what is typed into. */
async function leaveField(page: Page): Promise<void> {
  const isTyping = (): Promise<boolean> =>
    page.evaluate(
      () =>
        ['INPUT', 'TEXTAREA'].includes(document.activeElement?.tagName ?? '') ||
        Boolean(document.activeElement?.closest('[role=dialog],[role=listbox],[aria-haspopup=listbox]')),
    )
  for (let at = 0; at < 30 && (await isTyping()); at++) {
    await page.keyboard.press('Tab')
  }
  expect(await isTyping()).toBe(false)
}
/** To an area by its number in the strip. */
async function goTo(page: Page, key: string, heading: string): Promise<void> {
  await leaveField(page)
  await page.keyboard.press(key)
  await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible()
}

/** Into the filter of the page's list, which is there as soon as the list is. */
async function findInList(page: Page): Promise<void> {
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('f')
  await expect(page.getByLabel('Filter orders')).toBeFocused()
}

test('from a new item to a shipment by keys alone', async ({ page }) => {
  await enter(page, '/')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()

  await test.step('set-up: an item', async () => {
    await goTo(page, '2', 'Items')
    await page.keyboard.press('n')
    await expect(page.getByRole('heading', { name: 'New item' })).toBeVisible()
    await type(page, /^Code$/, 'KEY-TAG')
    await type(page, /^Name$/, 'Tag for a key')
    await pick(page, /^Group/, 'Tools')
    await page.keyboard.press('Control+Enter')
    await expect(page.getByRole('heading', { name: /KEY-TAG/ })).toBeVisible()
  })

  await test.step('an order', async () => {
    await goTo(page, '3', 'Demand')
    await page.keyboard.press('n')
    await expect(page.getByRole('heading', { name: 'New sales order' })).toBeVisible()
    await pick(page, /^Customer/, 'Larkhill')
    await type(page, /^Due on/, '+30')
    await pick(page, /^Item/, 'NEEDLE')
    await type(page, /^Quantity/, '500')
    await page.keyboard.press('Control+Enter')
    await expect(page.getByRole('heading', { name: /^SO-/ })).toBeVisible()
  })

  await test.step('a plan, and the order that it proposes', async () => {
    await goTo(page, '4', 'Plan')
    await page.keyboard.press('n')
    await expect(dialog(page).getByRole('heading', { name: 'Make a plan' })).toBeVisible()
    await pick(page, /^Kind/, 'Working')
    await press(page, /^Compute the plan$/)
    await expect(page.getByRole('grid', { name: 'Plan board' })).toBeVisible()
    await page.keyboard.press('o')
    await type(page, /^Filter items and suppliers/, 'NEEDLE')
    await tabTo(page, /^Choose Buy NEEDLE/)
    await page.keyboard.press('Space')
    await press(page, /^Release 1 order$/)
    await expect(dialog(page).getByRole('heading', { name: 'Release 1 order?' })).toBeVisible()
    await press(page, /^Release 1 order$/)
    await expect(notice(page, /^Released 1 document/)).toBeVisible()
  })

  await test.step('its receipt', async () => {
    await goTo(page, '5', 'Purchasing')
    await findInList(page)
    await page.keyboard.type('NEEDLE')
    await expect(page.getByRole('link', { name: /^PO-/ }).last()).toBeVisible()
    await tabTo(page, /^PO-/)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: /^PO-/ })).toBeVisible()
    await leaveField(page)
    await page.keyboard.press('r')
    await type(page, /^Received of NEEDLE/, '1')
    await press(page, /^Receive 1/)
    await expect(notice(page, /Received|received/)).toBeVisible()
  })

  await test.step('a build', async () => {
    await goTo(page, '6', 'Workshop')
    await page.keyboard.press('n')
    await expect(dialog(page).getByRole('heading', { name: 'Plan a build or a packing' })).toBeVisible()
    await pick(page, /^Item/, 'SAMPLER')
    await type(page, /^Quantity/, '1')
    await page.keyboard.press('Control+Enter')
    await expect(notice(page, /is planned/)).toBeVisible()
    await expect(page.getByRole('heading', { name: /Build 1 pc SAMPLER/ })).toBeVisible()
    await leaveField(page)
    await page.keyboard.press('b')
    await press(page, /^Build 1/)
    await expect(notice(page, /^Build 1 SAMPLER recorded/)).toBeVisible()
    await expect(dialog(page).getByRole('heading')).toHaveCount(0)
  })

  await test.step('a count', async () => {
    await goTo(page, '7', 'Stockroom')
    await tabTo(page, /^Stock on hand/)
    await page.keyboard.press('End')
    await press(page, /^Open a count$/)
    await expect(page.getByRole('heading', { name: 'Open a count' })).toBeVisible()
    await tabTo(page, /^Bench$/)
    await page.keyboard.press('Space')
    await page.keyboard.press('Control+Enter')
    await expect(page.getByText(/0 of \d+ lines counted/)).toBeVisible()
    await type(page, /^Counted of /, '1')
    await page.keyboard.press('Enter')
    await expect(page.getByText(/1 of \d+ lines counted/)).toBeVisible()
    await press(page, /^Record the count$/)
    await expect(dialog(page).getByRole('heading', { name: /^Record SC-|^Record C/ })).toBeVisible()
    await pick(page, /^Lines that nobody counted/, 'stay as the books')
    await press(page, /^Record the count$/)
    await expect(notice(page, /is recorded: \d+ differences?\./)).toBeVisible()
  })

  await test.step('a shipment', async () => {
    await goTo(page, '8', 'Dispatch')
    await findInList(page)
    await page.keyboard.type('NB-A5-RED')
    await expect(page.getByRole('link', { name: 'SO-0202' })).toBeVisible()
    await tabTo(page, /^SO-0202/)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: /^SO-/ })).toBeVisible()
    await leaveField(page)
    await page.keyboard.press('a')
    await expect(notice(page, /^Allocated/)).toBeVisible()
    await press(page, /^Ship /)
    await expect(dialog(page).getByRole('heading', { name: /^Ship/ })).toBeVisible()
    await press(page, /^Ship /)
    await expect(notice(page, /is shipped/)).toBeVisible()
  })
})
