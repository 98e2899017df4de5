import { sql } from 'drizzle-orm'
import { beforeAll, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { loadDefinition, saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const METRES = { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.01' }
let item = 0
beforeAll(async () => {
  item = await make('STEPPED', METRES)
  await open(item, '4.5', '2.00', { unit: 'm' })
})
const withStep = async (finestStep: string) => {
  const stored = await loadDefinition(db, 'items', item)
  return { id: item, version: stored.version, definition: schemaOf('items').parse({ ...stored, finestStep }) }
}
const save = async (finestStep: string): Promise<string> => {
  const edit = await withStep(finestStep)
  await inTransaction((tx) => saveOne(tx, owner, shapeOf('items'), edit))
  const [row] = await rows<{ step: string }>(db, sql`select finest_step as step from items where id = ${item}`)
  return row!.step
}

it('becomes coarser again while all that is stored falls on it: 4.5 m on half metres', async () => {
  expect(Number(await save('0.5'))).toBe(0.5)
})
it('but not where something would fall between: 4.5 m on whole metres', async () => {
  const edit = await withStep('1')
  const refused = await refusalOf((tx) => saveOne(tx, owner, shapeOf('items'), edit))
  expect(refused.fields).toEqual({
    finestStep: '4.5 m stand in stock moves, which is no multiple of 1. A step of 0.1 holds all that is stored.',
  })
})
it('and finer at any time', async () => {
  expect(Number(await save('0.001'))).toBe(0.001)
})
