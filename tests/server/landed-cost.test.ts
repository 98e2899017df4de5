import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { cancelInvoice } from '~~/server/services/purchasing/cancel-invoice'
import { recordCreditNote } from '~~/server/services/purchasing/credit-notes'
import { loadInvoices } from '~~/server/services/purchasing/invoice-queries'
import { recordInvoice, type InvoiceDraft } from '~~/server/services/purchasing/invoices'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { receivedAround } from '~~/server/services/purchasing/received-goods'
import { tryCharges } from '~~/server/services/purchasing/try-charges'
import { owner, refusalOf, valueOf, withDemo } from './database'
import { amountOf, bought, invoice, ownSuppliers, sound } from './purchase-helpers'
import { make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
let carrierId = 0
beforeAll(async () => {
  ;[supplierId, carrierId] = (await ownSuppliers()) as [number, number]
})

/** Half of it goes to a customer. */
async function sold(itemId: number, quantity: string): Promise<void> {
  const order = await inTransaction((tx) =>
    createOrder(tx, owner, {
      customerId: 1,
      dueOn: '2026-10-20',
      note: '',
      lines: [{ id: null, itemId, quantity: typedQuantity(quantity), unit: 'piece', price: '9' }],
    }),
  )
  await inTransaction((tx) => allocate(tx, owner, order.id, 1))
  await inTransaction((tx) => ship(tx, owner, order.id, 2))
}
/** What of the cost of sales is of one item, in minor units. */
async function soldAt(itemId: number): Promise<string> {
  const [row] = await rows<{ amount: string }>(
    db,
    sql`
      select coalesce(sum(amount), 0)::text as amount
      from journal
      where item_id = ${itemId} and place_kind = 'customer'`,
  )
  return row!.amount
}
describe('charges become what goods cost', () => {
  // By hand, as in core/invoicing/landed-cost.test.ts: worth 20, 40 and 30; 5, 10 and 3 kg; 10, 20 and 30 l.
  it('by value, mass and volume, to the cent, with the remainder on the last line', async () => {
    const each = async (code: string, grams: string, litres: string): Promise<number> =>
      make(code, {
        relations: [
          { unit: 'piece', ofUnit: 'g', per: grams },
          { unit: 'piece', ofUnit: 'L', per: litres },
        ],
      })
    const [light, heavy, bulky] = [
      await each('LC-LIGHT', '500', '1'),
      await each('LC-HEAVY', '2000', '4'),
      await each('LC-BULKY', '1000', '10'),
    ]
    const { orderId, lineIds } = await bought(
      supplierId,
      { itemId: light, quantity: '10', price: '2' },
      { itemId: heavy, quantity: '5', price: '8' },
      { itemId: bulky, quantity: '3', price: '10' },
    )
    const goods = lineIds.map((lineId, at) => ({
      lineId,
      quantity: typedQuantity(['10', '5', '3'][at]!),
      unit: 'piece',
      amount: ['20', '40', '30'][at]!,
    }))
    const charge = (by: 'value' | 'mass' | 'volume') => ({ name: 'Freight', amount: '10.00', by })
    const tried = await inTransaction((tx) =>
      tryCharges(tx, orderId, { lines: [], charges: [charge('mass')], moveIds: [], invoicedOn: '2026-10-05' }),
    )
    expect(tried.map((row) => row.charged)).toEqual(['277', '555', '168'])
    const first = await invoice(orderId, { number: 'LC-1', lines: goods, charges: [charge('value')] })
    expect(amountOf(first.revalued, 'accounts payable')).toBe('-10000')
    // 20.00 + 2.22, 40.00 + 4.44, 30.00 + 3.34
    expect([await valueOf('LC-LIGHT'), await valueOf('LC-HEAVY'), await valueOf('LC-BULKY')]).toEqual([
      '2222',
      '4444',
      '3334',
    ])
    await sound()
    // A second invoice, of the carrier: 2.77, 5.55 and 1.68 by mass, and 1.66, 3.33 and 5.01 by volume.
    const second = await invoice(orderId, {
      number: 'LC-2',
      supplierId: carrierId,
      charges: [charge('mass'), charge('volume')],
    })
    expect([await valueOf('LC-LIGHT'), await valueOf('LC-HEAVY'), await valueOf('LC-BULKY')]).toEqual([
      '2665',
      '5332',
      '4003',
    ])
    await sound()
    const [newest] = await loadInvoices(orderId)
    expect([newest!.number, newest!.amount, newest!.charges.map((row) => `${row.by} ${row.amount}`)]).toEqual([
      'LC-2',
      '2000',
      ['mass 1000', 'volume 1000'],
    ])
    await inTransaction((tx) => cancelInvoice(tx, owner, second.id))
    expect(await valueOf('LC-BULKY')).toBe('3334')
    await sound()
  })

  /*
   * By hand: 10 at 2.00 and 10 at 3.00, by two orders; 10 are sold, then 10.00 of freight for both are asked for, by
   * quantity 5.00 each. First in, first out: the first ten were sold, at 20.00 + 5.00; 30.00 + 5.00 are left. Moving
   * average: 60.00 for 20, so 30.00 were sold and 30.00 are left.
   */
  it.each([
    ['LC-FIFO', 'first in, first out', ['2000', '3000'], ['2500', '3500']],
    ['LC-AVERAGE', 'moving average', ['2500', '2500'], ['3000', '3000']],
  ] as const)('late, after half of the goods were sold: %s, %s', async (code, costing, before, after) => {
    const item = await make(code, { costing })
    const first = await bought(supplierId, { itemId: item, quantity: '10', price: '2' })
    const second = await bought(supplierId, { itemId: item, quantity: '10', price: '3' })
    await sold(item, '10')
    const state = async (): Promise<string[]> => [await soldAt(item), await valueOf(code)]
    expect(await state()).toEqual(before)
    expect((await receivedAround(db, first.orderId, '2026-10-05')).map((row) => row.moveId)).toEqual(
      expect.arrayContaining([...first.moveIds, ...second.moveIds]),
    )
    const late = await invoice(first.orderId, {
      number: `LATE-${code}`,
      supplierId: carrierId,
      charges: [{ name: 'Freight', amount: '10.00', by: 'quantity' }],
      moveIds: [...first.moveIds, ...second.moveIds],
    })
    expect(await state()).toEqual(after)
    expect([amountOf(late.revalued, 'accounts payable'), amountOf(late.revalued, 'cost of sales')]).toEqual([
      '-1000',
      '500',
    ])
    await sound()
  })

  it('are refused with the reason beside them', async () => {
    const [item, sheet] = [await make('LC-PLAIN'), await make('LC-FREE')]
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '4', price: '1' })
    const free = await bought(supplierId, { itemId: sheet, quantity: '4', price: '0' })
    const refused = async (order: number, edit: Partial<InvoiceDraft>) =>
      (
        await refusalOf((tx) =>
          recordInvoice(tx, owner, order, { number: 'LC-NO', invoicedOn: '2026-10-05', lines: [], ...edit }),
        )
      ).fields
    const charge = (by: 'value' | 'mass') => [{ name: 'Freight', amount: '5', by }]
    expect(await refused(orderId, { charges: charge('mass') })).toEqual({
      'charges.0.by': 'How much LC-PLAIN weighs is not known. Say so among its units, or spread it by value.',
    })
    expect(await refused(free.orderId, { charges: charge('value') })).toEqual({
      'charges.0.by': 'These goods cost nothing. Spread it by quantity.',
    })
    expect(await refused(orderId, { charges: charge('value'), moveIds: [999_999] })).toHaveProperty('moveIds')
    const line = { lineId: lineIds[0]!, quantity: typedQuantity('4'), unit: 'piece', amount: '4' }
    expect(await refused(orderId, { supplierId: carrierId, lines: [line] })).toHaveProperty('supplierId')
  })
})

