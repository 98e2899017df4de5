import { randomUUID } from 'node:crypto'
import { expect, type Page } from '@playwright/test'

/*
 * Goods that a test makes for itself through the interface of the server, so that it depends on no figure of the demo.
 */
export const api = async <T = { id: number }>(page: Page, url: string, data: object): Promise<T> => {
  const answer = await page.request.post(`/api/${url}`, { data })
  expect([url, answer.status(), answer.ok() ? '' : await answer.text()]).toEqual([url, 200, ''])
  return (await answer.json()) as T
}

interface References {
  readonly groups: readonly { readonly id: number; readonly code: string }[]
  readonly bins: readonly { readonly id: number; readonly code: string }[]
}
export const references = async (page: Page): Promise<References> =>
  (await (await page.request.get('/api/catalogue/references')).json()) as References

export async function makeItem(page: Page, code: string, more: object = {}): Promise<number> {
  const { groups } = await references(page)
  const { id } = await api(page, 'catalogue/items', {
    code,
    name: `${code} to test with`,
    groupId: groups.find((group) => group.code === 'CLOTH')!.id,
    stockUnit: 'piece',
    buyingUnit: 'piece',
    sellingUnit: 'piece',
    finestStep: '1',
    ...more,
  })
  return id
}

export async function putInStock(page: Page, itemId: number, quantity = '5', unit = 'piece'): Promise<void> {
  const { bins } = await references(page)
  await api(page, 'stock/corrections', {
    key: randomUUID(),
    itemId,
    binId: bins.find((bin) => bin.code === 'SHELF-A')!.id,
    lot: '',
    direction: 'more',
    quantity,
    unit,
    unitCost: '1',
    reason: 'opening stock',
  })
}
