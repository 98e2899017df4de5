import { expect, test, type Page } from '@playwright/test'
import pg from 'pg'
import { chooseItem, dialog, enter, notice, row, choose } from './helpers'
import { api, makeItem, putInStock } from './own-goods'
import { withOwnServer } from './own-server'

/*
 * A working day from goods in to the new plan, played on two Mondays a week apart: within the first week lies the end
 * of summer time (25 October 2026 in Berlin), within the second the end of a month. Every figure is worked out by hand;
 * every day moves along by a week.
 *
 *   bought     20 m cloth at 4.00, 2 reams of 500 sheets at 10.00; 10 cards at 1.00 were there
 *   built      20 books, ten of 2.5 m and 30 sheets: 5 m × 4.00 + 60 × 0.02 = 21.20, 1.06 each
 *   packed     6 sets of two books and a card: 12 × 1.06 + 6 × 1.00 = 18.72, 3.12 each
 *   shipped    4 sets: 12.48
 *   invoiced   a week later, the cloth at 90.00: 0.50 a metre more. 15 m are there: 7.50. The books got 2.50, 0.125
 *   each: 8 are there: 1.00;
 *              12 are in the sets, 0.25 each: 2 are there: 0.50; 4 were sold: 1.00
 */
const WEEKS = [0, 1]
const FIRST = '2026-10-19'

