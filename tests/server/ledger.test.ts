import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, pool, rows, type Tx } from '~~/server/database/client'
import { inTransaction, once } from '~~/server/database/transactions'
import { correct, moveStock } from '~~/server/services/stock/correct'
import { checkLedger } from '~~/server/ledger/check'
import { Refusal } from '~~/server/utils/refusal'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'

withDemo()
let fin = 0
let shelf = 0
beforeAll(async () => {
  fin = await idOf('places', 'FIN')
  shelf = await idOf('places', 'SHELF-A')
})

const less = async (
  code: string,
  quantity: string,
  binId: number,
  lot = '',
): Promise<Parameters<typeof correct>[2]> => ({
  itemId: await idOf('items', code),
  binId,
  lot,
  direction: 'less',
  quantity: typedQuantity(quantity),
  unit: 'piece',
  reason: 'sample',
  unitCost: '',
  expiresOn: null,
})
/** A correction as its route answers it. */
const only = (edit: Parameters<typeof correct>[2]) => async (tx: Tx) => ({
  postingId: (await correct(tx, owner, edit)).postingId,
})
const count = async (table: string): Promise<number> =>
  (await rows<{ n: number }>(db, sql`select count(*)::int as n from ${sql.identifier(table)}`))[0]!.n

describe('the ledger only grows', () => {
  it.each([
    'update moves set quantity = quantity + 1 where id = 1',
    'delete from moves where id = 1',
    'truncate moves cascade',
    "update postings set label = 'x' where id = 1",
    'delete from postings where id = 1',
  ])('the database itself refuses: %s', async (statement) => {
    await expect(pool.query(statement)).rejects.toThrow(/The ledger only grows|permission denied/)
  })
  it('even to a superuser who is granted everything back', async () => {
    await pool.query('grant all on moves to current_user')
    await expect(pool.query('update moves set quantity = 1 where id = 1')).rejects.toThrow(
      'The ledger only grows: update of moves is refused. Reverse it with a counter-entry.',
    )
    await expect(pool.query('truncate moves cascade')).rejects.toThrow('The ledger only grows')
  })
  it.each(['on_hand = -1', 'allocated = on_hand + 1', 'allocated = -1'])(
    'a balance with %s is refused by its check',
    async (change) => {
      await expect(
        pool.query(`update balances set ${change} where id = (select min(id) from balances where on_hand > 0)`),
      ).rejects.toThrow(/balances_(on_hand|allocated)/)
    },
  )
})

