import { expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { company } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { stockValue } from '~~/server/services/books/value'
import { valueByMonth } from '~~/server/services/books/value-by-month'
import { receive } from '~~/server/services/purchasing/goods-in'
import { listArrivals } from '~~/server/services/purchasing/arrivals'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { changedSince } from '~~/server/services/today/changed-since'
import { todayLines } from '~~/server/services/today/today'
import { idOf, owner, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

it('stock over twelve months is what the books say of each of those evenings', async () => {
  const item = await make('OT-NAIL')
  await open(item, '10', '3.00', { effectiveOn: '2026-07-15' })
  await open(item, '4', '5.00', { effectiveOn: '2026-09-30' })
  const months = await valueByMonth(owner.today)
  expect(months.map((month) => month.day)).toEqual([
    ...['2025-10-31', '2025-11-30', '2025-12-31', '2026-01-31', '2026-02-28', '2026-03-31', '2026-04-30'],
    ...['2026-05-31', '2026-06-30', '2026-07-31', '2026-08-31', '2026-09-30', '2026-10-05'],
  ])
  for (const { day, value } of months) {
    const books = (await stockValue('group', day)).reduce((sum, row) => sum + BigInt(row.value), 0n)
    expect([day, value]).toEqual([day, books.toString()])
  }
  // Before anything was recorded there is nothing; 10 × 3.00 came in July, before all else.
  expect(months[8]!.value).toBe('0')
  expect(months[9]!.value).toBe('3000')
})

it('arrivals are what is open of orders, on its day, without what has come', async () => {
  const item = await make('OT-SCREW')
  const order = await inTransaction(async (tx) =>
    createPurchase(tx, owner, {
      supplierId: await idOf('suppliers', 'TULLY'),
      note: '',
      lines: ['2026-10-12', '2026-10-20'].map((dueOn) => ({
        itemId: item,
        quantity: typedQuantity('8'),
        unit: 'piece',
        price: '1',
        dueOn,
      })),
    }),
  )
  const own = async (): Promise<unknown[]> =>
    (await listArrivals())
      .filter((arrival) => arrival.document === `purchase:${order.id}`)
      .map(({ day, lines }) => [day, lines])
  const line = { code: 'OT-SCREW', quantity: '8', symbol: 'pc' }
  expect(await own()).toEqual([
    ['2026-10-12', [line]],
    ['2026-10-20', [line]],
  ])
  const stored = await loadPurchase(order.id)
  await inTransaction((tx) =>
    receive(tx, owner, order.id, {
      version: stored.version,
      packingList: '',
      lines: [
        {
          lineId: stored.lines[0]!.id,
          quantity: typedQuantity('5'),
          unit: 'piece',
          binId: here.shelf,
          lot: '',
          expiresOn: null,
          pieces: [],
        },
      ],
    } as never),
  )
  expect(await own()).toEqual([
    ['2026-10-12', [{ ...line, quantity: '3' }]],
    ['2026-10-20', [line]],
  ])
})

it('what has changed is counted since the last working day, over a weekend since Friday; what was taken back is not', async () => {
  const { since, changes } = await changedSince('2026-10-05')
  expect(since).toBe('2026-10-02')
  expect((await changedSince('2026-10-08')).since).toBe('2026-10-07')
  // The demo built and received once on Friday; above, one order and one receipt were made today.
  const counted = new Map(changes.map(({ kind, count }) => [kind, count]))
  expect([counted.get('purchase order'), counted.get('goods receipt'), counted.get('build')]).toEqual([1, 2, 1])
})

it('quantities on Today are written as the company writes numbers', async () => {
  const details = async (): Promise<string[]> =>
    (await todayLines(owner.today)).lines.filter((line) => line.title.startsWith('PO-0042')).map((line) => line.detail)
  expect(await details()).toEqual([expect.stringMatching(/^1\s550 m THREAD, 50 pc NEEDLE$/)])
  await db.update(company).set({ decimalSign: ',', grouping: 'sign' })
  expect(await details()).toEqual(['1.550 m THREAD, 50 pc NEEDLE'])
})
