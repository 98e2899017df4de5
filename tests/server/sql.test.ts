import { sql, type SQL } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import {
  anyOf,
  anywhere,
  beginningWith,
  freeQuantity,
  GROUP_ANCESTORS,
  groupsBelow,
  isLive,
} from '~~/server/database/sql'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { correct } from '~~/server/services/stock/correct'
import { Correction } from '~~/shared/stock/requests'
import { idOf, owner, withDemo } from './database'

withDemo()

const texts = async (query: SQL): Promise<string[]> => (await rows<{ text: string }>(db, query)).map((row) => row.text)

describe('groups', () => {
  // demo/groups.csv: MATERIALS holds CLOTH, which holds LEATHER; GOODS holds BOOKS, which holds ALBUMS.
  it.each([
    ['LEATHER', ['LEATHER']],
    ['CLOTH', ['CLOTH', 'LEATHER']],
    ['GOODS', ['ALBUMS', 'BOOKS', 'GOODS', 'KITS', 'PARTS']],
  ])('below %s', async (code, below) => {
    const found = await texts(
      sql`select code as text from item_groups where id in ${groupsBelow(sql`code = ${code}`)} order by 1`,
    )
    expect(found).toEqual(below)
  })

  it('above ALBUMS, nearest first', async () => {
    const found = await texts(sql`
      select g.code || ' ' || a.height as text
      from ${GROUP_ANCESTORS} a
      join item_groups g on g.id = a.ancestor
      where a.id = ${await idOf('item_groups', 'ALBUMS')}
      order by a.height`)
    expect(found).toEqual(['ALBUMS 0', 'BOOKS 1', 'GOODS 2'])
  })
})

describe('one of many', () => {
  it.each([
    ['numbers', anyOf(sql`x`, [2, 3]), ['2', '3']],
    ['texts', anyOf(sql`x::text`, ['1', '9']), ['1']],
    ['none', anyOf(sql`x`, []), []],
  ])('%s', async (_, condition, expected) => {
    expect(await texts(sql`select x::text as text from generate_series(1, 4) x where ${condition} order by x`)).toEqual(
      expected,
    )
  })
})

describe('what is searched for stands as it was typed', () => {
  const words = sql`(values ('50 %'), ('50 pc'), ('a_b'), ('axb'), ('c:\\d')) as v(word)`
  it.each([
    ['%', ['50 %']],
    ['_', ['a_b']],
    ['\\', ['c:\\d']],
    ['50', ['50 %', '50 pc']],
  ])('%s anywhere', async (text, found) => {
    expect(await texts(sql`select word as text from ${words} where word like ${anywhere(text)} order by word`)).toEqual(
      found,
    )
  })

  it('at the beginning', async () => {
    expect(await texts(sql`select word as text from ${words} where word like ${beginningWith('a_')}`)).toEqual(['a_b'])
  })
})

describe('goods', () => {
  it('are free where they are available, not allocated, and their bin is open; at one site or at all', async () => {
    const itemId = await idOf('items', 'THREAD')
    const [site] = await rows<{ id: number }>(db, sql`select id from sites order by id limit 1`)
    const asked = sql`${itemId}::int`
    const [before] = await texts(sql`select ${freeQuantity(asked, sql`${site!.id}::int`)}::text as text`)
    await rows(
      db,
      sql`
        update balances
        set allocated = allocated + 1
        where id = (select min(id) from balances where item_id = ${itemId} and status = 'available' and on_hand > allocated)`,
    )
    const [after] = await texts(sql`select ${freeQuantity(asked, sql`${site!.id}::int`)}::text as text`)
    expect(Number(before) - Number(after)).toBe(1)
    expect(await texts(sql`select ${freeQuantity(sql`-1`)}::text as text`)).toEqual(['0'])
  })

  it('were moved by acts that count: neither those that were taken back, nor the taking back', async () => {
    const live = async (): Promise<number> =>
      (await texts(sql`select o.id::text as text from postings o where ${isLive('o')}`)).length
    const before = await live()
    const { postingId } = await inTransaction(async (tx) =>
      correct(
        tx,
        owner,
        Correction.omit({ key: true }).parse({
          itemId: await idOf('items', 'BAND'),
          binId: await idOf('places', 'SHELF-A'),
          direction: 'more',
          quantity: '2',
          unit: 'piece',
          reason: 'found',
          unitCost: '0.10',
        }),
      ),
    )
    expect(await live()).toBe(before + 1)
    await inTransaction((tx) => reverse(tx, owner, postingId))
    expect(await live()).toBe(before)
  })
})
