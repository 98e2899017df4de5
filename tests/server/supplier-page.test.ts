import { eq } from 'drizzle-orm'
import { beforeAll, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { suppliers } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { confirmPurchase } from '~~/server/services/purchasing/confirm-purchase'
import { closeShort } from '~~/server/services/purchasing/end-purchase'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { supplierPage } from '~~/server/services/purchasing/supplier-page'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make } from './stock-helpers'

/*
 * Today is 5 October 2026. Lines that were due within a year:
 *   A  10 pc at 2.50, asked for 10 September, all there on the 9th: whole and on time
 *   B   5 pc at 2.00, asked for 15 September, confirmed for the 20th, there on the 19th: whole, and late
 *   C   4 pc at 1.00, asked for 25 September, 3 came, the rest was given up: neither
 * D is due later and E was due longer ago. Received and not invoiced: 25.00 + 10.00 + 3.00.
 */
withDemo()

let supplierId = 0
let itemId = 0
let shelf = 0
beforeAll(async () => {
  const [made] = await db.insert(suppliers).values({ code: 'SP-TEST', name: 'Test Mill' }).returning()
  supplierId = made!.id
  itemId = await make('SP-A')
  shelf = await idOf('places', 'SHELF-A')
})

const order = async (orderedOn: string, quantity: string, price: string, dueOn: string) => {
  const lines = [{ itemId, quantity: typedQuantity(quantity), unit: 'piece', price, dueOn }]
  const made = await inTransaction((tx) => createPurchase(tx, owner, { supplierId, note: '', orderedOn, lines }))
  return loadPurchase(made.id)
}
const take = async (id: number, quantity: string, effectiveOn: string): Promise<void> => {
  const { version, lines } = await loadPurchase(id)
  const line = { lineId: lines[0]!.id, quantity: typedQuantity(quantity), unit: 'piece', binId: shelf, lot: '' }
  await inTransaction((tx) =>
    receive(tx, owner, id, { version, packingList: '', effectiveOn, lines: [{ ...line, expiresOn: null }] }),
  )
}

it('tells how they kept their days, what is owed, and what each item cost', async () => {
  const a = await order('2026-09-01', '10', '2.50', '2026-09-10')
  const b = await order('2026-09-02', '5', '2.00', '2026-09-15')
  const c = await order('2026-09-03', '4', '1.00', '2026-09-25')
  await order('2026-09-04', '7', '3.00', '2026-10-20')
  await order('2025-08-01', '9', '2.40', '2025-09-01')
  await take(a.id, '10', '2026-09-09')
  await inTransaction((tx) =>
    confirmPurchase(tx, owner, b.id, {
      version: b.version,
      reference: '',
      lines: [{ lineId: b.lines[0]!.id, quantity: typedQuantity('5'), price: '2.00', dueOn: '2026-09-20' }],
    }),
  )
  await take(b.id, '5', '2026-09-19')
  await take(c.id, '3', '2026-09-25')
  const { version, lines } = await loadPurchase(c.id)
  await inTransaction((tx) => closeShort(tx, owner, c.id, { version, lineId: lines[0]!.id, open: false }))

  const page = await supplierPage(supplierId, owner.today)
  expect([page.name, page.lines, page.inFull, page.onTime, page.notInvoiced]).toEqual(['Test Mill', 3, 2, 1, '3800'])
  expect(page.items).toEqual([
    {
      id: itemId,
      code: 'SP-A',
      name: expect.any(String) as string,
      symbol: 'pc',
      unit: 'piece',
      lastOn: '2026-09-04',
      lastPrice: '3.00',
      priceBefore: '2.40',
      received: '18',
      prices: [
        { on: '2025-08-01', price: '2.40' },
        { on: '2026-09-01', price: '2.50' },
        { on: '2026-09-02', price: '2.00' },
        { on: '2026-09-03', price: '1.00' },
        { on: '2026-09-04', price: '3.00' },
      ],
    },
  ])
})
it('prices are compared in the unit that was ordered in last', async () => {
  const [arden] = await db.select().from(suppliers).where(eq(suppliers.code, 'ARDEN'))
  const paper = await idOf('items', 'PAPER-100')
  const lines = [{ itemId: paper, quantity: typedQuantity('1000'), unit: 'sheet', price: '0.11', dueOn: '2026-10-30' }]
  await inTransaction((tx) => createPurchase(tx, owner, { supplierId: arden!.id, note: '', lines }))
  const { items } = await supplierPage(arden!.id, owner.today)
  const found = items.find((item) => item.id === paper)!
  // A ream of 500 at 54.00 is 0.108 a sheet.
  expect([found.unit, found.prices.map(({ price }) => price)]).toEqual(['sheet', ['0.108', '0.11']])
})
it('there is none by a number that nobody has', async () => {
  expect((await refusalOf(() => supplierPage(999_999, owner.today))).code).toBe('not-found')
})
