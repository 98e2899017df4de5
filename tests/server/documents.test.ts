import { eq, sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { changes, salesOrders } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { lockAsSeen, lockDocument, nextNumber, requireStatus, saveDocument } from '~~/server/documents'
import { createOrder } from '~~/server/services/demand/orders'
import { ratio } from '~~/core/units/exact'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

let id = 0
beforeAll(async () => {
  const [customerId, itemId] = [await idOf('customers', 'LARK'), await idOf('items', 'NB-POCKET')]
  const line = { id: null, itemId, quantity: ratio(3), unit: 'piece', price: '9' }
  const order = { customerId, dueOn: '2026-10-20', note: 'as it was', lines: [line] }
  id = (await inTransaction((tx) => createOrder(tx, owner, order))).id
})

const stored = async () => (await db.select().from(salesOrders).where(eq(salesOrders.id, id)))[0]!
const history = () =>
  db
    .select({ before: changes.before, after: changes.after, userId: changes.userId })
    .from(changes)
    .where(sql`${changes.entity} = 'sales order' and ${changes.entityId} = ${String(id)}`)
    .orderBy(changes.id)

describe('a document', () => {
  it('that is not there is said by its kind', async () => {
    for (const kind of ['sales order', 'cutting job', 'lot', 'plan'] as const) {
      const refused = await refusalOf((tx) => lockDocument(tx, kind, 999_999))
      expect([refused.code, refused.detail]).toEqual(['not-found', `There is no such ${kind}.`])
    }
  })

  it('is saved with its next version, and who changed what is noted', async () => {
    const before = await stored()
    const saved = await inTransaction(async (tx) => {
      const order = await lockAsSeen(tx, 'sales order', id, before.version, ['open'])
      return saveDocument(tx, owner, 'sales order', order, {
        set: { note: 'as it is', dueOn: '2026-10-21' },
        before: { lines: 1 },
        after: { lines: 2 },
      })
    })
    expect(saved.version).toBe(before.version + 1)
    expect(await stored()).toEqual({ ...before, note: 'as it is', dueOn: '2026-10-21', version: before.version + 1 })
    expect((await history()).at(-1)).toEqual({
      userId: owner.userId,
      before: { note: 'as it was', dueOn: '2026-10-20', lines: 1, version: before.version },
      after: { note: 'as it is', dueOn: '2026-10-21', lines: 2, version: before.version + 1 },
    })
  })

  it('that somebody changed meanwhile is refused with what has changed, and stays as it is', async () => {
    const now = await stored()
    const refused = await refusalOf((tx) => lockAsSeen(tx, 'sales order', id, now.version - 1))
    expect(refused.code).toBe('stale-version')
    expect(refused.detail).toBe(
      'This was changed since you opened it: Ines Hartwell changed note, due on, lines. Reload to see it; nothing of yours was saved.',
    )
    expect(await stored()).toEqual(now)
  })

  it('in another status is refused with the status that it is in', async () => {
    const { version, number } = await stored()
    await inTransaction(async (tx) => {
      const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
      await saveDocument(tx, owner, 'sales order', order, { set: { status: 'shipped' } })
    })
    const refused = await refusalOf((tx) => lockAsSeen(tx, 'sales order', id, version + 1, ['open']))
    expect([refused.code, refused.detail]).toEqual(['not-now', `${number} is shipped already.`])
  })

  it('that an act fails on keeps its version, and nothing is noted', async () => {
    const [before, noted] = [await stored(), await history()]
    const failing = inTransaction(async (tx) => {
      await saveDocument(tx, owner, 'sales order', await lockDocument(tx, 'sales order', id), { set: { note: 'lost' } })
      await rows(tx, sql`select 1 / 0`)
    })
    await expect(failing).rejects.toThrow()
    expect([await stored(), await history()]).toEqual([before, noted])
  })

  it('is changed by two at once, one after the other: the second is told', async () => {
    const { version } = await stored()
    const change = (note: string) =>
      inTransaction(async (tx) => {
        const order = await lockAsSeen(tx, 'sales order', id, version)
        return saveDocument(tx, owner, 'sales order', order, { set: { note } })
      })
    const answers = await Promise.allSettled([change('first'), change('second')])
    expect(answers.map((answer) => answer.status).sort()).toEqual(['fulfilled', 'rejected'])
    expect((await stored()).version).toBe(version + 1)
  })
})

it.each([
  ['B-0001', 'draft', 'B-0001 is a draft still.'],
  ['BD-0002', 'planned', 'BD-0002 is planned still.'],
  ['T-0003', 'done', 'T-0003 is done already.'],
])('%s that is %s is said so: %s', (number, status, detail) => {
  expect(() => requireStatus({ number, status }, ['started'])).toThrow(detail)
  expect(() => requireStatus({ number, status }, [status])).not.toThrow()
})

it('numbers follow each other, also where two ask at once', async () => {
  const asked = await Promise.all(Array.from({ length: 5 }, () => inTransaction((tx) => nextNumber(tx, 'TEST'))))
  expect(asked.sort()).toEqual(['TEST-0001', 'TEST-0002', 'TEST-0003', 'TEST-0004', 'TEST-0005'])
})
