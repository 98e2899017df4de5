import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { soldBySite } from '~~/server/services/demand/history'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { cancelOrder } from '~~/server/services/demand/order-end'
import { createOrder } from '~~/server/services/demand/orders'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { orderNeeds } from '~~/server/services/purchasing/buying/order-needs'
import { noteWant } from '~~/server/services/purchasing/buying/wants'
import { changePurchase } from '~~/server/services/purchasing/change-purchase'
import { deliverDirect } from '~~/server/services/purchasing/deliver-direct'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { recordReturn } from '~~/server/services/purchasing/returns'
import { idOf, owner, refusalOf, withDemo } from './database'
import { bought, invoice, ownSuppliers, sound } from './purchase-helpers'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  ;[supplierId = 0] = await ownSuppliers()
})
const onHand = async (itemId: number): Promise<string> =>
  (
    await rows<{ sum: string }>(
      db,
      sql`select trim_scale(coalesce(sum(on_hand), 0))::text as sum from balances where item_id = ${itemId}`,
    )
  )[0]!.sum
/** What the shipments of an item cost: cost of sales in minor units. */
const costOfSales = async (itemId: number): Promise<string> =>
  (
    await rows<{ sum: string }>(
      db,
      sql`
        select coalesce(sum(amount), 0)::text as sum
        from journal
        where place_kind = 'customer' and item_id = ${itemId}`,
    )
  )[0]!.sum

/** A customer's order for so much, and an order to a supplier who delivers it to them. */
async function direct(code: string, quantity: string, price: string) {
  const item = await make(code)
  const sale = await inTransaction(async (tx) =>
    createOrder(tx, owner, {
      customerId: await idOf('customers', 'LARK'),
      dueOn: '2026-11-20',
      note: '',
      lines: [{ id: null, itemId: item, quantity: typedQuantity(quantity), unit: 'piece', price: '9.00' }],
    }),
  )
  const [line] = await rows<{ id: number }>(db, sql`select id from sales_lines where order_id = ${sale.id}`)
  const { id: wantId } = await inTransaction((tx) =>
    noteWant(tx, owner, {
      itemId: item,
      quantity: typedQuantity(quantity),
      unit: 'piece',
      neededOn: '2026-11-20',
      siteId: null,
      note: '',
      salesLineId: line!.id,
      isDirect: true,
    }),
  )
  const { orders } = await inTransaction((tx) =>
    orderNeeds(tx, owner, {
      onDrafts: true,
      orderId: null,
      lines: [
        {
          itemId: item,
          supplierId,
          siteId: null,
          quantity: typedQuantity(quantity),
          unit: 'piece',
          price,
          dueOn: '2026-11-20',
          wantId,
        },
      ],
    }),
  )
  const purchase = await loadPurchase(orders[0]!.id)
  return { item, saleId: sale.id, purchase, lineId: purchase.lines[0]!.id }
}
const delivered = (id: number, version: number, lineId: number, quantity: string) =>
  inTransaction((tx) =>
    deliverDirect(tx, owner, id, {
      version,
      packingList: '',
      effectiveOn: null,
      lines: [{ lineId, quantity: typedQuantity(quantity), unit: 'piece', lot: '', expiresOn: null }],
    }),
  )

