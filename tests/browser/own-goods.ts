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

type Named = readonly { readonly id: number; readonly code: string }[]
interface References {
  readonly groups: Named
  readonly bins: Named
  readonly suppliers: Named
  readonly customers: Named
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

/** The number in the database of an item, by its code. */
export async function itemNamed(page: Page, code: string): Promise<number> {
  const answer = await page.request.get(`/api/catalogue/items?search=${code}`)
  return ((await answer.json()) as { rows: Named }).rows.find((row) => row.code === code)!.id
}

/** A tool that Tully sells by the piece at 0.20, five working days after it is ordered. */
export async function makeBought(page: Page, code: string): Promise<number> {
  const takeIn = async (table: string, text: string): Promise<void> => {
    const content = Buffer.from(text).toString('base64')
    const { id } = await api(page, 'catalogue/batches', { table, fileName: `${table}.csv`, content })
    await api(page, `catalogue/batches/${id}/apply`, {})
  }
  const head = 'code,name,group,source,stock unit,finest step,tracking,lead days'
  await takeIn('items', `${head}\n${code},${code} to test with,TOOLS,bought,piece,1,none,0\n`)
  await takeIn(
    'supplier-terms',
    `item,supplier,unit,price,minimum,multiple,lead_days\n${code},TULLY,piece,0.20,0,1,5\n`,
  )
  return itemNamed(page, code)
}

/** A sales order of Larkhill Books for one line of pieces; answers its id. */
export async function orderOf(page: Page, itemId: number, quantity: string, dueOn: string): Promise<number> {
  const { customers } = await references(page)
  const { id } = await api(page, 'demand/orders', {
    key: randomUUID(),
    customerId: customers.find((customer) => customer.code === 'LARK')!.id,
    dueOn,
    note: '',
    lines: [{ id: null, itemId, quantity, unit: 'piece', price: '6.50' }],
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