const plus = (iso: string, days: number): string =>
  new Date(Date.parse(`${iso}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)
/** A day as the screens write it: 2 Nov. */
const written = (iso: string): string => `${Number(iso.slice(8))} ${['Oct', 'Nov'][Number(iso.slice(5, 7)) - 10]!}`

interface Goods {
  readonly cloth: string
  readonly paper: string
  readonly card: string
  readonly book: string
  readonly set: string
}

/** The goods of a day, with their bills; ten cards lie there. */
async function makeGoods(page: Page, week: number, day: string): Promise<Goods> {
  const goods: Goods = {
    cloth: `W${week}-CLOTH`,
    paper: `W${week}-PAPER`,
    card: `W${week}-CARD`,
    book: `W${week}-BOOK`,
    set: `W${week}-SET`,
  }
  const metres = { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.01' }
  const cloth = await makeItem(page, goods.cloth, metres)
  const paper = await makeItem(page, goods.paper, {
    stockUnit: 'sheet',
    buyingUnit: 'ream',
    sellingUnit: 'sheet',
    relations: [{ unit: 'ream', per: '500', ofUnit: 'sheet' }],
  })
  const card = await makeItem(page, goods.card, {
    terms: [{ supplierId: 1, unit: 'piece', price: '1', leadDays: '3' }],
  })
  const book = await makeItem(page, goods.book, { source: 'made', leadDays: '2' })
  const set = await makeItem(page, goods.set, { source: 'kit', leadDays: '1' })
  await putInStock(page, card, '10')
  const bill = (itemId: number, batchSize: string, lines: object[]) =>
    api(page, 'catalogue/definitions/bills', { itemId, fromOn: day, batchSize, batchUnit: 'piece', lines })
  await bill(book, '10', [
    { itemId: cloth, quantity: '2.5', unit: 'm' },
    { itemId: paper, quantity: '30', unit: 'sheet' },
  ])
  await bill(set, '1', [
    { itemId: book, quantity: '2', unit: 'piece' },
    { itemId: card, quantity: '1', unit: 'piece' },
  ])
  return goods
}

async function buyAndReceive(page: Page, { cloth, paper }: Goods, day: string): Promise<string> {
  await page.goto('/purchasing/new')
  await choose(page.getByLabel('Supplier', { exact: true }), 'Tully Threads and Tools')
  await page.getByLabel('Due date').fill(plus(day, 7))
  for (const [index, [code, quantity, price]] of [
    [cloth, '20', '4'],
    [paper, '2 ream', '10'],
  ].entries()) {
    if (index > 0) {
      await page.getByRole('button', { name: 'Add a line' }).click()
    }
    await chooseItem(page, 'Item', code!)
    await page.getByLabel('Quantity', { exact: true }).last().fill(quantity!)
    await page.getByLabel('Unit price').last().fill(price!)
  }
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('Packing list number').fill(`PL ${day}`)
  await dialog(page).getByLabel(`Received of ${cloth}`, { exact: true }).fill('20')
  await dialog(page).getByLabel(`Received of ${paper}`, { exact: true }).fill('2 ream')
  for (const into of await dialog(page).getByLabel('Into').all()) {
    await choose(into, 'Shelf A')
  }
  await dialog(page).getByRole('button', { name: 'Receive 2 lines' }).click()
  await expect(notice(page, new RegExp(`Received 20 m ${cloth}, 1\\s?000 sheet ${paper}`))).toBeVisible()
  return new URL(page.url()).pathname
}

async function make(page: Page, code: string, act: string, quantity: string, worth: string): Promise<void> {
  await page.goto('/workshop')
  await page.getByRole('button', { name: 'Plan a build' }).click()
  await chooseItem(dialog(page), 'Item', code)
  await dialog(page).getByLabel('Quantity', { exact: true }).fill(quantity)
  await dialog(page).getByRole('button', { name: 'Plan the build' }).click()
  await page.getByRole('button', { name: act, exact: true }).click()
  await choose(dialog(page).getByLabel('Into'), 'Shelf A')
  await dialog(page).getByRole('button', { name: act, exact: true }).click()
  await expect(notice(page, `${act} ${code} recorded, worth ${worth}.`)).toBeVisible()
}

async function orderSets(page: Page, code: string, quantity: string, dueOn: string): Promise<void> {
  await page.goto('/demand/orders/new')
  await choose(page.getByLabel('Customer', { exact: true }), 'Bramble and Daughter')
  await page.getByLabel('Due on').fill(dueOn)
  await chooseItem(page, 'Item', code)
  await page.getByLabel('Quantity', { exact: true }).fill(quantity)
  await page.getByLabel('Unit price').fill('9')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(notice(page, /is entered/)).toBeVisible()
}

async function ship(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Allocate and ship' }).click()
  await page.getByRole('button', { name: 'Allocate what is there' }).click()
  await page.getByRole('button', { name: 'Ship 4 pc' }).click()
  await dialog(page).getByRole('button', { name: 'Ship 4 pc' }).click()
  await expect(notice(page, /is shipped in full/)).toBeVisible()
}

/** What the books say of the goods on an evening: quantity and value, and what of it is not invoiced. */
async function expectValues(page: Page, evening: string, values: Readonly<Record<string, RegExp>>): Promise<void> {
  await page.goto('/books')
  await page.getByLabel('On the evening of').fill(evening)
  for (const [code, value] of Object.entries(values)) {
    await expect(row(page, 'Value of stock', code)).toContainText(value)
  }
}

test('a working day on two Mondays: over the end of summer time and the end of a month', async ({ browser }) => {
  test.setTimeout(600_000)
  await withOwnServer('workday', async (base, databaseUrl) => {
    const client = new pg.Client({ connectionString: databaseUrl })
    // The database goes when the test does, also where it fails.
    client.on('error', () => undefined)
    await client.connect()
    const standOn = (day: string) =>
      client.query(`update company set fixed_day = $1, time_zone = 'Europe/Berlin'`, [day])
    const context = await browser.newContext({
      baseURL: base,
      timezoneId: 'Europe/Berlin',
      viewport: { width: 1280, height: 800 },
    })
    const page = await context.newPage()
    page.setDefaultTimeout(30_000)
    for (const week of WEEKS) {
      const day = plus(FIRST, 7 * week)
      const later = plus(day, 7)
      await test.step(`the Monday ${day}`, async () => {
        await standOn(day)
        await enter(page, '/')
        const goods = await makeGoods(page, week, day)
        const order = await buyAndReceive(page, goods, day)
        await make(page, goods.book, 'Build 20', '20', '€21.20')
        await make(page, goods.set, 'Pack 6', '6', '€18.72')
        await orderSets(page, goods.set, '4', day)
        await ship(page)
        const thatEvening = {
          [goods.cloth]: /15\s*m\s*4\.0000\s*€60\.00\s*€60\.00/,
          [goods.paper]: /940\s*sheet\s*0\.0200\s*€18\.80\s*€18\.80/,
          [goods.book]: /8\s*pc\s*1\.0600\s*€8\.48/,
          [goods.set]: /2\s*pc\s*3\.1200\s*€6\.24/,
          [goods.card]: /4\s*pc\s*1\.0000\s*€4\.00/,
        }
        await expectValues(page, day, thatEvening)

        // A week later: the month is closed, then comes the invoice.
        await standOn(later)
        await page.goto('/books?tab=days')
        await page.getByLabel('Close through').fill(plus(later, -1))
        await page.getByRole('button', { name: 'Close the books' }).click()
        await expect(notice(page, `The books are closed through ${written(plus(later, -1))}.`)).toBeVisible()
        await page.goto(order)
        await page.getByRole('button', { name: 'Enter an invoice' }).click()
        await dialog(page).getByLabel('Invoice number').fill(`INV ${day}`)
        await dialog(page).getByLabel(`Amount for ${goods.cloth}`).fill('90')
        await expect(dialog(page)).toContainText('+€10.00 against the order')
        await dialog(page).getByRole('button', { name: 'Enter the invoice' }).click()
        await expect(
          notice(page, `Invoice INV ${day} is entered. It changed stock by €9.00, cost of sales by €1.00.`),
        ).toBeVisible()
        // What was closed stays as it was; what it cost more is on the books from the day of the invoice on.
        await expectValues(page, day, thatEvening)
        await expectValues(page, later, {
          [goods.cloth]: /15\s*m\s*4\.5000\s*€67\.50/,
          [goods.paper]: /940\s*sheet\s*0\.0200\s*€18\.80\s*€18\.80/,
          [goods.book]: /8\s*pc\s*1\.1850\s*€9\.48/,
          [goods.set]: /2\s*pc\s*3\.3700\s*€6\.74/,
          [goods.card]: /4\s*pc\s*1\.0000\s*€4\.00/,
        })
        await page.getByRole('tab', { name: 'Goods received not invoiced' }).click()
        // Of 1 000 sheets 940 are there; 60 went into books.
        await expect(row(page, 'Goods received not invoiced', goods.paper)).toContainText(
          /€20\.00\s*€18\.80\s*940\s*sheet\s*€1\.20\s*60\s*sheet/,
        )
        await page.getByRole('tab', { name: 'Value journal' }).click()
        await expect(page.getByRole('listitem').filter({ hasText: /^sum/ })).toContainText('€0.00')

        await planTenSets(page, goods, later)
      })
    }
    await test.step('everything that is kept agrees with what was recorded', async () => {
      await page.goto('/books?tab=ledger')
      await page.getByRole('button', { name: 'Work it all out again' }).click()
      await expect(page.getByText('Everything agrees with what was recorded.')).toBeVisible()
    })
    await context.close()
    await client.end()
  })
})

/**
 * Ten sets are wanted on the Monday after; two are there. Eight are packed in a working day, from the Friday before; of
 * the sixteen books eight are there, so eight are built in two working days, from Wednesday; of the cards four are
 * there, so four are bought, three working days before Friday.
 */
async function planTenSets(page: Page, goods: Goods, today: string): Promise<void> {
  const due = plus(today, 7)
  const [friday, wednesday, tuesday] = [plus(due, -3), plus(due, -5), plus(due, -6)]
  await orderSets(page, goods.set, '10', due)
  await page.goto('/planning')
  await page
    .getByRole('button', { name: /Make (a|the first) plan/ })
    .first()
    .click()
  await dialog(page).getByLabel('Name').fill(`Plan of ${today}`)
  await choose(dialog(page).getByLabel('Kind'), /^Working plan/)
  await dialog(page).getByLabel('Plan to').fill(plus(today, 28))
  await dialog(page).getByRole('button', { name: 'Compute the plan' }).click()
  await page.getByRole('tab', { name: /Planned orders/ }).click()
  await page.getByLabel('Filter items and suppliers').fill(goods.set.slice(0, 3))
  for (const [code, quantity, release, needed] of [
    [goods.set, 8, friday, due],
    [goods.book, 8, wednesday, friday],
    [goods.card, 4, tuesday, friday],
  ] as const) {
    await expect(row(page, 'Planned orders', code)).toContainText(
      new RegExp(`${quantity}\\s*pc.*${written(release)}\\s*${written(needed)}\\s*in time`),
    )
  }
  await expect(row(page, 'Planned orders', goods.cloth)).toHaveCount(0)
  await expect(row(page, 'Planned orders', goods.paper)).toHaveCount(0)
}
