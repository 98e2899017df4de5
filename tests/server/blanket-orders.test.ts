import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { callOff } from '~~/server/services/purchasing/blankets/call-off'
import { createBlanket, endBlanket } from '~~/server/services/purchasing/blankets/create-blanket'
import { listBlankets } from '~~/server/services/purchasing/blankets/list-blankets'
import { loadBlanket } from '~~/server/services/purchasing/blankets/load-blanket'
import { cancelPurchase, closeShort } from '~~/server/services/purchasing/end-purchase'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { BlanketQuery } from '~~/shared/purchasing/blankets'
import { owner, refusalOf, withDemo } from './database'
import { ownSuppliers } from './purchase-helpers'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  ;[supplierId = 0] = await ownSuppliers()
})

/** 100 cartons of 12 at 6.00 each are agreed from October to December. */
async function agreed(code: string) {
  const item = await make(code, { relations: [{ unit: 'carton', per: '12', ofUnit: 'piece' }] })
  const { id, number } = await inTransaction((tx) =>
    createBlanket(tx, owner, {
      supplierId,
      reference: 'FR-1',
      fromOn: '2026-10-01',
      untilOn: '2026-12-31',
      note: '',
      lines: [{ itemId: item, quantity: typedQuantity('100'), unit: 'carton', price: '6.00' }],
    }),
  )
  return { id, number, item, lineId: (await loadBlanket(db, id)).lines[0]!.id }
}
const called = async (id: number, lineId: number, quantity: string, unit = 'carton', dueOn = '2026-11-02') => {
  const { version } = await loadBlanket(db, id)
  return inTransaction((tx) =>
    callOff(tx, owner, id, {
      version,
      dueOn,
      siteId: null,
      lines: [{ lineId, quantity: typedQuantity(quantity), unit }],
    }),
  )
}
const left = async (id: number): Promise<string[]> => {
  const [line] = (await loadBlanket(db, id)).lines
  return [line!.called, line!.received, line!.rest]
}

describe('a blanket order', () => {
  /*
   * By hand: 1 200 pieces are agreed. 30 cartons are 360; 24 pieces at 6.00 ÷ 12 = 0.50 are 12.00. 816 are left.
   */
  it('is called off in any unit of the item at its price, and shows what is left', async () => {
    const { id, number, lineId } = await agreed('BK-CALLED')
    const first = await called(id, lineId, '30')
    expect(await loadPurchase(first.id)).toMatchObject({
      total: '18000',
      note: `Call-off from ${number}, your number FR-1`,
      lines: [{ entered: '30', price: '6', dueOn: '2026-11-02', blanket: { id, number } }],
    })
    const second = await called(id, lineId, '24', 'piece')
    expect(await loadPurchase(second.id)).toMatchObject({ total: '1200', lines: [{ price: '0.5' }] })
    expect(await left(id)).toEqual(['384', '0', '816'])
    const { rows: listed } = await listBlankets(BlanketQuery.parse({ search: number }))
    expect(listed).toMatchObject([{ number, calledPercent: 32, summary: '100 carton BK-CALLED' }])
  })

  it('gets back what is cancelled or given up, and counts what came', async () => {
    const { id, lineId } = await agreed('BK-BACK')
    const first = await called(id, lineId, '10')
    const second = await called(id, lineId, '10')
    await inTransaction((tx) => cancelPurchase(tx, owner, first.id, { version: 1 }))
    expect(await left(id)).toEqual(['120', '0', '1080'])
    const { lines } = await loadPurchase(second.id)
    await inTransaction((tx) =>
      receive(tx, owner, second.id, {
        version: 1,
        packingList: '',
        lines: [
          {
            lineId: lines[0]!.id,
            quantity: typedQuantity('50'),
            unit: 'piece',
            binId: here.shelf,
            lot: '',
            expiresOn: null,
          },
        ],
      }),
    )
    expect(await left(id)).toEqual(['120', '50', '1080'])
    await inTransaction((tx) => closeShort(tx, owner, second.id, { version: 2, lineId: lines[0]!.id, open: false }))
    expect(await left(id)).toEqual(['50', '50', '1150'])
  })

  it('refuses more than is left, a day outside its period, and anything once it is ended', async () => {
    const { id, number, lineId } = await agreed('BK-REFUSED')
    expect((await refusalOf(() => called(id, lineId, '101'))).fields).toEqual({
      'lines.0.quantity': '1 200 pc of BK-REFUSED are left of it.',
    })
    expect((await refusalOf(() => called(id, lineId, '1', 'carton', '2027-01-04'))).fields!.dueOn).toMatch(
      new RegExp(`^${number} holds from 1 Oct until 31 Dec`),
    )
    const { version } = await loadBlanket(db, id)
    await inTransaction((tx) => endBlanket(tx, owner, id, version))
    expect((await refusalOf(() => called(id, lineId, '1'))).code).toBe('not-now')
  })

  it('refuses a period that ends before it begins', async () => {
    const item = await make('BK-PERIOD')
    const refusal = await refusalOf((tx) =>
      createBlanket(tx, owner, {
        supplierId,
        reference: '',
        fromOn: '2026-12-01',
        untilOn: '2026-11-01',
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('1'), unit: 'piece', price: '1' }],
      }),
    )
    expect(Object.keys(refusal.fields!)).toEqual(['untilOn'])
  })
})
