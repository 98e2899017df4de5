import { sql } from 'drizzle-orm'
import { expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { closeBooks } from '~~/server/services/books/periods'
import { inTransaction } from '~~/server/services/company/command'
import { listBalances } from '~~/server/services/stock/queries'
import { reverse } from '~~/server/services/stock/reverse'
import { StockQuery } from '~~/shared/stock'
import { owner, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-hands'

withDemo()
withPlaces()

const DAYS = ['2026-06-15', '2026-07-31', '2026-08-01', '2026-08-30', '2026-08-31', '2026-09-01', '2026-09-24', '2026-09-30', '2026-10-01', '2026-10-04']
const lay = async (asOf: string, more: object = {}): Promise<string[]> => (await listBalances(StockQuery.parse({ asOf, size: 200, ...more }))).rows.map(row => `${row.code} ${row.bin} ${row.lot ?? ''} ${row.piece ?? ''} ${row.status} ${Number(row.onHand)}`)

it('what lay where on a day is the same by the months that are closed as by all that has moved since', async () => {
  const item = await make('ME-ITEM')
  await open(item, '10', '1.00', { effectiveOn: '2026-06-10' })
  await open(item, '5', '1.00', { effectiveOn: '2026-07-31', binId: here.rack })
  const { postingId } = await open(item, '7', '1.00', { effectiveOn: '2026-08-15' })
  await inTransaction(tx => reverse(tx, owner, postingId))
  const all = async (): Promise<string[][]> => Promise.all(DAYS.flatMap(day => [lay(day), lay(day, { site: here.workshop }), lay(day, { search: 'ME-' })]))
  const before = await all()
  expect(before[2]).toEqual(['ME-ITEM Shelf A   available 10'])
  expect(before[5]).toEqual(['ME-ITEM Cloth rack   available 5', 'ME-ITEM Shelf A   available 10'])
  await inTransaction(tx => closeBooks(tx, owner, '2026-09-30'))
  expect((await rows<{ month: string }>(db, sql`select month from month_ends order by month`)).map(row => row.month)).toEqual(['2026-06-30', '2026-07-31', '2026-08-31', '2026-09-30'])
  expect(await all()).toEqual(before)
  // A part of a month is not kept; what is opened again is forgotten.
  await inTransaction(tx => closeBooks(tx, owner, '2026-08-20'))
  expect((await rows<{ month: string }>(db, sql`select month from month_ends order by month`)).map(row => row.month)).toEqual(['2026-06-30', '2026-07-31'])
  expect(await all()).toEqual(before)
  await inTransaction(tx => closeBooks(tx, owner, null))
  expect(await rows(db, sql`select 1 from month_balances`)).toEqual([])
  // What is entered late for a month that is open again is seen.
  await open(item, '3', '1.00', { effectiveOn: '2026-07-15' })
  await inTransaction(tx => closeBooks(tx, owner, '2026-09-30'))
  expect(await lay('2026-07-20', { search: 'ME-' })).toEqual(['ME-ITEM Shelf A   available 13'])
})