describe('what a supplier delivers to the customer by themselves', () => {
  /*
   * By hand. 10 of the item lie in stock at 5.00. 8 are bought at 3.00 for the customer and delivered directly: cost of
   * sales 24.00, not 8 at an average of 4.11; the stock stays 10 at 50.00. The invoice says 26.00: cost of sales 26.00.
   */
  it('costs what this order says, touches no bin, and follows its invoice', async () => {
    const { item, saleId, purchase, lineId } = await direct('DD-COST', '8', '3.00')
    await bought(supplierId, { itemId: item, quantity: '10', price: '5.00' })
    expect(purchase.directOrder).toMatchObject({ id: saleId, customer: expect.stringContaining('Larkhill') as string })
    expect(purchase.deliverTo).toContain('Larkhill')
    const done = await delivered(purchase.id, 1, lineId, '8')
    expect(done.isDone).toBe(true)
    expect([await onHand(item), await costOfSales(item)]).toEqual(['10', '2400'])
    expect(await loadPurchase(purchase.id)).toMatchObject({ status: 'done', lines: [{ received: '8' }] })
    const sale = await loadOrder(saleId, owner.today)
    expect([sale.status, sale.lines[0]!.shipped, sale.postings.length]).toEqual(['shipped', '8', 1])
    await invoice(purchase.id, {
      number: 'DD-1',
      lines: [{ lineId, quantity: typedQuantity('8'), unit: 'piece', amount: '26.00' }],
    })
    expect([await onHand(item), await costOfSales(item)]).toEqual(['10', '2600'])
    await sound()
  })

  it('counts as sold to that customer', async () => {
    const { item, purchase, lineId } = await direct('DD-SOLD', '4', '3.00')
    await delivered(purchase.id, 1, lineId, '4')
    const sold = await soldBySite(db, owner.today, '2026-10-06')
    expect(sold.filter((row) => row.itemId === item)).toEqual([{ itemId: item, siteId: here.workshop, quantity: '4' }])
  })

  it('is not allocated from stock meanwhile, comes in parts, and is taken back whole', async () => {
    const { item, saleId, purchase, lineId } = await direct('DD-PARTS', '8', '3.00')
    await bought(supplierId, { itemId: item, quantity: '10', price: '5.00' })
    const nothing = await refusalOf((tx) => allocate(tx, owner, saleId, 1))
    expect(nothing.code).toBe('not-now')
    const first = await delivered(purchase.id, 1, lineId, '3')
    expect(first.isDone).toBe(false)
    const over = await refusalOf(() => delivered(purchase.id, 2, lineId, '6'))
    expect(over.fields).toEqual({
      'lines.0.quantity': 'This order has 5 pc DD-PARTS open. Raise it first where more was delivered.',
    })
    await inTransaction((tx) => reverse(tx, owner, first.postingId))
    expect((await loadPurchase(purchase.id)).lines[0]!.received).toBe('0')
    const sale = await loadOrder(saleId, owner.today)
    expect([sale.status, sale.lines[0]!.shipped]).toEqual(['open', '0'])
    expect([await onHand(item), await costOfSales(item)]).toEqual(['10', '0'])
    await sound()
  })

  it('is refused where the customer’s order is cancelled, and for what is allocated from here', async () => {
    const cancelled = await direct('DD-CANCEL', '2', '3.00')
    const { version } = await loadOrder(cancelled.saleId, owner.today)
    await inTransaction((tx) => cancelOrder(tx, owner, cancelled.saleId, { version }))
    expect((await refusalOf(() => delivered(cancelled.purchase.id, 1, cancelled.lineId, '2'))).detail).toMatch(
      /^SO-\d+ is cancelled already\.$/,
    )
    const { item, saleId, purchase, lineId } = await direct('DD-ALLOC', '8', '3.00')
    await rows(db, sql`update purchase_lines set quantity = 5, entered = '5' where id = ${lineId}`)
    await bought(supplierId, { itemId: item, quantity: '3', price: '5.00' })
    const sale = await loadOrder(saleId, owner.today)
    await inTransaction((tx) => allocate(tx, owner, saleId, sale.version))
    await rows(db, sql`update purchase_lines set quantity = 8, entered = '8' where id = ${lineId}`)
    expect((await refusalOf(() => delivered(purchase.id, 1, lineId, '8'))).fields!['lines.0.quantity']).toMatch(
      /^SO-\d+ has 5 pc DD-ALLOC open\./,
    )
  })

  it('is not received here, and what is bought for us is not delivered so', async () => {
    const { purchase, lineId } = await direct('DD-HERE', '2', '3.00')
    const received = await refusalOf((tx) =>
      receive(tx, owner, purchase.id, {
        version: 1,
        packingList: '',
        lines: [{ lineId, quantity: typedQuantity('2'), unit: 'piece', binId: here.shelf, lot: '', expiresOn: null }],
      }),
    )
    expect(received.detail).toContain('is delivered to the customer directly')
    const item = await make('DD-OURS')
    const { id } = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('1'), unit: 'piece', price: '1', dueOn: '2026-10-20' }],
      }),
    )
    expect((await refusalOf(() => delivered(id, 1, 1, '1'))).detail).toContain('is delivered to us')
  })
})

