import { randomUUID } from 'node:crypto'
import { expect, test } from '@playwright/test'
import { chooseItem, dialog, notice, row, signIn, choose } from './helpers'

test('two people take the last five at once: one succeeds, one gets a sentence, nothing goes below zero', async ({
  browser,
}) => {
  const pages = await Promise.all([1, 2].map(async () => (await browser.newContext()).newPage()))
  for (const page of pages) {
    await signIn(page)
    await page.goto('/stock')
    await page.getByRole('button', { name: 'Correct stock' }).click()
    await chooseItem(dialog(page), 'Item', 'KIT-FIRST')
    await choose(dialog(page).getByLabel('Bin'), 'Finished goods')
    await dialog(page).getByLabel('By how much', { exact: true }).fill('5')
    await choose(dialog(page).getByLabel('Reason'), 'sample')
    await expect(dialog(page)).toContainText('5 → 0 pc')
  }
  await Promise.all(pages.map((page) => dialog(page).getByRole('button', { name: 'Record 5 pc less' }).click()))
  const done = pages.map((page) => notice(page, 'KIT-FIRST: 5 pc less recorded, sample.'))
  const refused = pages.map((page) =>
    dialog(page).getByRole('alert').filter({
      hasText:
        'KIT-FIRST First binding kit: 5 pc wanted from Finished goods, but only 0 pc is free there. There is none elsewhere.',
    }),
  )
  await expect(async () => {
    const [a, b] = await Promise.all(done.map((d) => d.isVisible()))
    const [c, d] = await Promise.all(refused.map((r) => r.isVisible()))
    expect([a, b].filter(Boolean)).toHaveLength(1)
    expect([c, d].filter(Boolean)).toHaveLength(1)
  }).toPass()
  const winner = pages[(await done[0]!.isVisible()) ? 0 : 1]!
  await winner.getByRole('button', { name: 'Reverse' }).click()
  await expect(notice(winner, 'Reversal of Correction of KIT-FIRST.')).toBeVisible()
  await winner.goto('/stock?search=KIT-FIRST')
  await expect(row(winner, 'Balances', 'KIT-FIRST')).toContainText(/5\s*pc/)
})

test('the same posting sent twice counts once', async ({ page }) => {
  await signIn(page)
  const item = (
    (await (await page.request.get('/api/catalogue/items?search=BAND')).json()) as {
      rows: { id: number; onHand: string }[]
    }
  ).rows[0]!
  const bins = (
    (await (await page.request.get('/api/catalogue/references')).json()) as { bins: { id: number; code: string }[] }
  ).bins
  const body = {
    key: randomUUID(),
    itemId: item.id,
    binId: bins.find((b) => b.code === 'SHELF-A')!.id,
    direction: 'less',
    quantity: '15',
    unit: 'piece',
    reason: 'damage',
  }
  const answers = await Promise.all(
    [1, 2, 3].map(
      async () =>
        (await page.request.post('/api/stock/corrections', { data: body })).json() as Promise<{ postingId: number }>,
    ),
  )
  expect(new Set(answers.map((a) => a.postingId)).size).toBe(1)
  const after = (
    (await (await page.request.get('/api/catalogue/items?search=BAND')).json()) as { rows: { onHand: string }[] }
  ).rows[0]!
  expect(Number(after.onHand)).toBe(Number(item.onHand) - 15)
})
