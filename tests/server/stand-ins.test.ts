import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { substitute } from '~~/server/services/workshop/build-lines'
import { createBuild } from '~~/server/services/workshop/builds'
import { loadBuild } from '~~/server/services/workshop/read-build'
import { BillEdit } from '~~/shared/structure/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const METRES = { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.0001' }
let [grey, linen, cover, id] = [0, 0, 0, 0]
beforeAll(async () => {
  grey = await make('SI-GREY', METRES)
  linen = await make('SI-LINEN', METRES)
  cover = await make('SI-COVER', { source: 'made', makingUnit: 'piece' })
  // A metre of linen, which is wider, replaces 1.0606 m of grey: said of the item, not of the bill.
  await rows(
    db,
    sql`
      insert into item_substitutes (item_id, substitute_id, numerator, denominator)
      values (${grey}, ${linen}, 10606, 10000)`,
  )
  await open(linen, '20', '4.00', { unit: 'm' })
  await inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), {
      id: null,
      version: null,
      definition: BillEdit.parse({
        itemId: cover,
        fromOn: '2026-01-01',
        batchUnit: 'piece',
        lines: [{ itemId: grey, quantity: '1', unit: 'm' }],
      }),
    }),
  )
  id = (
    await inTransaction((tx) =>
      createBuild(tx, owner, { itemId: cover, quantity: ratio('10'), unit: 'piece', dueOn: '2026-10-09' }),
    )
  ).id
})
const line = async () => (await loadBuild(id, owner.today)).components[0]!
const standIn = async (itemId: number, quantity: string, unit = 'm') => ({
  version: (await loadBuild(id, owner.today)).version,
  lineId: (await line()).id,
  itemId,
  quantity: typedQuantity(quantity),
  unit,
})

describe('a substitute of the item', () => {
  it('is offered in a build whose bill says nothing of it', async () => {
    const offered = (await line()).remedies.filter((remedy) => remedy.kind === 'substitute')
    expect(offered).toMatchObject([{ code: 'SI-LINEN', free: '20' }])
  })
  it('replaces by its ratio: 2.5 m of it stand for 2.6515 m', async () => {
    const edit = await standIn(linen, '2.5')
    await inTransaction((tx) => substitute(tx, owner, id, edit))
    const { components } = await loadBuild(id, owner.today)
    expect(components.map((component) => [component.code, component.need])).toEqual([
      ['SI-GREY', '7.3485'],
      ['SI-LINEN', '2.5'],
    ])
  })
  it('a service stands in for nothing', async () => {
    const service = await idOf('items', 'ENGRAVE').catch(() => make('SI-SERVICE', { kind: 'service' }))
    const edit = await standIn(service, '1', 'piece')
    expect((await refusalOf((tx) => substitute(tx, owner, id, edit))).detail).toMatch(
      /is a service, which is not taken from stock\.$/,
    )
  })
  it('a quantity that no plan can reckon with is refused where it is given', async () => {
    const edit = await standIn(linen, `1${'0'.repeat(300)}`)
    const refused = await refusalOf((tx) => substitute(tx, owner, id, edit))
    expect(refused.fields).toEqual({
      quantity: 'That is more than is reckoned with here. Look for a digit too many, or use a larger unit.',
    })
  })
})
