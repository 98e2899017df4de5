import { sql } from 'drizzle-orm'
import { beforeAll, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { receiveUnordered } from '~~/server/services/purchasing/unordered'
import type { ReceiveUnordered } from '~~/shared/purchasing/requests'
import { owner, refusalOf, withDemo } from './database'
import { ownSuppliers, sound } from './purchase-helpers'
import { balanceTexts, here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  supplierId = (await ownSuppliers())[0]!
})

const edit = (itemId: number, more: Partial<ReceiveUnordered['lines'][number]> = {}) => ({
  supplierId,
  packingList: '',
  effectiveOn: null,
  note: 'a box too many',
  isHeld: false,
  lines: [
    {
      itemId,
      quantity: typedQuantity('3'),
      unit: 'piece',
      price: '',
      binId: here.shelf,
      lot: '',
      expiresOn: null,
      ...more,
    },
  ],
})
const terms = () => [{ supplierId, unit: 'piece', price: '2.50', minimum: '0', multiple: '0', leadDays: 3, tiers: [] }]

it('goods that are on no order make one of the day they came, at the price of the terms, whole and taken back whole', async () => {
  const item = await make('UO-TERMS', { source: 'bought', terms: terms() })
  const done = await inTransaction((tx) => receiveUnordered(tx, owner, { ...edit(item), effectiveOn: '2026-10-02' }))
  const order = await loadPurchase(done.orderId)
  expect(order).toMatchObject({
    orderedOn: '2026-10-02',
    note: 'came without an order: a box too many',
    total: '750',
    state: 'received',
  })
  expect(await balanceTexts(item)).toEqual(['Shelf A 3 available'])
  await sound()
  await inTransaction((tx) => reverse(tx, owner, done.postingId!))
  expect(await balanceTexts(item)).toEqual([])
})

it('they wait on hold where that is wanted, and always where whoever takes them in may not buy', async () => {
  const item = await make('UO-HELD')
  await inTransaction((tx) => receiveUnordered(tx, owner, { ...edit(item, { price: '1.00' }), isHeld: true }))
  const keeper = { ...owner, role: 'stockkeeper' as const }
  const { isHeld } = await inTransaction((tx) => receiveUnordered(tx, keeper, edit(item, { price: '1.00' })))
  expect(isHeld).toBe(true)
  expect(await balanceTexts(item)).toEqual(['Shelf A 6 on hold'])
})

it('a line that nobody knows the price of is told, and nothing is half done; the same packing list twice is stopped', async () => {
  const item = await make('UO-PRICE')
  expect((await refusalOf((tx) => receiveUnordered(tx, owner, edit(item)))).fields).toEqual({
    'lines.0.price': 'The supplier has no terms for UO-PRICE. Give what it costs; 0 where it is free.',
  })
  const listed = { ...edit(item, { price: '0' }), packingList: 'X-77' }
  await inTransaction((tx) => receiveUnordered(tx, owner, listed))
  expect((await refusalOf((tx) => receiveUnordered(tx, owner, listed))).fields).toHaveProperty('packingList')
  expect(await rows(db, sql`select 1 from purchase_lines where item_id = ${item}`)).toHaveLength(1)
})
