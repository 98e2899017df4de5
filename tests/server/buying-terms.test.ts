import { sql } from 'drizzle-orm'
import { beforeAll, expect, it } from 'vitest'
import { ratio } from '~~/core/units/exact'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkTerms } from '~~/server/services/purchasing/check-terms'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { idOf, owner, withDemo } from './database'
import { make } from './stock-helpers'

withDemo()

let supplierId = 0
const items = { sold: 0, other: 0, made: 0 }
beforeAll(async () => {
  supplierId = await idOf('suppliers', 'TULLY')
  items.sold = await make('BT-SOLD')
  items.other = await make('BT-OTHER')
  items.made = await make('BT-MADE', { source: 'made' })
  await rows(
    db,
    sql`
      insert into supplier_terms (item_id, supplier_id, unit, price, minimum, multiple, lead_days)
      values (${items.sold}, ${supplierId}, 'piece', 1, 10, 5, 5)`,
  )
})
const check = async (itemId: number, quantity: string, dueOn = '2026-10-30'): Promise<unknown[]> =>
  (await checkTerms(db, supplierId, owner.today, [{ itemId, quantity: ratio(quantity), dueOn }])).map(
    ({ field, detail, right }) => [field, detail, right],
  )

it('below the minimum and off the multiple the next right quantity is offered', async () => {
  expect(await check(items.sold, '3')).toEqual([
    [
      'quantity',
      expect.stringMatching(/sells BT-SOLD from 10 pc on\.$/),
      { quantity: '10', unit: 'piece', text: '10 pc' },
    ],
  ])
  expect(await check(items.sold, '12')).toEqual([
    ['quantity', expect.stringMatching(/in steps of 5 pc\.$/), { quantity: '15', unit: 'piece', text: '15 pc' }],
  ])
  expect([await check(items.sold, '10'), await check(items.sold, '25')]).toEqual([[], []])
})
it('wanted before the lead time allows, in working days, the first possible day is offered', async () => {
  // Five working days from Monday 5 October are Monday the 12th.
  expect(await check(items.sold, '10', '2026-10-09')).toEqual([
    [
      'dueOn',
      expect.stringMatching(/takes 5 working days for BT-SOLD: 12 Oct at the soonest\.$/),
      { dueOn: '2026-10-12', text: '12 Oct' },
    ],
  ])
  expect(await check(items.sold, '10', '2026-10-12')).toEqual([])
})
it('what they have no terms for, and what is made here, is told', async () => {
  expect(await check(items.other, '3')).toEqual([
    ['itemId', expect.stringMatching(/has no terms for BT-OTHER\.$/), null],
  ])
  expect(await check(items.made, '3')).toEqual([
    ['itemId', expect.stringMatching(/^BT-MADE is made here, and .* has no terms for it\.$/), null],
  ])
})
it('an order that keeps it all the same says so on its page', async () => {
  const { id } = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId,
      note: '',
      lines: [{ itemId: items.sold, quantity: typedQuantity('3'), unit: 'piece', price: '1', dueOn: '2026-10-30' }],
    }),
  )
  expect((await loadPurchase(id)).kept).toEqual([expect.stringMatching(/from 10 pc on\.$/)])
})
