import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { pool, rows } from '~~/server/database/client'
import { findAnswer, forgetAnswers, once, rehearse } from '~~/server/database/transactions'
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

describe('a key stands for one request', () => {
  const asking = (digest: string) => ({ ...owner, digest: () => Promise.resolve(digest) })

  it('the same request gives the first answer again; another one is refused', async () => {
    const key = randomUUID()
    expect(await once(asking('three'), key, async () => ({ made: 3 }))).toEqual({ made: 3 })
    expect(await once(asking('three'), key, async () => ({ made: 99 }))).toEqual({ made: 3 })
    await expect(once(asking('two'), key, async () => ({ made: 2 }))).rejects.toThrow(
      'Something else was recorded under this act already.',
    )
  })

  it('the refusal names what was recorded: a document by its number, a posting by what it says', async () => {
    const [ordered, posted] = [randomUUID(), randomUUID()]
    const { rows: found } = await pool.query<{ id: number; label: string }>(
      'select id, label from postings order by id limit 1',
    )
    const [{ id: postingId, label } = { id: 0, label: '' }] = found
    await once(asking('three'), ordered, async () => ({ id: 7, number: 'PO-0099' }))
    await once(asking('three'), posted, async () => ({ postingId }))
    await expect(once(asking('two'), ordered, async () => null)).rejects.toThrow(
      'PO-0099 was recorded under this act already. Reload the page to see it',
    )
    await expect(once(asking('two'), posted, async () => null)).rejects.toThrow(
      `“${label}” was recorded under this act already.`,
    )
  })

  it('what became of an act is found by its key: recorded, not recorded, still under way', async () => {
    const [done, never, running] = [randomUUID(), randomUUID(), randomUUID()]
    await once(owner, done, async () => ({ made: 3 }))
    expect(await findAnswer(owner, done)).toEqual({ answer: { made: 3 } })
    expect(await findAnswer(owner, never)).toBeNull()
    expect(await once(owner, never, async () => 'still possible')).toBe('still possible')
    let finish!: () => void
    let begun!: () => void
    const hasBegun = new Promise<void>((resolve) => (begun = resolve))
    const mayEnd = new Promise<void>((resolve) => (finish = resolve))
    const act = once(owner, running, async () => {
      begun()
      await mayEnd
      return 'at last'
    })
    await hasBegun
    const found = findAnswer(owner, running)
    finish()
    expect([await act, await found]).toEqual(['at last', { answer: 'at last' }])
  })

  it('answers are forgotten after thirty days', async () => {
    const [old, young] = [randomUUID(), randomUUID()]
    await once(owner, old, async () => 1)
    await once(owner, young, async () => 1)
    await pool.query(`update answers set at = now() - interval '31 days' where key = $1`, [old])
    expect(await forgetAnswers(30)).toBe(1)
    expect([await findAnswer(owner, old), await findAnswer(owner, young)]).toEqual([null, { answer: 1 }])
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
