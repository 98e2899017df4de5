import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { accounts } from '~~/server/services/books/value'
import { cancelInvoice } from '~~/server/services/purchasing/cancel-invoice'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadUninvoiced } from '~~/server/services/purchasing/invoice-queries'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { returnDocument } from '~~/server/services/purchasing/return-document'
import { loadReturnable } from '~~/server/services/purchasing/return-queries'
import { supplierPage } from '~~/server/services/purchasing/supplier-page'
import { recordReturn } from '~~/server/services/purchasing/returns'
import { creditReturn, replaceReturn } from '~~/server/services/purchasing/settle-return'
import type { ReturnExpects } from '~~/shared/purchasing/returns'
import { owner, refusalOf, valueOf, withDemo } from './database'
import { bought, invoice, ownSuppliers, sound } from './purchase-helpers'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  supplierId = (await ownSuppliers())[0]!
})

const held = async (account: string): Promise<number> =>
  Number((await accounts()).find((row) => row.account === account)?.amount ?? 0)
const back = async (orderId: number, lineId: number, quantity: string, expects: ReturnExpects) => ({
  version: (await loadPurchase(orderId)).version,
  lineId,
  quantity: typedQuantity(quantity),
  unit: 'piece',
  binId: here.shelf,
  lotId: null,
  pieceId: null,
  status: 'available' as const,
  reason: 'torn',
  reference: 'RMA 7',
  expects,
})
const sentBack = async (orderId: number, lineId: number, quantity: string, expects: ReturnExpects) => {
  const edit = await back(orderId, lineId, quantity, expects)
  return inTransaction((tx) => recordReturn(tx, owner, orderId, edit))
}
const line = (lineId: number, quantity: string, amount: string) => ({
  lineId,
  quantity: typedQuantity(quantity),
  unit: 'piece',
  amount,
})

