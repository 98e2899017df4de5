import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, row, choose } from './helpers'

const post = async <T = { id: number }>(page: Page, url: string, data: object): Promise<T> => {
  const answer = await page.request.post(`/api/${url}`, { data })
  expect([url, answer.status(), answer.ok() ? '' : await answer.text()]).toEqual([url, 200, ''])
  return (await answer.json()) as T
}
interface References {
  groups: { id: number; code: string }[]
  bins: { id: number; code: string }[]
}

/** Ten pieces of a new item on shelf A, and its correction dialog open with three less. */
async function correcting(page: Page, code: string): Promise<void> {
  await enter(page, '/stock')
  const references = (await (await page.request.get('/api/catalogue/references')).json()) as References
  const idOf = (list: { id: number; code: string }[], wanted: string): number =>
    list.find((entry) => entry.code === wanted)!.id
  const { id } = await post(page, 'catalogue/items', {
    code,
    name: `${code} to test with`,
    groupId: idOf(references.groups, 'CLOTH'),
    stockUnit: 'piece',
    buyingUnit: 'piece',
    sellingUnit: 'piece',
    finestStep: '1',
  })
  await post(page, 'stock/corrections', {
    key: randomUUID(),
    itemId: id,
    binId: idOf(references.bins, 'SHELF-A'),
    lot: '',
    direction: 'more',
    quantity: '10',
    unit: 'piece',
    reason: 'opening stock',
    unitCost: '1',
  })
  await page.goto(`/stock?search=${code}`)
  await row(page, 'Balances', code).getByRole('button', { name: 'Correct' }).click()
  await dialog(page).getByLabel('By how much', { exact: true }).fill('3')
  await choose(dialog(page).getByLabel('Reason'), 'damage')
}

test('an answer that was lost after it was recorded: the page asks what became of it, tells the truth, and it counts once', async ({
  page,
}) => {
  await correcting(page, 'LOST-A')
  let sent = 0
  await page.route('**/api/stock/corrections', async (route) => {
    sent++
    await route.fetch()
    await route.abort('connectionreset')
  })
  await dialog(page).getByRole('button', { name: 'Record 3 pc less' }).click()
  await expect(row(page, 'Balances', 'LOST-A')).toContainText(/available\s*7\s*pc/)
  expect(sent).toBe(1)
})

test('a request that was lost on its way: the page says that it was not recorded, and pressed again it counts once', async ({
  page,
}) => {
  await correcting(page, 'LOST-B')
  await page.route('**/api/stock/corrections', (route) => route.abort('connectionreset'))
  await dialog(page).getByRole('button', { name: 'Record 3 pc less' }).click()
  await expect(dialog(page)).toContainText('The answer did not come, and it was not recorded. Try again.')
  await page.unroute('**/api/stock/corrections')
  await dialog(page).getByRole('button', { name: 'Record 3 pc less' }).click()
  await expect(row(page, 'Balances', 'LOST-B')).toContainText(/available\s*7\s*pc/)
})
