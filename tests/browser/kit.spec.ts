import { readFileSync } from 'node:fs'
import { expect, test, type Download, type Page } from '@playwright/test'
import { choose, enter, expectChosen, faults, notice } from './helpers'

const table = (page: Page) => page.getByRole('table', { name: 'Blocks' })
/** A column of the rows that are drawn, by its head. */
async function cells(page: Page, name: string): Promise<string[]> {
  const heads = await table(page).getByRole('columnheader').allTextContents()
  const index = heads.findIndex((head) => head.trim().startsWith(name))
  return table(page)
    .locator(`tbody tr[data-index] td:nth-child(${index + 1})`)
    .allTextContents()
}
const textOf = async (download: Download): Promise<string> => readFileSync(await download.path(), 'utf8')
async function exported(page: Page, format: string): Promise<Download> {
  const arriving = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Export' }).click()
  await page.getByRole('menuitem', { name: format, exact: true }).click()
  return arriving
}
async function filter(page: Page, column: string, sign: string, value: string): Promise<void> {
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  await choose(page.getByLabel('Column', { exact: true }), column)
  await choose(page.getByLabel('Condition'), sign)
  const field = page.getByLabel('Value', { exact: true })
  if ((await field.getAttribute('aria-haspopup')) === 'listbox') {
    await choose(field, value)
  } else {
    await field.fill(value)
  }
  await page.getByRole('button', { name: 'Add the filter' }).click()
}

for (const theme of ['day', 'lamp']) {
  test(`every part of the kit without an accessibility fault, by ${theme}`, async ({ page }) => {
    const said: string[] = []
    page.on('console', (message) => {
      if (['error', 'warning'].includes(message.type())) {
        said.push(message.text())
      }
    })
    await enter(page, '/company/kit')
    await page.evaluate((name) => {
      document.documentElement.dataset.theme = name
    }, theme)
    await expect(page.getByRole('heading', { name: 'The kit' })).toBeVisible()
    expect(await faults(page)).toEqual([])
    await page.getByLabel('One of a few').click()
    expect(await faults(page)).toEqual([])
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Open the calendar' }).first().click()
    await expect(page.locator('.calendar')).toBeVisible()
    expect(said).toEqual([])
  })
}

test('fields by keyboard alone', async ({ page }) => {
  await enter(page, '/company/kit')
  const day = page.getByLabel('Day', { exact: true }).first()
  await day.fill('+7')
  await day.press('Tab')
  await expect(day).toHaveValue('12 Oct 2026')
  await day.fill('31 Sep')
  await day.press('Tab')
  await expect(page.getByRole('alert').filter({ hasText: '“31 Sep” is no date.' })).toBeVisible()
  await expect(day).toHaveValue('31 Sep')
  await day.press('ArrowDown')
  await expect(page.locator('.calendar')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.locator('.calendar')).toBeHidden()
  await expect(day).toBeFocused()

  const few = page.getByLabel('One of a few')
  await few.focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expectChosen(few, 'willow')
  await expect(few).toBeFocused()

  const many = page.getByLabel('One of many')
  await many.focus()
  await page.keyboard.type('s117')
  await page.keyboard.press('Enter')
  await expect(many).toHaveValue('Shelf 117')
})

test('a list sorts, filters, chooses columns and says so in its address', async ({ page }) => {
  await enter(page, '/company/kit')
  await expect(page.locator('[data-test=count]')).toHaveText('240 rows')
  await table(page).getByRole('button', { name: 'Price' }).click()
  await table(page).getByRole('button', { name: 'Price' }).click()
  // The cents of the made-up blocks, by the rule of the page: 100 + 53 × index mod 900.
  const prices = Array.from({ length: 240 }, (_, index) => 100 + ((index * 53) % 900)).sort((a, b) => b - a)
  expect((await cells(page, 'Price')).slice(0, 3)).toEqual(
    prices.slice(0, 3).map((cents) => `€${(cents / 100).toFixed(2)}`),
  )
  await filter(page, 'Wood', 'is', 'willow')
  await filter(page, 'Length, m', 'at least', '20')
  const expected = Array.from({ length: 240 }, (_, index) => index).filter(
    (index) => (index * 7) % 6 === 1 && ((index * 37) % 200) / 8 >= 20,
  ).length
  await expect(page.locator('[data-test=count]')).toHaveText(`${expected} of 240 rows`)
  await expect(page).toHaveURL(/sort=-price/)
  await expect(page).toHaveURL(/filter=wood(=|%3D)willow/)

  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByRole('checkbox', { name: 'Cut on' }).uncheck()
  await page.getByRole('button', { name: 'Price further left' }).click()
  await page.keyboard.press('Escape')
  await expect(table(page).getByRole('columnheader', { name: 'Cut on' })).toHaveCount(0)

  const address = page.url()
  await page.goto('/company')
  await page.goto(address)
  await expect(page.locator('[data-test=count]')).toHaveText(`${expected} of 240 rows`)
  expect(new Set(await cells(page, 'Wood'))).toEqual(new Set(['willow']))

  const csv = (await textOf(await exported(page, 'CSV'))).trim().split(/\r?\n/)
  expect(csv[0]!.replace('\uFEFF', '')).toBe('Block,Wood,Price,"Length, m"')
  expect(csv).toHaveLength(expected + 1)
  await page.getByRole('button', { name: /^Remove the filter: Wood/ }).click()
  await expect(page).not.toHaveURL(/willow/)
})

