import { expect, test } from '@playwright/test'
import { dialog, notice, row, signIn, choose } from './helpers'

/*
 * The whole way of one order of the demo: 24 navy notebooks, of which 4 are there.
 *
 * Plan          24 wanted − 4 there = 20 to build, from 20 cases; a case takes 46 cm of navy cloth and 6 g of glue, a
 * book 2 g.
 *               Cloth: 20 × 0.46 m = 9.2 m, less 1.2 m there = 8 m; the weaver sells steps of 6.6 m² (5 m), at least
 *               13.2 m²: 10 m.
 *               Days: due Fri 6 Nov − 2 = Wed 4 Nov (case due) − 3 = Fri 30 Oct (cloth due) − 10 working days of the
 *               company’s calendar = Fri 16 Oct. Cost          cloth  1.2 m at 12.00 = 14.40; + 2 × 6.6 m² × 9.50 =
 *               125.40 → 139.80 for 11.2 m; 9.2 m of it = 114.84 (114.8357)
 *               blanks 40 × 0.35 = 14.00
 *               glue   0.05 tub for 0.21, + 200 tubs for 780.00 → 780.21 for 200.05; 0.12 tub = 0.47 (0.4680)
 *               work   2 batches × 40 min at 24.00 an hour = 32.00                      20 cases = 161.31
 *               blocks 20 × 5.10 = 102.00; ribbon 5 m × 0.18 = 0.90; glue 0.04 of 779.74 for 199.93 = 0.16; work 2 ×
 *               100 min = 80.00
 *                                                                                       20 books = 344.37
 *               shipped: 4 × 14.50 + 344.37 = 402.37
 * Work absorbed 32.00 + 80.00, and of the demo's samplers 44 and 21 minutes at 22.00 an hour, 16.13 + 7.70 = 135.83
 */
