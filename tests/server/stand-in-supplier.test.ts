import { describe, expect, it } from 'vitest'
import { inTransaction } from '~~/server/database/transactions'
import { applyImport, openImport } from '~~/server/services/catalogue/tables/batches'
import { accounts } from '~~/server/services/books/value'
import { typedQuantity } from '~~/core/units/quantity'
import { confirmPurchase } from '~~/server/services/purchasing/confirm-purchase'
import { recordInvoice } from '~~/server/services/purchasing/invoices'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { sendPurchase } from '~~/server/services/purchasing/send-purchase'
import { standInDocuments } from '~~/server/services/purchasing/stand-in-supplier'
import { readAnswer } from '~~/server/services/purchasing/ubl/answer'
import { readInvoice } from '~~/server/services/purchasing/ubl/invoice'
import { onHand, owner, refusalOf, withDemo } from './database'
import { ownSuppliers, sound } from './purchase-helpers'
import { make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

describe('a supplier’s stand-in', () => {
  /*
   * By hand. Ordered: 20 at 2.00 and 10 at 5.00, the latter kept by lot. It delivers 90 %, 18 and 9, a week late, a tenth
   * dearer: 18 × 2.20 + 9 × 5.50 = 39.60 + 49.50 = 89.10, with 9.90 of freight 99.00.
   */
  it('confirms, announces and invoices; all of it runs through the ordinary readers, to the cent', async () => {
    const [supplierId = 0] = await ownSuppliers()
    const [plain, byLot] = [await make('SS-PLAIN'), await make('SS-LOT', { tracking: 'lot' })]
    const before = (await accounts()).find((row) => row.account === 'accounts payable')?.amount ?? '0'
    const { id, number } = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId,
        note: '',
        lines: [
          { itemId: plain, quantity: typedQuantity('20'), unit: 'piece', price: '2.00', dueOn: '2026-10-12' },
          { itemId: byLot, quantity: typedQuantity('10'), unit: 'piece', price: '5.00', dueOn: '2026-10-12' },
        ],
      }),
    )
    const how = { lateDays: 7, percent: 90, dearer: 10, freight: '9.90' }
    await expect(standInDocuments(id, how, owner.today)).rejects.toMatchObject({ code: 'not-now' })
    await inTransaction((tx) =>
      sendPurchase(tx, owner, id, { key: crypto.randomUUID(), version: 1, to: 'a@b.example', subject: 'A', text: 'B' }),
    )
    const { response, despatch, invoice } = await standInDocuments(id, how, owner.today)

    const answer = await readAnswer(id, response)
    expect(answer).toMatchObject({ reference: `S-${number}`, unknown: [] })
    const { version } = await loadPurchase(id)
    await inTransaction((tx) =>
      confirmPurchase(tx, owner, id, {
        version,
        reference: answer.reference,
        lines: answer.lines.map((line) => ({ ...line, quantity: typedQuantity(line.quantity) })),
      }),
    )
    expect((await loadPurchase(id)).lines.map(({ entered, price, dueOn }) => [entered, price, dueOn])).toEqual([
      ['18', '2.2', '2026-10-19'],
      ['9', '5.5', '2026-10-19'],
    ])

    const file = await openImport(owner, {
      table: 'goods-received',
      fileName: 'advice.xml',
      content: Buffer.from(despatch).toString('base64'),
    })
    expect(file.faults).toEqual([])
    await inTransaction((tx) => applyImport(tx, owner, file.id))
    expect([await onHand('SS-PLAIN'), await onHand('SS-LOT')]).toEqual(['18', '9'])

    const read = await readInvoice(id, invoice)
    expect([read.number, read.concerns]).toEqual([`I-${number}`, []])
    await inTransaction((tx) =>
      recordInvoice(tx, owner, id, {
        number: read.number,
        invoicedOn: read.invoicedOn!,
        lines: read.lines.map((line) => ({ ...line, quantity: typedQuantity(line.quantity) })),
        charges: read.charges.map((charge) => ({ ...charge, by: 'value' })),
      }),
    )
    const payable = (await accounts()).find((row) => row.account === 'accounts payable')!.amount
    expect((BigInt(before) - BigInt(payable)).toString()).toBe('9900')
    expect(await loadPurchase(id)).toMatchObject({ status: 'done', uninvoiced: [] })
    await sound()
  })

  it('answers as ordered where nothing else is said', async () => {
    const [supplierId = 0] = await ownSuppliers()
    const item = await make('SS-SAME')
    const { id } = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('3'), unit: 'piece', price: '1.25', dueOn: '2026-10-12' }],
      }),
    )
    await inTransaction((tx) =>
      sendPurchase(tx, owner, id, { key: crypto.randomUUID(), version: 1, to: 'a@b.example', subject: 'A', text: 'B' }),
    )
    const { response, invoice } = await standInDocuments(
      id,
      { lateDays: 0, percent: 100, dearer: 0, freight: '' },
      owner.today,
    )
    expect((await readAnswer(id, response)).lines).toMatchObject([
      { quantity: '3', price: '1.25', dueOn: '2026-10-12' },
    ])
    expect(await readInvoice(id, invoice)).toMatchObject({ lines: [{ amount: '3.75' }], charges: [], concerns: [] })
    expect((await refusalOf(() => readAnswer(id, invoice))).code).toBe('invalid-input')
  })
})