test('views are saved, shared and opened by somebody else', async ({ page, browser }) => {
  await enter(page, '/company/kit')
  await table(page).getByRole('button', { name: 'Length, m' }).click()
  await page.getByLabel('Search this list').fill('plum')
  await page.getByRole('button', { name: 'Views' }).click()
  await page.getByRole('button', { name: 'Save the view' }).click()
  await expect(page.getByText('Give the view a name.').first()).toBeVisible()
  await page.getByLabel('Save what is shown as').fill('Plum by length')
  await page.getByLabel('Everybody may use it').check()
  await page.getByRole('button', { name: 'Save the view' }).click()
  await expect(notice(page, 'Saved the view “Plum by length”.')).toBeVisible()

  const other = await (await browser.newContext()).newPage()
  await enter(other, '/company/kit')
  await other.getByRole('button', { name: 'Views' }).click()
  await other
    .getByRole('button', { name: /Plum by length/ })
    .first()
    .click()
  await expect(other.locator('[data-test=count]')).toHaveText('40 of 240 rows')
  await expect(other).toHaveURL(/sort=length/)
  await other.close()

  await page.getByRole('button', { name: 'Remove the view Plum by length' }).click()
  await expect(page.getByText('No views yet')).toBeVisible()
})

test('rows are chosen in a run, copied with their heads, and printed whole', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await enter(page, '/company/kit')
  await table(page).getByRole('button', { name: 'Block', exact: true }).click()
  await page.getByLabel('Choose line 2', { exact: true }).check()
  await page.getByLabel('Choose line 5', { exact: true }).click({ modifiers: ['Shift'] })
  await expect(page.locator('[data-test=chosen]')).toContainText('4 chosen')
  await page.getByRole('button', { name: 'Export' }).click()
  await page.getByRole('menuitem', { name: 'Copy the chosen rows' }).click()
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n')
  expect(copied.map((line) => line.split('\t')[0])).toEqual(['Block', '2', '3', '4', '5'])

  // What goes to the printer: all 240 rows and the heads, whatever is drawn on the screen.
  await page.evaluate(() => {
    window.print = () => {
      const lines = document.querySelectorAll('.printout tbody tr').length
      document.body.dataset.printed = `${lines} ${document.querySelector('.printout h1')?.textContent}`
    }
  })
  await page.getByRole('button', { name: 'Export' }).click()
  await page.getByRole('menuitem', { name: 'Print' }).click()
  await expect(page.locator('body')).toHaveAttribute('data-printed', '240 Blocks')
})

test('a term of planning explains itself beside its field, with figures', async ({ page }) => {
  await enter(page, '/catalogue/new')
  const explain = page.getByText('Finest step', { exact: true }).locator('..').getByRole('button', { name: 'Explain' })
  await explain.click()
  await expect(page.getByText('At 0.01 m, 3.333 m are recorded as 3.33 m, and 0.003 m are told.')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Escape')
  await expect(page.getByText('At 0.01 m, 3.333 m')).toBeHidden()
})

test('Ctrl+Enter saves the form that is open; Enter in a field of a dialog that records does not', async ({ page }) => {
  await enter(page, '/demand/orders/new')
  await page.getByLabel('Note').fill('By keys')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('alert').first()).toBeVisible()
  await page.goto('/stock')
  await page.getByRole('button', { name: 'Correct stock' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('By how much', { exact: true }).press('Enter')
  // It goes on to the next field, and records nothing.
  await expect(dialog.getByLabel('Unit of By how much')).toBeFocused()
  await expect(dialog.getByRole('alert')).toHaveCount(0)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('listbox')).toHaveCount(0)
  await expect(dialog.getByRole('heading', { name: 'Stock correction' })).toBeVisible()
})

test('300 lines of a spreadsheet are pasted into a grid', async ({ page }) => {
  await enter(page, '/company/kit')
  const lines = Array.from({ length: 300 }, (_, index) => `Part ${index + 1}\t${index + 0.5}\tplum\t2026-10-06`).join(
    '\n',
  )
  await page.getByLabel('Name, line 1', { exact: true }).focus()
  await page.evaluate((text) => {
    const data = new DataTransfer()
    data.setData('text/plain', text)
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
  }, lines)
  await expect(page.getByLabel('Name, line 300', { exact: true })).toHaveValue('Part 300')
  await expect(page.getByLabel('Amount, line 300', { exact: true })).toHaveValue('299.5')
  await expectChosen(page.getByLabel('Wood, line 300', { exact: true }), 'plum')
  await expect(page.getByLabel('Day, line 300', { exact: true })).toHaveValue('6 Oct 2026')
})

test('the guide is read inside, every topic of it, with its pictures', async ({ page }) => {
  await enter(page, '/guide')
  const topics = page.getByRole('navigation', { name: 'Guide' }).getByRole('link')
  await expect(topics).toHaveCount(13)
  const count = await topics.count()
  let pictures = 0
  for (let at = 0; at < count; at++) {
    const name = await topics.nth(at).innerText()
    await topics.nth(at).click()
    await expect(topics.nth(at)).toHaveAttribute('aria-current', 'page')
    const text = page.getByRole('article')
    await expect(text.getByRole('heading', { level: 1 })).toBeVisible()
    for (const picture of await text.getByRole('img').all()) {
      pictures++
      await expect
        .poll(async () => picture.evaluate((image) => (image as HTMLImageElement).naturalWidth), { message: name })
        .toBeGreaterThan(1000)
    }
  }
  expect(pictures).toBeGreaterThan(3)
})