describe('what came instead of what was ordered', () => {
  /** An order for 10 at 6.00, of which so many came as something else that counts two for one. */
  async function substituted(code: string, came: string) {
    const item = await make(code)
    const other = await make(`${code}-2`)
    const { id } = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('10'), unit: 'piece', price: '6.00', dueOn: '2026-10-20' }],
      }),
    )
    const { lines } = await loadPurchase(id)
    const line = {
      lineId: lines[0]!.id,
      quantity: typedQuantity(came),
      unit: 'piece',
      substituteId: other,
      countsAs: typedQuantity(String(Number(came) / 2)),
      binId: here.shelf,
      lot: '',
      expiresOn: null,
    }
    const received = () => inTransaction((tx) => receive(tx, owner, id, { version: 1, packingList: '', lines: [line] }))
    return { id, item, other, line, received }
  }

  /*
   * By hand. 8 came that count as 4 of the 10 ordered at 6.00: worth 24.00, 3.00 each. 6 are to come. The order stays
   * 60.00. Invoiced at 26.00, the 8 are worth 26.00.
   */
  it('has a line of its own, counts on the line that was ordered, and is invoiced there', async () => {
    const { id, item, other, received } = await substituted('SU-COUNTS', '8')
    await received()
    const order = await loadPurchase(id)
    expect(order.total).toBe('6000')
    expect(order.lines.map(({ itemId, received: count, replaces }) => [itemId, count, replaces])).toEqual([
      [item, '4', null],
      [other, '8', 'SU-COUNTS'],
    ])
    expect(order.uninvoiced).toEqual([{ lineId: order.lines[1]!.id, quantity: '8', amount: '2400' }])
    expect([await onHand(item), await onHand(other)]).toEqual(['0', '8'])
    await invoice(id, {
      number: 'SU-1',
      lines: [{ lineId: order.lines[1]!.id, quantity: typedQuantity('8'), unit: 'piece', amount: '26.00' }],
    })
    await sound()
  })

  it('is taken back whole, and can come again', async () => {
    const { id, other, received } = await substituted('SU-BACK', '8')
    const { postingId } = await received()
    await inTransaction((tx) => reverse(tx, owner, postingId!))
    const order = await loadPurchase(id)
    expect(order.lines.map(({ received: count }) => count)).toEqual(['0'])
    expect(await onHand(other)).toBe('0')
    await sound()
    // What was recorded of it names the line that was ordered: that is closed short, not taken off.
    const { version } = order
    const line = {
      id: null,
      itemId: other,
      quantity: typedQuantity('1'),
      unit: 'piece',
      price: '1',
      dueOn: '2026-10-20',
    }
    const refused = await refusalOf((tx) =>
      changePurchase(tx, owner, id, { version, note: '', paymentTerms: '', deliveryTerms: '', lines: [line] }),
    )
    expect(refused.fields!.lines).toContain('Close it short instead of taking it off.')
  })

  it('goes back for a replacement without changing what was ordered', async () => {
    const { id, other, received } = await substituted('SU-RETURN', '8')
    await received()
    const { version, lines } = await loadPurchase(id)
    await inTransaction((tx) =>
      recordReturn(tx, owner, id, {
        version,
        lineId: lines[1]!.id,
        quantity: typedQuantity('8'),
        unit: 'piece',
        binId: here.shelf,
        lotId: null,
        pieceId: null,
        status: 'available',
        reason: 'bent',
        reference: '',
        expects: 'replacement',
      } as never),
    )
    expect((await loadPurchase(id)).lines.map(({ received: count }) => count)).toEqual(['4', '0'])
    expect(await onHand(other)).toBe('0')
    await sound()
  })

  it('stays behind the lines when the order is changed, and is never told to the supplier', async () => {
    const { id, item, received } = await substituted('SU-CHANGED', '8')
    await received()
    const { version, lines } = await loadPurchase(id)
    const kept = { quantity: typedQuantity('12'), unit: 'piece', price: '6.00', dueOn: '2026-10-20' }
    await inTransaction((tx) =>
      changePurchase(tx, owner, id, {
        version,
        note: '',
        paymentTerms: '',
        deliveryTerms: '',
        lines: [
          { id: lines[0]!.id, itemId: item, ...kept },
          { id: null, itemId: item, ...kept },
        ],
      }),
    )
    expect((await loadPurchase(id)).lines.map(({ line, replaces }) => [line, replaces])).toEqual([
      [1, null],
      [2, null],
      [3, 'SU-CHANGED'],
    ])
  })

  it('refuses more than is still to come, and the item itself', async () => {
    const { id, item, line } = await substituted('SU-REFUSED', '24')
    const refused = (edit: object) =>
      refusalOf((tx) => receive(tx, owner, id, { version: 1, packingList: '', lines: [{ ...line, ...edit }] }))
    expect((await refused({})).fields).toEqual({
      'lines.0.countsAs': 'Only 10 pc SU-REFUSED are still to come.',
    })
    expect(Object.keys((await refused({ substituteId: item })).fields!)).toEqual(['lines.0.substituteId'])
  })
})

describe('how much more than was ordered is taken in', () => {
  it('is a share that the supplier or the item has; beyond it a reason is wanted', async () => {
    const item = await make('OD-ITEM')
    await rows(db, sql`update suppliers set over_delivery = 5 where id = ${supplierId}`)
    const come = async (quantity: string) => {
      const { id } = await inTransaction((tx) =>
        createPurchase(tx, owner, {
          supplierId,
          note: '',
          lines: [{ itemId: item, quantity: typedQuantity('100'), unit: 'piece', price: '1', dueOn: '2026-10-20' }],
        }),
      )
      const { lines } = await loadPurchase(id)
      return (tx: Parameters<Parameters<typeof inTransaction>[0]>[0]) =>
        receive(tx, owner, id, {
          version: 1,
          packingList: '',
          lines: [
            {
              lineId: lines[0]!.id,
              quantity: typedQuantity(quantity),
              unit: 'piece',
              binId: here.shelf,
              lot: '',
              expiresOn: null,
            },
          ],
        })
    }
    await inTransaction(await come('105'))
    expect((await refusalOf(await come('106'))).fields).toEqual({
      'lines.0.reason':
        '6 pc OD-ITEM more than was ordered; up to 5 % more are taken in without a word. Say why it is taken in.',
    })
    await rows(db, sql`update items set over_delivery = 0 where id = ${item}`)
    expect((await refusalOf(await come('101'))).fields!['lines.0.reason']).toContain('1 pc OD-ITEM more')
    await rows(db, sql`update suppliers set over_delivery = null where id = ${supplierId}`)
  })
})