describe('postings', () => {
  it('two at once for the last five: one succeeds, the other is told; nothing goes below zero', async () => {
    const edit = await less('KIT-FIRST', '5', fin)
    const results = await Promise.allSettled([1, 2].map(() => inTransaction((tx) => correct(tx, owner, edit))))
    const refused = results.flatMap((r) => (r.status === 'rejected' ? [r.reason as Refusal] : []))
    expect(results.filter((r) => r.status === 'fulfilled')).toHaveLength(1)
    expect(refused).toHaveLength(1)
    expect(refused[0]).toBeInstanceOf(Refusal)
    expect(refused[0]!.detail).toBe(
      'KIT-FIRST First binding kit: 5 pc wanted from Finished goods, but only 0 pc is free there. There is none elsewhere.',
    )
    expect(await onHand('KIT-FIRST')).toBe('0')
  })
  it('the same key sent five times at once counts once, and gives the first answer again', async () => {
    const key = randomUUID()
    const edit = await less('AWL', '2', shelf)
    const before = await count('postings')
    const answers = await Promise.all(Array.from({ length: 5 }, () => once(owner, key, only(edit))))
    expect(new Set(answers.map((a) => a.postingId)).size).toBe(1)
    expect(await count('postings')).toBe(before + 1)
    expect(await onHand('AWL')).toBe('7')
  })
  it('another person cannot use a key that was used', async () => {
    const key = randomUUID()
    const edit = await less('WAX', '1', shelf)
    await once(owner, key, only(edit))
    await expect(once({ ...owner, userId: 2 }, key, only(edit))).rejects.toThrow('another person')
  })
  it('forty in parallel on three items give the totals of one by one, and the balances equal the moves', async () => {
    const items = ['BONE', 'WAX', 'NEEDLE']
    const before = await Promise.all(items.map(onHand))
    const acts = Array.from({ length: 40 }, (_, i) => i)
    const edits = await Promise.all(
      acts.map(async (i) => ({
        ...(await less(items[i % 3]!, '1', shelf)),
        direction: i % 4 === 0 ? ('more' as const) : ('less' as const),
      })),
    )
    const results = await Promise.allSettled(edits.map((edit) => inTransaction((tx) => correct(tx, owner, edit))))
    const after = await Promise.all(items.map(onHand))
    for (const [index, code] of items.entries()) {
      const done = edits.filter((_, i) => items[i % 3] === code && results[i]!.status === 'fulfilled')
      const moved = done.reduce((sum, edit) => sum + (edit.direction === 'more' ? 1 : -1), 0)
      expect(Number(after[index])).toBe(Number(before[index]) + moved)
    }
    expect(results.every((r) => r.status === 'fulfilled' || r.reason instanceof Refusal)).toBe(true)
    expect(await checkLedger()).toEqual([])
  })
  it('a move from bin to bin changes no value, and refuses the bin it comes from', async () => {
    const itemId = await idOf('items', 'NB-A5-RED')
    const value = await valueOf('NB-A5-RED')
    const edit = { itemId, fromBinId: fin, toBinId: shelf, lot: 'B-0874', quantity: typedQuantity('4'), unit: 'piece' }
    await inTransaction((tx) => moveStock(tx, owner, edit))
    expect([await onHand('NB-A5-RED'), await valueOf('NB-A5-RED')]).toEqual(['14', value])
    expect((await refusalOf((tx) => moveStock(tx, owner, { ...edit, toBinId: fin }))).fields).toHaveProperty('toBinId')
    const short = await refusalOf((tx) => moveStock(tx, owner, { ...edit, quantity: typedQuantity('12') }))
    expect(short.detail).toContain(
      '12 pc wanted from Finished goods, lot B-0874, but only 10 pc is free there. Also free: 4 pc at Shelf A, lot B-0874.',
    )
  })
})

describe('a correction upwards', () => {
  // 64 text blocks are worth 326.40, 5.10 each (the demo's opening stock).
  const more = async (quantity: string, unitCost: string): Promise<Parameters<typeof correct>[2]> => ({
    ...(await less('BLOCK-A5', quantity, shelf)),
    direction: 'more',
    reason: 'found',
    unitCost,
  })
  it('without a cost comes in at the average: 10 more are worth 51.00', async () => {
    await inTransaction(async (tx) => correct(tx, owner, await more('10', '')))
    expect([await onHand('BLOCK-A5'), await valueOf('BLOCK-A5')]).toEqual(['74', '37740'])
  })
  it('more than there was still comes in at the average: 80 are worth 408.00', async () => {
    await inTransaction(async (tx) => correct(tx, owner, await more('80', '')))
    expect([await onHand('BLOCK-A5'), await valueOf('BLOCK-A5')]).toEqual(['154', '78540'])
  })
  it('with a cost comes in at it, for the unit that was typed: 1 dozen at 60.00 is 60.00', async () => {
    await inTransaction(async (tx) => correct(tx, owner, { ...(await more('1', '60')), unit: 'dozen' }))
    expect([await onHand('BLOCK-A5'), await valueOf('BLOCK-A5')]).toEqual(['166', '84540'])
  })
  it('of an item that has no value yet comes in at nothing, and the last goods out take what is left', async () => {
    const edit = { ...(await more('3', '')), itemId: await idOf('items', 'CASE-A4') }
    await inTransaction((tx) => correct(tx, owner, edit))
    expect([await onHand('CASE-A4'), await valueOf('CASE-A4')]).toEqual(['3', '0'])
    await inTransaction((tx) => correct(tx, owner, { ...edit, direction: 'less' }))
    expect([await onHand('CASE-A4'), await valueOf('CASE-A4')]).toEqual(['0', '0'])
  })
})
