import { expect, test } from '@playwright/test'
import { chooseItem, dialog, enter, notice, row, choose } from './helpers'

test.beforeEach(({ page }) => enter(page, '/'))

test.describe('a wrong quantity is told beside its field, and nothing is saved', () => {
  for (const [typed, sentence] of [
    ['0', '0 is not above zero. Type a quantity greater than zero.'],
    ['-3', '-3 is not above zero. Type a quantity greater than zero.'],
    ['abc', '“abc” is no number. Write for example 2.5, 1/3, 3*12 or 2 carton + 5.'],
    ['2 wheelbarrow', '“wheelbarrow” is not a unit of this item.'],
    ['', 'Type a quantity.'],
  ] as const) {
    test(`“${typed}”`, async ({ page }) => {
      const count = async (): Promise<number> =>
        ((await (await page.request.get('/api/demand/orders')).json()) as { total: number }).total
      const before = await count()
      await page.goto('/demand/orders/new')
      await choose(page.getByLabel('Customer', { exact: true }), 'Larkhill Books')
      await page.getByLabel('Due on').fill('2026-10-30')
      await chooseItem(page, 'Item', 'BONE')
      await page.getByLabel('Quantity', { exact: true }).fill(typed)
      await page.getByRole('button', { name: 'Enter the order' }).click()
      await expect(page.getByRole('alert').filter({ hasText: sentence })).toBeVisible()
      await expect(page.getByLabel('Quantity', { exact: true })).toHaveAttribute('aria-invalid', 'true')
      expect(await count()).toBe(before)
    })
  }
})

test('a missing customer and a date that is none', async ({ page }) => {
  await page.goto('/demand/orders/new')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'Choose one.' }).first()).toBeVisible()
  await expect(
    page.getByRole('alert').filter({ hasText: '“” is no date. Write it as year-month-day, for example 2026-10-05.' }),
  ).toBeVisible()
})

test('a retired item is refused by name', async ({ page }) => {
  const items = (
    (await (await page.request.get('/api/catalogue/items?search=CLOTH-OCHRE')).json()) as { rows: { id: number }[] }
  ).rows
  const customers = (
    (await (await page.request.get('/api/catalogue/references')).json()) as { customers: { id: number }[] }
  ).customers
  const answer = await page.request.post('/api/demand/orders', {
    data: {
      key: crypto.randomUUID(),
      customerId: customers[0]!.id,
      dueOn: '2026-10-30',
      lines: [{ itemId: items[0]!.id, quantity: '1', unit: 'm' }],
    },
  })
  expect(answer.status()).toBe(400)
  expect(answer.headers()['content-type']).toContain('application/problem+json')
  expect(((await answer.json()) as { fields: Record<string, string> }).fields['lines.0.itemId']).toBe(
    'CLOTH-OCHRE Bookcloth ochre, 1.32 m wide is retired. Choose another item, or make it active again on its page.',
  )
})

test('a stale version is refused with what has changed', async ({ page }) => {
  await page.goto('/demand/orders/13')
  await page.getByRole('button', { name: 'Change the order' }).click()
  const order = (await (await page.request.get('/api/demand/orders/13')).json()) as {
    version: number
    lines: { id: number; itemId: number; entered: string; unit: string; price: string }[]
  }
  const lines = order.lines.map((l) => ({
    id: l.id,
    itemId: l.itemId,
    quantity: l.entered,
    unit: l.unit,
    price: l.price,
  }))
  expect(
    (
      await page.request.put('/api/demand/orders/13', {
        data: { version: order.version, dueOn: '2026-10-29', note: 'Call first', lines },
      })
    ).ok(),
  ).toBe(true)
  await page.getByLabel('Note').fill('Leave at the door')
  await page.getByRole('button', { name: 'Save the order' }).click()
  await expect(
    page.getByRole('alert').filter({
      hasText:
        /This was changed since you opened it: Ines Hartwell changed note, due on\. Reload to see it; nothing of yours was saved\./,
    }),
  ).toBeVisible()
  expect(await (await page.request.get('/api/demand/orders/13')).json()).toMatchObject({ note: 'Call first' })
})

test('a loop in the bills is named', async ({ page }) => {
  await page.goto('/structure')
  await row(page, 'Bills', 'QUIRE-A5').getByText('made').click()
  await page.getByRole('button', { name: 'Revise', exact: true }).click()
  await page.getByRole('button', { name: 'Add a component' }).click()
  await chooseItem(page, 'Component, line 2', 'NB-A5-NAVY')
  await page.getByLabel('Quantity, line 2', { exact: true }).fill('1')
  await page.getByLabel('Scrap, line 2').focus()
  await expect(
    page
      .getByRole('alert')
      .filter({
        hasText: /This would run in a circle: .*QUIRE-A5 → NB-A5-NAVY → BLOCK-A5.*An item cannot contain itself/,
      })
      .first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Discard the changes' }).click()
})

test('a contradiction in the units is shown with both paths while it is typed', async ({ page }) => {
  await page.goto('/catalogue/new')
  await page.getByLabel('Code', { exact: true }).fill('TEST-PALLET')
  await page.getByLabel('Name', { exact: true }).fill('Test of packs')
  await choose(page.getByLabel('Group', { exact: true }), 'Tools')
  for (const [index, [unit, holds, base]] of [
    ['box', '8', 'piece'],
    ['pallet', '24', 'box'],
    ['pallet', '190', 'piece'],
  ].entries()) {
    await page.getByRole('button', { name: 'Add a pack or bridge' }).click()
    await choose(page.getByLabel(`One, line ${index + 1}`, { exact: true }), unit!)
    await page.getByLabel(`holds, line ${index + 1}`, { exact: true }).fill(holds!)
    await choose(page.getByLabel(`of, line ${index + 1}`, { exact: true }), base!)
  }
  const sentence = '1 pallet = 190 piece contradicts the path pallet → box → piece, by which it is 192 piece.'
  await expect(page.getByText(sentence)).toBeVisible()
  await page.getByRole('button', { name: 'Add the item' }).click()
  await expect(page.getByRole('alert').filter({ hasText: sentence }).first()).toBeVisible()
  await page.getByLabel('holds, line 3').fill('192')
  await page.getByRole('button', { name: 'Add the item' }).click()
  await expect(notice(page, 'TEST-PALLET is in the catalogue.')).toBeVisible()
})

test('the quantity field shows the stock unit and the residue', async ({ page }) => {
  await page.goto('/stock')
  await page.getByRole('button', { name: 'Correct stock' }).click()
  await chooseItem(dialog(page), 'Item', 'CLOTH-RED')
  await choose(dialog(page).getByLabel('Unit of By how much'), 'ft²')
  await dialog(page).getByLabel('By how much', { exact: true }).fill('20')
  // 20 ft² = 1.8580608 m²; ÷ 1.32 m = 1.407622 m; on steps of 0.01 m: 1.41 m, 0.002378 m × 1.32 m = 0.003139 m² =
  // 0.033790 ft² too much.
  await expect(dialog(page)).toContainText('= 1.41 m, residue ≈ −0.03379')
})
