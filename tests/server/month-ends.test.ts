import { sql } from 'drizzle-orm'
import { expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { inTransaction } from '~~/server/database/transactions'
import { listBalances } from '~~/server/services/stock/queries'
import { mendLedger } from '~~/server/ledger/check'
import { reverse } from '~~/server/ledger/reverse'
import { StockQuery } from '~~/shared/stock/requests'
import { owner, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const DAYS = [
  '2026-06-15',
  '2026-07-31',
  '2026-08-01',
  '2026-08-30',
  '2026-08-31',
  '2026-09-01',
  '2026-09-24',
  '2026-09-30',
  '2026-10-01',
  '2026-10-04',
]
const lay = async (asOf: string, more: object = {}): Promise<string[]> =>
  (await listBalances(StockQuery.parse({ asOf, size: 200, ...more }))).rows.map(
    (row) => `${row.code} ${row.bin} ${row.lot ?? ''} ${row.piece ?? ''} ${row.status} ${Number(row.onHand)}`,
  )
const kept = async (): Promise<string[]> =>
  (await rows<{ month: string }>(db, sql`select month from month_ends order by month`)).map((row) => row.month)

it('what lay where on a day is the same by the months that are kept as by all that has moved since', async () => {
  const item = await make('ME-ITEM')
  await open(item, '10', '1.00', { effectiveOn: '2026-06-10' })
  await open(item, '5', '1.00', { effectiveOn: '2026-07-31', binId: here.rack })
  const { postingId } = await open(item, '7', '1.00', { effectiveOn: '2026-08-15' })
  await inTransaction((tx) => reverse(tx, owner, postingId))
  const all = async (): Promise<string[][]> =>
    Promise.all(DAYS.flatMap((day) => [lay(day), lay(day, { site: here.workshop }), lay(day, { search: 'ME-' })]))
  const before = await all()
  expect(before[2]).toEqual(['ME-ITEM Shelf A   available 10'])
  expect(before[5]).toEqual(['ME-ITEM Cloth rack   available 5', 'ME-ITEM Shelf A   available 10'])
  await keepMonthEnds(owner.today)
  expect(await kept()).toEqual(['2026-06-30', '2026-07-31', '2026-08-31', '2026-09-30'])
  expect(await all()).toEqual(before)
  // What moves today leaves them as they are; what is entered late has those from its day on forgotten, and is seen at
  // once.
  await open(item, '4', '1.00')
  expect((await kept()).length).toBe(4)
  await open(item, '3', '1.00', { effectiveOn: '2026-07-15' })
  expect(await kept()).toEqual(['2026-06-30'])
  expect(await lay('2026-07-20', { search: 'ME-' })).toEqual(['ME-ITEM Shelf A   available 13'])
  await keepMonthEnds(owner.today)
  expect(await kept()).toEqual(['2026-06-30', '2026-07-31', '2026-08-31', '2026-09-30'])
  expect(await lay('2026-07-20', { search: 'ME-' })).toEqual(['ME-ITEM Shelf A   available 13'])
  expect(await lay('2026-08-20', { search: 'ME-' })).toEqual([
    'ME-ITEM Cloth rack   available 5',
    'ME-ITEM Shelf A   available 20',
  ])
})

it('a month is kept once it is over for two days, and what is long past is given up', async () => {
  await rows(db, sql`delete from month_ends`)
  await keepMonthEnds('2026-09-01')
  expect(await kept()).toEqual(['2026-06-30', '2026-07-31'])
  await keepMonthEnds('2026-09-02')
  expect(await kept()).toEqual(['2026-06-30', '2026-07-31', '2026-08-31'])
  await keepMonthEnds('2028-12-01')
  expect((await kept())[0]! > '2026-08-31').toBe(true)
  expect(await rows(db, sql`select 1 from month_balances where month <= '2026-08-31'`)).toEqual([])
})

it('balances that had to be mended have every month end worked out anew', async () => {
  await rows(
    db,
    sql`update balances set on_hand = on_hand + 1 where id = (select min(id) from balances where on_hand > 0)`,
  )
  expect((await inTransaction((tx) => mendLedger(tx, owner))).left).toEqual([])
  expect(await kept()).toEqual([])
})
