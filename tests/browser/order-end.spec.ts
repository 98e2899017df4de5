import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, notice } from './helpers'

interface References {
  customers: { id: number; code: string }[]
}

/** An order for five bone folders of a customer. */
async function ordered(page: Page): Promise<{ id: number; number: string }> {
  const references = (await (await page.request.get('/api/catalogue/references')).json()) as References
  const items = (await (await page.request.get('/api/catalogue/items?search=BONE')).json()) as {
    rows: { id: number; code: string }[]
  }
  const answer = await page.request.post('/api/demand/orders', {
    data: {
      key: randomUUID(),
      customerId: references.customers.find((customer) => customer.code === 'LARK')!.id,
      dueOn: '2026-12-20',
      note: '',
      lines: [
        {
          id: null,
          itemId: items.rows.find((item) => item.code === 'BONE')!.id,
          quantity: '5',
          unit: 'piece',
          price: '9',
        },
      ],
    },
  })
  expect([answer.status(), answer.ok() ? '' : await answer.text()]).toEqual([200, ''])
  return (await answer.json()) as { id: number; number: string }
}

test('an order that is not wanted any more is cancelled, and opened again', async ({ page }) => {
  await enter(page, '/demand')
  const { id, number } = await ordered(page)
  await page.goto(`/demand/orders/${id}`)
  await page.getByRole('button', { name: 'Cancel the order' }).click()
  await expect(dialog(page)).toContainText('Nothing of it is wanted any more.')
  await dialog(page).getByRole('button', { name: 'Cancel the order' }).click()
  await expect(notice(page, `${number} is cancelled.`)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Change the order' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Reopen the order' }).click()
  await expect(notice(page, `${number} is open.`)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Change the order' })).toBeVisible()
})
