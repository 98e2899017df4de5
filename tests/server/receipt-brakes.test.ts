import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { closeBooks } from '~~/server/services/books/periods'
import { receive, type ReceiveDraft } from '~~/server/services/purchasing/goods-in'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { onHand, owner, refusalOf, withDemo } from './database'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

interface Ordered {
  readonly id: number
  readonly receipt: (quantity: string, more?: object, line?: object) => ReceiveDraft
}
async function ordered(itemId: number, quantity: string): Promise<Ordered> {
  const { id } = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId: 1,
      note: '',
      lines: [{ itemId, quantity: typedQuantity(quantity), unit: 'piece', price: '1.00', dueOn: '2026-10-20' }],
    }),
  )
  const [line] = (await loadPurchase(id)).lines
  return {
    id,
    receipt: (count, more = {}, ofLine = {}) => ({
      version: 1,
      packingList: '',
      lines: [
        {
          lineId: line!.id,
          quantity: typedQuantity(count),
          unit: 'piece',
          binId: here.shelf,
          lot: '',
          expiresOn: null,
          ...ofLine,
        },
      ],
      ...more,
    }),
  }
}
const taken = (order: Ordered, draft: ReceiveDraft) => inTransaction((tx) => receive(tx, owner, order.id, draft))
const refused = async (order: Ordered, draft: ReceiveDraft) =>
  (await refusalOf((tx) => receive(tx, owner, order.id, draft))).fields

describe('a receipt is stopped', () => {
  it('by more than was ordered, until a reason is given, which the posting keeps', async () => {
    const order = await ordered(await make('RB-OVER'), '10')
    expect(await refused(order, order.receipt('100'))).toEqual({
      'lines.0.reason': '90 pc RB-OVER more than was ordered. Say why it is taken in.',
    })
    expect(await onHand('RB-OVER')).toBe('0')
    await taken(order, order.receipt('12', {}, { reason: 'two more in the box, free of charge' }))
    expect(await onHand('RB-OVER')).toBe('12')
  })
  it('by what rounding to finest steps makes of parts it is not', async () => {
    const order = await ordered(await make('RB-EXACT'), '10')
    await taken(order, order.receipt('4'))
    await taken(order, { ...order.receipt('6'), version: 2 })
    expect(await onHand('RB-EXACT')).toBe('10')
  })
  it('by a packing list of the same supplier that was received before, until that is seen; taken back, it may come again', async () => {
    const [first, second] = [await ordered(await make('RB-ONE'), '5'), await ordered(await make('RB-TWO'), '5')]
    const { postingId } = await taken(first, first.receipt('5', { packingList: 'L-4711' }))
    const fields = await refused(second, second.receipt('5', { packingList: 'l-4711' }))
    expect(fields!.packingList).toMatch(/^Packing list l-4711 was received on 5 Oct for PO-\d+ already\.$/)
    await taken(second, second.receipt('2', { packingList: 'L-4711', sameList: true }))
    const third = await ordered(await make('RB-THREE'), '5')
    expect(await refused(third, third.receipt('5', { packingList: 'L-4711' }))).toHaveProperty('packingList')
    await inTransaction((tx) => reverse(tx, owner, postingId!))
    expect(await refused(third, third.receipt('5', { packingList: 'L-4711' }))).toHaveProperty('packingList')
  })
  it('by a day before the order, one to come, and one in a closed period', async () => {
    const order = await ordered(await make('RB-DAY'), '5')
    expect((await refused(order, order.receipt('5', { effectiveOn: '2020-01-01' })))!.effectiveOn).toMatch(
      /^PO-\d+ was ordered on 5 Oct; nothing of it came before that\.$/,
    )
    expect(await refused(order, order.receipt('5', { effectiveOn: '2026-10-06' }))).toEqual({
      effectiveOn: 'That day has not come yet. Record it when it has happened.',
    })
    await inTransaction((tx) => closeBooks(tx, owner, '2026-09-30'))
    expect(await onHand('RB-DAY')).toBe('0')
  })
  it('by a lot that has expired, new or known, until a reason is given', async () => {
    const item = await make('RB-LOT', { tracking: 'lot' })
    const order = await ordered(item, '10')
    const expired = { lot: 'L-1', expiresOn: '2026-09-30' }
    expect(await refused(order, order.receipt('5', {}, expired))).toEqual({
      'lines.0.reason': 'RB-LOT expired on 30 Sep. Say why it is taken in.',
    })
    await taken(order, order.receipt('5', {}, { ...expired, reason: 'for the test bench' }))
    const again = { ...order.receipt('5', {}, { lot: 'L-1' }), version: 2 }
    expect(await refused(order, again)).toEqual({
      'lines.0.reason': 'Lot L-1 of RB-LOT expired on 30 Sep. Say why it is taken in.',
    })
  })
})
