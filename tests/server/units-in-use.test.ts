import { beforeAll, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { sql } from 'drizzle-orm'
import { inTransaction } from '~~/server/database/transactions'
import { changeItem, loadItem } from '~~/server/services/catalogue/items'
import { loadDefinition, saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { openImport } from '~~/server/services/catalogue/tables/batches'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { revise } from '~~/server/services/structure/bills'
import { ItemEdit } from '~~/shared/catalogue/item'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

/** Felt held in feet and bought in square feet: 15 ft wide, as it was first typed. */
const FELT = {
  stockUnit: 'ft',
  buyingUnit: 'ft2',
  sellingUnit: 'ft',
  finestStep: '0.01',
  relations: [{ unit: 'ft', per: '15', ofUnit: 'ft2' }],
}
let felt = 0
let order = ''
beforeAll(async () => {
  felt = await make('FELT-WIDE', FELT)
  await open(felt, '133', '2.00', { unit: 'ft' })
  const purchase = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId: 1,
      note: '',
      lines: [{ itemId: felt, quantity: typedQuantity('300'), unit: 'ft2', price: '0.30', dueOn: '2026-10-20' }],
    }),
  )
  order = (await rows<{ number: string }>(db, sql`select number from purchase_orders where id = ${purchase.id}`))[0]!
    .number
})

const edit = async (id: number, fields: object) => {
  const item = await loadItem(id)
  return { id, version: item.version, definition: ItemEdit.parse({ ...item, ...fields }) }
}
const narrower = { relations: [{ unit: 'ft', per: '12', ofUnit: 'ft2' }] }

// 133 ft × 15 = 1 995 ft², × 12 = 1 596 ft²; 300 ft² ÷ 15 = 20 ft, × 12 = 240 ft².
it('a width that stock and orders are counted by is changed with a yes, after what it does was shown', async () => {
  const change = await edit(felt, narrower)
  const refusal = await refusalOf((tx) => changeItem(tx, owner, change, { confirmed: false }))
  expect(refusal.code).toBe('needs-yes')
  expect(refusal.problem.effects).toEqual([
    'FELT-WIDE: 133 ft in stock are 1 995 ft² now, then 1 596 ft².',
    `FELT-WIDE: 20 ft on ${order} are 300 ft² now, then 240 ft².`,
  ])
  expect((await loadItem(felt)).relations).toEqual(FELT.relations)

  await inTransaction((tx) => changeItem(tx, owner, change, { confirmed: true }))
  expect((await loadItem(felt)).relations).toEqual(narrower.relations)
})

it('a bill that says it in that unit needs another quantity', async () => {
  const banner = await make('BANNER')
  const { id } = await inTransaction((tx) => revise(tx, owner, banner, null))
  const { id: own, version, ...bill } = await loadDefinition(db, 'bills', id)
  const line = { itemId: felt, quantity: '6', unit: 'ft2' }
  await inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), {
      id: own,
      version,
      definition: schemaOf('bills').parse({ ...bill, lines: [line] }),
    }),
  )
  const change = await edit(felt, { relations: [{ unit: 'ft', per: '10', ofUnit: 'ft2' }] })
  const refusal = await refusalOf((tx) => changeItem(tx, owner, change, { confirmed: false }))
  // 6 ÷ 12 = 0.5 ft; 6 ÷ 10 = 0.6 ft.
  expect(refusal.effects?.at(-1)).toMatch(/^FELT-WIDE: the bill of BANNER.* takes 6 ft²: 0\.5 ft now, then 0\.6 ft\.$/)
})

it('a file says the same before it is taken in', async () => {
  const preview = await openImport(owner, {
    table: 'item-units',
    fileName: 'item-units.csv',
    content: Buffer.from('item,unit,holds,of\nFELT-WIDE,ft,8,ft2\n').toString('base64'),
  })
  expect(preview.faults).toEqual([])
  expect(preview.effects[0]).toBe('FELT-WIDE: 133 ft in stock are 1 596 ft² now, then 1 064 ft².')
})

it('a pack more, and any change where nothing uses it, ask nothing', async () => {
  const added = await edit(felt, {
    relations: [...(await loadItem(felt)).relations, { unit: 'carton', per: '30', ofUnit: 'ft' }],
  })
  await inTransaction((tx) => changeItem(tx, owner, added, { confirmed: false }))
  const unused = await make('FELT-UNUSED', FELT)
  const free = await edit(unused, narrower)
  await inTransaction((tx) => changeItem(tx, owner, free, { confirmed: false }))
})

it('the stock unit stays where an order counts in it, though nothing has moved', async () => {
  const tape = await make('TAPE-ORDERED', { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.01' })
  await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId: 1,
      note: '',
      lines: [{ itemId: tape, quantity: typedQuantity('10'), unit: 'm', price: '1', dueOn: '2026-10-20' }],
    }),
  )
  const change = await edit(tape, { stockUnit: 'cm' })
  const refusal = await refusalOf((tx) => changeItem(tx, owner, change, { confirmed: true }))
  expect(refusal.fields?.stockUnit).toBe(
    'Orders, builds or forecasts count it in its stock unit, so that stays. Make a new item in the other unit.',
  )
  expect(await idOf('items', 'TAPE-ORDERED')).toBe(tape)
})
