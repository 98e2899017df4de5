import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { typedQuantity } from '~~/core/units/quantity'
import { db, pool, rows } from '~~/server/database/client'
import { once } from '~~/server/database/transactions'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { correct } from '~~/server/services/stock/correct'
import { best, type Figure } from './figure'

const POSTINGS = 200

/** Postings a second against PostgreSQL with fsync on, beside the least that any transaction costs there. */
export async function* run(): AsyncGenerator<Figure> {
  await prepareDatabase('demo')
  const found = await rows<{ id: number }>(
    db,
    sql`select id from items where code in ('BONE', 'WAX', 'NEEDLE', 'AWL') order by id`,
  )
  const [bin] = await rows<{ id: number }>(db, sql`select id from places where code = 'SHELF-A'`)
  const actor = { userId: 1, name: 'Bench', role: 'owner' as const, today: '2026-10-05' }
  const moveOf = (i: number) =>
    once(actor, randomUUID(), async (tx) => ({
      postingId: (
        await correct(tx, actor, {
          itemId: found[i % found.length]!.id,
          binId: bin!.id,
          lot: '',
          direction: 'more',
          quantity: typedQuantity('1'),
          unit: 'piece',
          reason: 'found',
          unitCost: '1',
          expiresOn: null,
        })
      ).postingId,
    }))
  const inTurn = await best(1, async () => {
    for (let i = 0; i < POSTINGS; i++) {
      await moveOf(i)
    }
  })
  const together = await best(1, () =>
    Promise.all(
      Array.from({ length: 8 }, async (_, lane) => {
        for (let i = 0; i < POSTINGS / 8; i++) {
          await moveOf(lane + i)
        }
      }),
    ),
  )
  await pool.query('create table bench_rows (id int generated always as identity, text text)')
  const plain = await best(1, async () => {
    for (let i = 0; i < POSTINGS; i++) {
      await pool.query('insert into bench_rows (text) values ($1)', ['x'])
    }
  })
  await pool.end()
  yield* [
    {
      bench: 'ledger',
      figure: 'postings one after the other',
      value: (POSTINGS / inTurn) * 1000,
      unit: 'a second',
      comparedWith: `one-row inserts (${((POSTINGS / plain) * 1000).toFixed(0)} a second)`,
      ratio: plain / inTurn,
    },
    {
      bench: 'ledger',
      figure: 'postings by eight at once',
      value: (POSTINGS / together) * 1000,
      unit: 'a second',
      comparedWith: 'one after the other',
      ratio: inTurn / together,
    },
  ]
}