describe('a credit note', () => {
  it('makes goods cheaper that are kept, at most by what was invoiced; and can be taken back', async () => {
    const item = await make('LC-CREDIT')
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '4', price: '5' })
    await invoice(orderId, {
      number: 'LC-C1',
      lines: [{ lineId: lineIds[0]!, quantity: typedQuantity('4'), unit: 'piece', amount: '22.00' }],
    })
    await sold(item, '2')
    expect([await soldAt(item), await valueOf('LC-CREDIT')]).toEqual(['1100', '1100'])
    const give = (amount: string) => (tx: Parameters<Parameters<typeof inTransaction>[0]>[0]) =>
      recordCreditNote(tx, owner, orderId, {
        number: `LC-CN-${amount}`,
        invoicedOn: '2026-10-05',
        lines: [{ lineId: lineIds[0]!, amount }],
      })
    const note = await inTransaction(give('2.00'))
    // 22.00 − 2.00 for four, of which two were sold.
    expect([await soldAt(item), await valueOf('LC-CREDIT')]).toEqual(['1000', '1000'])
    expect(amountOf(note.revalued, 'accounts payable')).toBe('200')
    await sound()
    expect((await refusalOf(give('20.01'))).fields).toEqual({
      'lines.0.amount': '20.00 is what was invoiced for it and not given back; no more of it can be.',
    })
    expect((await loadPurchase(orderId)).invoiced).toEqual([{ lineId: lineIds[0], amount: '2000' }])
    await inTransaction((tx) => cancelInvoice(tx, owner, note.id))
    expect([await soldAt(item), await valueOf('LC-CREDIT')]).toEqual(['1100', '1100'])
    await sound()
  })
})