test('from an order that cannot be filled to its shipment', async ({ page }) => {
  test.setTimeout(180_000)
  await signIn(page)

  await test.step('the order is short', async () => {
    await page
      .getByRole('button', { name: /^and \d+ more$/ })
      .first()
      .click()
    await page.getByRole('link', { name: /SO-0201 Larkhill Books/ }).click()
    await expect(row(page, 'Order lines', 'NB-A5-NAVY').locator('[data-test=missing]')).toHaveText(/20\s*pc/)
    await page.getByRole('button', { name: 'See the plan for what is missing' }).click()
  })

  await test.step('the plan shows the hole', async () => {
    await page.getByRole('button', { name: 'Make the first plan' }).click()
    await choose(dialog(page).getByLabel('Demand'), 'orders only')
    await dialog(page).getByRole('button', { name: 'Compute the plan' }).click()
    await expect(page.getByRole('tab', { name: 'Plan board' })).toBeVisible()
    await page.getByLabel('Filter items').fill('NB-A5-NAVY')
    await page.getByRole('button', { name: 'Six lines of NB-A5-NAVY' }).click()
    const board = page.getByRole('grid', { name: 'Plan board' })
    await expect(board.locator('[data-hole]')).toHaveCount(1)
    const weeks = await board.locator('thead th').allTextContents()
    const week = weeks.indexOf('2 Nov')
    const line = async (name: string): Promise<string[]> =>
      board.getByRole('row').filter({ hasText: name }).locator('td').allTextContents()
    expect((await line('Gross requirements'))[week - 1]?.trim()).toBe('24')
    expect((await line('Net requirements'))[week - 1]?.trim()).toBe('20')
    expect((await line('Planned order receipts'))[week - 1]?.trim()).toBe('20')
    expect((await line('Projected available'))[week - 1]?.trim()).toBe('0')
  })

  await test.step('each planned order says why', async () => {
    await page.getByRole('tab', { name: /Planned orders/ }).click()
    await page.getByLabel('Filter items and suppliers').fill('NAVY')
    await expect(row(page, 'Planned orders', 'CLOTH-NAVY')).toContainText(/10\s*mWeftworks Cloth16 Oct30 Oct/)
    await expect(row(page, 'Planned orders', 'CASE-A5-NAVY')).toContainText(/20\s*pc30 Oct4 Nov/)
    await expect(row(page, 'Planned orders', 'NB-A5-NAVY')).toContainText(/20\s*pc4 Nov6 Nov/)
    await row(page, 'Planned orders', 'CLOTH-NAVY').getByRole('button', { name: 'Why?' }).click()
    await expect(dialog(page).locator('[data-test=why]')).toContainText('9.2 m wanted − 1.2 m there = 8 m missing')
    await expect(dialog(page).locator('[data-test=why]')).toContainText(
      'at least 13.2 m², in steps of 6.6 m²; 2 of them make 10 m',
    )
    await expect(dialog(page)).toContainText('20 pc for SO-0201 Larkhill Books')
    await dialog(page).getByRole('button', { name: 'Close' }).click()
  })

  await test.step('release', async () => {
    const list = page.getByRole('table', { name: 'Planned orders' })
    for (const code of ['CLOTH-NAVY', 'CASE-A5-NAVY', 'NB-A5-NAVY']) {
      await list.getByRole('checkbox', { name: new RegExp(` ${code} `) }).check()
    }
    await page.getByLabel('Filter items and suppliers').fill('PVA')
    for (const code of ['GLUE-DRUM', 'GLUE-TUB']) {
      await list.getByRole('checkbox', { name: new RegExp(` ${code} `) }).check()
    }
    await page.getByRole('button', { name: 'Release 5 orders' }).click()
    await expect(dialog(page)).toContainText('Buying makes 2 purchase orders')
    await dialog(page).getByRole('button', { name: 'Release 5 orders' }).click()
    await expect(notice(page, 'Released 5 documents')).toBeVisible()
    await page.getByLabel('Filter items and suppliers').fill('NAVY')
    await expect(row(page, 'Planned orders', 'CLOTH-NAVY').getByRole('link')).toHaveText('PO-0047')
  })

  await test.step('the purchase order, on the screen and on paper', async () => {
    await row(page, 'Planned orders', 'CLOTH-NAVY').getByRole('link', { name: 'PO-0047' }).click()
    await expect(row(page, 'Order lines', 'CLOTH-NAVY')).toContainText(/13\.2\s*m².*=\s*10\s*m/)
    await expect(row(page, 'Order lines', 'CLOTH-NAVY')).toContainText('€125.40')
    const printed = page.context().waitForEvent('page')
    await page.getByRole('button', { name: 'More' }).click()
    await page.getByRole('menuitem', { name: 'Print (PDF)' }).click()
    await (await printed).close()
    const pdf = await page.request.get(
      `/api${new URL(page.url()).pathname.replace('purchasing', 'purchasing/orders')}/print`,
    )
    expect(pdf.headers()['content-type']).toBe('application/pdf')
    expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-')
  })

  await test.step('receive a part, then the rest', async () => {
    for (const [quantity, lot, change, after] of [
      ['6.6', 'N-0501', 'received 0 → 5 m', '5 m left to come'],
      ['6.6', 'N-0502', 'received 5 → 10 m', 'nothing left to come'],
    ] as const) {
      await page.getByRole('button', { name: 'Receive goods' }).click()
      await dialog(page).getByLabel('Received of CLOTH-NAVY', { exact: true }).fill(quantity)
      await choose(dialog(page).getByLabel('Into'), 'Cloth rack')
      await dialog(page).getByLabel('Lot of CLOTH-NAVY').fill(lot)
      await expect(dialog(page).locator('[data-test=change-0]')).toContainText(change)
      await expect(dialog(page).locator('[data-test=change-0]')).toContainText(after)
      await dialog(page).getByRole('button', { name: 'Receive 6.6 m²' }).click()
      await expect(dialog(page)).toBeHidden()
      if (lot === 'N-0501') {
        await expect(row(page, 'Order lines', 'CLOTH-NAVY').locator('[data-test=to-come]')).toHaveText(/5\s*m/)
      }
    }
    await expect(page.getByRole('button', { name: 'Receive goods' })).toBeHidden()
    await page.goto('/purchasing')
    await page.getByRole('link', { name: 'PO-0046' }).click()
    await page.getByRole('button', { name: 'Receive goods' }).click()
    await dialog(page).getByRole('button', { name: 'all of it' }).click()
    await choose(dialog(page).getByLabel('Into'), 'Glue cupboard')
    await dialog(page).getByLabel('Lot of GLUE-DRUM').fill('S-7731')
    await dialog(page).getByLabel('Expires on').fill('2028-03-01')
    await dialog(page).getByRole('button', { name: 'Receive 1 drum' }).click()
    await expect(notice(page, 'Received 1 drum GLUE-DRUM.')).toBeVisible()
  })

  await test.step('break down one drum into 200 tubs', async () => {
    await page.goto('/workshop')
    await page.getByRole('link', { name: 'BD-0001' }).click()
    await expect(page.locator('[data-test=after]').last()).toHaveText('200.05 tub')
    await page.getByRole('button', { name: 'Break down 1 drum' }).click()
    await choose(dialog(page).getByLabel('Into'), 'Glue cupboard')
    await dialog(page).getByRole('button', { name: 'Break down 1 drum' }).click()
    await expect(notice(page, /lot S-7731 carried over/)).toBeVisible()
  })

  const build = async (
    number: string,
    act: string,
    bin: string,
    takes: readonly RegExp[],
    worth: string,
  ): Promise<void> => {
    await page.goto('/workshop')
    await page.getByRole('link', { name: number }).click()
    await page.getByRole('button', { name: act, exact: true }).click()
    for (const take of takes) {
      await expect(
        dialog(page).getByRole('table', { name: 'Components' }).getByRole('row').filter({ hasText: take }),
      ).toHaveCount(1)
    }
    await choose(dialog(page).getByLabel('Into'), bin)
    await dialog(page).getByRole('button', { name: act, exact: true }).click()
    await expect(notice(page, new RegExp(`worth ${worth.replace('.', '\\.')}`))).toBeVisible()
  }
  await test.step('build the cases', () =>
    build(
      'B-0882',
      'Build 20',
      'Bench',
      [
        /40\s*pcShelf A90 → 50/,
        /1\.2\s*mCloth rackN-04121\.2 → 0/,
        /5\s*mCloth rackN-05015 → 0/,
        /3\s*mCloth rackN-05025 → 2/,
        /0\.05\s*tubGlue cupboardS-6608 until 10 Dec0\.05 → 0/,
        /0\.07\s*tubGlue cupboardS-7731 until 1 Mar 2028200 → 199\.93/,
      ],
      '€161.31',
    ))
  await test.step('build the books', () =>
    build(
      'B-0883',
      'Build 20',
      'Finished goods',
      [/20\s*pcBench64 → 44/, /20\s*pcBench20 → 0/, /5\s*mShelf A8 → 3/, /0\.04\s*tubGlue cupboardS-7731/],
      '€344.37',
    ))

  await test.step('allocate and ship', async () => {
    await page.goto('/dispatch')
    await page.getByRole('link', { name: 'SO-0201' }).click()
    await page.getByRole('button', { name: 'Allocate what is there' }).click()
    const picks = page.getByRole('table', { name: 'Pick list' }).getByRole('row')
    await expect(picks.filter({ hasText: 'B-0871' })).toContainText(/4\s*pc/)
    await expect(picks.filter({ hasText: 'B-0883' })).toContainText(/20\s*pc/)
    await page.getByRole('button', { name: 'Ship 2 picks' }).click()
    await dialog(page).getByRole('button', { name: 'Ship 2 picks' }).click()
    await expect(notice(page, 'SO-0201 is shipped in full.')).toBeVisible()
  })

  await test.step('the books agree', async () => {
    await page.goto('/books')
    await page.getByRole('tab', { name: 'Value journal' }).click()
    await expect(page.getByRole('listitem').filter({ hasText: 'cost of sales' })).toContainText('€402.37')
    await expect(page.getByRole('listitem').filter({ hasText: /^work absorbed/ })).toContainText('−€135.83')
    await expect(page.getByRole('listitem').filter({ hasText: /^sum/ })).toContainText('€0.00')
    await page.getByRole('tab', { name: 'Check the ledger' }).click()
    await page.getByRole('button', { name: 'Work it all out again' }).click()
    await expect(page.getByText('Everything agrees with what was recorded.')).toBeVisible()
  })

  await test.step('the shipment can be reversed, and comes back at its value', async () => {
    await page.goto('/demand/orders/1')
    await page.getByRole('button', { name: 'Reverse' }).click()
    await dialog(page).getByRole('button', { name: 'Reverse it' }).click()
    await expect(notice(page, 'Reversal of Shipment of SO-0201')).toBeVisible()
    await expect(row(page, 'Order lines', 'NB-A5-NAVY')).toContainText(/24\s*pc€21\.0024\s*pc/)
    const accounts = (await (await page.request.get('/api/books/accounts')).json()) as {
      account: string
      amount: string
    }[]
    expect(accounts.find((a) => a.account === 'cost of sales')?.amount ?? '0').toBe('0')
  })
})
