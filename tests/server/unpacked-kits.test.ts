import { sql } from 'drizzle-orm'
import { expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkLedger } from '~~/server/ledger/check'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { kitToUnkit, unkit } from '~~/server/services/workshop/unkit'
import { BillEdit } from '~~/shared/structure/requests'
import { owner, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const liquid = { stockUnit: 'kg', buyingUnit: 'kg', sellingUnit: 'kg', finestStep: '0.001' }
const defineBill = (bill: object) =>
  inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), { id: null, version: null, definition: BillEdit.parse(bill) as never }),
  )

it('unpacked kits give their parts back to the lots and pieces that they were packed from, each once; what nobody knows is of an unknown lot, on hold and without a date', async () => {
  const wax = await make('WU-WAX', { ...liquid, tracking: 'lot', shelfLifeDays: 90 })
  const hide = await make('WU-HIDE', { tracking: 'piece' })
  const kit = await make('WU-KIT', { source: 'kit', kitPolicy: 'sealed' })
  await defineBill({
    itemId: kit,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [
      { itemId: wax, quantity: typedQuantity('1'), unit: 'kg' },
      { itemId: hide, quantity: typedQuantity('1'), unit: 'piece' },
    ],
  })
  const traits = { 'dye lot': '77' }
  const packed = async (lot: string, piece: string): Promise<void> => {
    await open(wax, '1', '8.00', { unit: 'kg', lot, effectiveOn: '2026-09-01' })
    await open(hide, '1', '5.00', { piece, traits })
    const { id } = await inTransaction((tx) =>
      createBuild(tx, owner, {
        itemId: kit,
        quantity: typedQuantity('1'),
        unit: 'piece',
        dueOn: '2026-10-06',
        siteId: here.workshop,
      }),
    )
    await inTransaction((tx) =>
      completeBuild(tx, owner, id, { version: 1, binId: here.shelf, lot: '', expiresOn: null }),
    )
  }
  const unpackOne = async (): Promise<void> => {
    const balanceId = (await kitToUnkit(kit, owner.today)).choices[0]!.balanceId
    const edit = {
      itemId: kit,
      balanceId,
      quantity: typedQuantity('1'),
      unit: 'piece',
      binId: here.shelf,
      damaged: [],
    }
    await inTransaction((tx) => unkit(tx, owner, edit))
  }
  await packed('OLD', 'H-1')
  await packed('NEW', 'H-2')
  // A third kit was there before the books began: nobody knows what is in it.
  await open(kit, '1', '13.00')
  await unpackOne()
  expect([await balanceTexts(wax), await balanceTexts(hide)]).toEqual([
    ['Shelf A (NEW) 1 available'],
    ['Shelf A H-2 1 available'],
  ])
  await unpackOne()
  await unpackOne()
  expect(await balanceTexts(wax)).toEqual([
    'Shelf A (NEW) 1 available',
    'Shelf A (OLD) 1 available',
    'Shelf A (unknown lot) 1 on hold',
  ])
  expect((await balanceTexts(hide)).map((text) => text.replace(/WU-HIDE-\d+/, '…'))).toEqual(
    expect.arrayContaining(['Shelf A H-1 1 available', 'Shelf A H-2 1 available']),
  )
  expect(
    await rows(db, sql`select number, expires_on as expires from lots where item_id = ${wax} order by number`),
  ).toEqual([
    { number: 'NEW', expires: '2026-11-30' },
    { number: 'OLD', expires: '2026-11-30' },
    { number: 'unknown lot', expires: null },
  ])
  expect(await checkLedger()).toEqual([])
})
