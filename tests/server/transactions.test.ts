import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { pool, rows } from '~~/server/database/client'
import { once, rehearse } from '~~/server/database/transactions'
import { noteChange } from '~~/server/documents'
import { owner, withDemo } from './database'

withDemo()

/** One statement on each connection that the pool may hold. */
const askAll = async (): Promise<unknown[]> => {
  const clients = await Promise.all(Array.from({ length: pool.options.max }, () => pool.connect()))
  const asked = await Promise.allSettled(clients.map((client) => client.query('select 1')))
  clients.forEach((client) => client.release())
  return asked.flatMap((answer) => (answer.status === 'rejected' ? [answer.reason] : []))
}

describe('an act whose very first statement fails', () => {
  const nobody = { ...owner, userId: 999_999 }

  it('is refused, and leaves every connection as good as it was', async () => {
    await expect(once(nobody, randomUUID(), async () => 'never')).rejects.toThrow()
    expect(await askAll()).toEqual([])
  })

  it('can be sent again with the same key by somebody who is there', async () => {
    const key = randomUUID()
    await expect(once(nobody, key, async () => 'never')).rejects.toThrow()
    expect(await once(owner, key, async () => 'done')).toBe('done')
  })
})

it('an act that fails midway leaves every connection as good as it was', async () => {
  const failing = once(owner, randomUUID(), (tx) => rows(tx, sql`select 1 / 0`))
  await expect(failing).rejects.toThrow()
  expect(await askAll()).toEqual([])
})

describe('a rehearsal', () => {
  it('answers what the act answers, also nothing at all, and leaves nothing behind', async () => {
    const answer = await rehearse(async (tx) => {
      await noteChange(tx, owner, { kind: 'rehearsal', id: 1 }, null, { tried: true })
      return { tried: await count(tx) }
    })
    expect(answer).toEqual({ tried: 1 })
    expect(await rehearse(async () => undefined)).toBeUndefined()
    expect((await pool.query(`select count(*)::int as n from changes where entity = 'rehearsal'`)).rows).toEqual([
      { n: 0 },
    ])
  })

  it('fails as the act fails', async () => {
    await expect(rehearse((tx) => rows(tx, sql`select 1 / 0`))).rejects.toThrow()
    expect(await askAll()).toEqual([])
  })
})

async function count(tx: Parameters<typeof noteChange>[0]): Promise<number> {
  const [found] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from changes where entity = 'rehearsal'`)
  return found!.n
}