describe('goods go back to the supplier', () => {
  /*
   * By hand. 10 at 5.00 are invoiced at 55.00 and bear 5.00 of freight: 60.00, 6.00 each. 3 go back: 18.00 leave the
   * stock, 42.00 stay. The supplier asked for 5.50 each: 16.50 are expected. With that credited, the 1.50 of freight for
   * the three stay on the account of returns.
   */
  it('for a credit note: what it gives comes out of the account of returns; all of it can be taken back', async () => {
    const item = await make('SR-CREDIT')
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '10', price: '5' })
    const [lineId] = lineIds as [number]
    const freight = [{ name: 'Freight', amount: '5', by: 'value' as const }]
    await invoice(orderId, { number: 'SR-1', lines: [line(lineId, '10', '55')], charges: freight })
    const [payable, returns] = [await held('accounts payable'), await held('returns to suppliers')]
    const made = await sentBack(orderId, lineId, '3', 'credit')
    expect([await valueOf('SR-CREDIT'), (await held('returns to suppliers')) - returns]).toEqual(['4200', 1800])
    await sound()
    expect((await loadReturnable(orderId)).map((row) => row.quantity)).toEqual(['7'])
    const [row] = (await loadPurchase(orderId)).returns
    expect(row).toMatchObject({
      number: made.number,
      quantity: '3',
      expected: '1650',
      reference: 'RMA 7',
      settled: null,
    })
    const nowhere = { ...(await back(orderId, lineId, '1', 'credit')), lotId: 999_999 }
    expect((await refusalOf((tx) => recordReturn(tx, owner, orderId, nowhere))).fields).toEqual({
      binId: 'It does not lie there any more. Reload the page and choose again.',
    })
    const tooMuch = await back(orderId, lineId, '8', 'credit')
    expect((await refusalOf((tx) => recordReturn(tx, owner, orderId, tooMuch))).fields).toEqual({
      quantity: '7 pc of it came and are not returned; no more can be.',
    })
    expect((await supplierPage(supplierId, owner.today)).creditsExpected).toBe('1650')
    const credit = { number: 'SR-CN', invoicedOn: '2026-10-05', amount: '16.50' }
    const credited = await inTransaction((tx) => creditReturn(tx, owner, made.id, credit))
    expect([(await held('accounts payable')) - payable, (await held('returns to suppliers')) - returns]).toEqual([
      1650, 150,
    ])
    await sound()
    expect((await refusalOf((tx) => creditReturn(tx, owner, made.id, { ...credit, number: 'X' }))).detail).toBe(
      `${made.number} is settled already: credit note.`,
    )
    expect((await refusalOf((tx) => reverse(tx, owner, made.postingId))).code).toBe('not-now')
    await inTransaction((tx) => cancelInvoice(tx, owner, credited.id))
    expect([(await held('accounts payable')) - payable, (await held('returns to suppliers')) - returns]).toEqual([
      0, 1800,
    ])
    await inTransaction((tx) => reverse(tx, owner, made.postingId))
    expect([await valueOf('SR-CREDIT'), (await held('returns to suppliers')) - returns]).toEqual(['6000', 0])
    expect((await loadReturnable(orderId)).map((entry) => entry.quantity)).toEqual(['10'])
    await sound()
  })

  it('a receipt that is paid for, or from which goods went back, is not reversed before that is', async () => {
    const item = await make('SR-RECEIPT')
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '10', price: '5' })
    const [lineId] = lineIds as [number]
    const [receipt] = (await loadPurchase(orderId)).postings
    const reversed = (tx: Parameters<Parameters<typeof inTransaction>[0]>[0]) => reverse(tx, owner, receipt!.id)
    const { id } = await invoice(orderId, { number: 'SR-R1', lines: [line(lineId, '10', '55')] })
    expect((await refusalOf(reversed)).detail).toBe(
      'Invoice SR-R1 is about these goods. Take it back first, or return the goods to the supplier.',
    )
    await inTransaction((tx) => cancelInvoice(tx, owner, id))
    const made = await sentBack(orderId, lineId, '4', 'credit')
    expect((await refusalOf(reversed)).detail).toBe(`${made.number} went back from these goods. Reverse that first.`)
    await inTransaction((tx) => reverse(tx, owner, made.postingId))
    await inTransaction(reversed)
    expect(await valueOf('SR-RECEIPT')).toBe('0')
    await sound()
  })

  // By hand: 10 at 5.00, not invoiced. 4 go back: 20.00 leave the stock, and 30.00 for 6 are left to be invoiced.
  it('before they are invoiced: the supplier asks for the rest only', async () => {
    const item = await make('SR-EARLY')
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '10', price: '5' })
    const [lineId] = lineIds as [number]
    const returns = await held('returns to suppliers')
    const made = await sentBack(orderId, lineId, '4', 'not invoiced')
    expect([await valueOf('SR-EARLY'), (await held('returns to suppliers')) - returns]).toEqual(['3000', 0])
    expect(await loadUninvoiced(orderId)).toEqual([{ lineId, quantity: '6', amount: '3000' }])
    await sound()
    await inTransaction((tx) => reverse(tx, owner, made.postingId))
    expect(await loadUninvoiced(orderId)).toEqual([{ lineId, quantity: '10', amount: '5000' }])
    expect([await valueOf('SR-EARLY'), (await held('returns to suppliers')) - returns]).toEqual(['5000', 0])
    await sound()
    await invoice(orderId, { number: 'SR-E1', lines: [line(lineId, '8', '40')] })
    const late = await back(orderId, lineId, '3', 'not invoiced')
    expect((await refusalOf((tx) => recordReturn(tx, owner, orderId, late))).fields).toEqual({
      expects: '1 pc of it are invoiced already. Expect a credit note for them, or a replacement.',
    })
  })

  // By hand: 10 at 5.00, invoiced. 2 go back, 10.00; 2 come instead, worth 10.00, which those pay for: nothing is owed.
  it('for a replacement: the line is open again, and what comes for it is not paid for', async () => {
    const item = await make('SR-AGAIN')
    const { orderId, lineIds } = await bought(supplierId, { itemId: item, quantity: '10', price: '5' })
    const [lineId] = lineIds as [number]
    await invoice(orderId, { number: 'SR-A1', lines: [line(lineId, '10', '50')] })
    const [payable, returns] = [await held('accounts payable'), await held('returns to suppliers')]
    const made = await sentBack(orderId, lineId, '2', 'replacement')
    const open = await loadPurchase(orderId)
    expect([open.state, open.lines[0]!.received, await valueOf('SR-AGAIN')]).toEqual(['received in part', '8', '4000'])
    expect((await refusalOf((tx) => replaceReturn(tx, owner, made.id))).detail).toMatch(/has not come yet/)
    await inTransaction((tx) =>
      receive(tx, owner, orderId, {
        version: open.version,
        packingList: '',
        lines: [{ lineId, quantity: typedQuantity('2'), unit: 'piece', binId: here.shelf, lot: '', expiresOn: null }],
      }),
    )
    await sound()
    await inTransaction((tx) => replaceReturn(tx, owner, made.id))
    expect(await loadUninvoiced(orderId)).toEqual([])
    expect([
      await valueOf('SR-AGAIN'),
      (await held('accounts payable')) - payable,
      (await held('returns to suppliers')) - returns,
    ]).toEqual(['5000', 0, 0])
    await sound()
    const { name, bytes } = await returnDocument(made.id)
    expect([name, bytes.subarray(0, 5).toString()]).toEqual([`${made.number}.pdf`, '%PDF-'])
  })
})
