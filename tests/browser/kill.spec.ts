import { randomUUID } from 'node:crypto'
import { expect, test } from '@playwright/test'
import pg from 'pg'
import { PASSWORD } from './helpers'
import { ownFolder, scripts } from './own-server'

/** How many lanes send corrections at once, and for how long before somebody pulls the plug. */
const LANES = 6
const STORM_MS = 2500

test('kill -9 of the server and of PostgreSQL in a storm of postings: nothing half there, nothing acknowledged lost, balances equal moves', async () => {
  test.setTimeout(240_000)
  const root = process.cwd()
  const { startPostgres, startServer, freePort } = await scripts()
  const { folder, clear } = ownFolder('kill')
  let cluster = await startPostgres({ root: folder })
  const port = await freePort()
  const start = () =>
    startServer({
      root,
      ...cluster.urls('storm'),
      port,
      sessionPassword: 'a throw-away password of the storm test',
      begin: 'demo',
      stdio: ['ignore', 'ignore', 'ignore'],
    })
  let server = await start()
  try {
    const ask = async <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => {
      const client = new pg.Client({ connectionString: cluster.url('storm') })
      await client.connect()
      try {
        return (await client.query<T>(text, values)).rows
      } finally {
        await client.end()
      }
    }
    const base = `http://127.0.0.1:${port}`
    const sent = new Map<string, object>()
    const acknowledged = new Map<string, number>()
    const signIn = async (): Promise<string> =>
      (
        await fetch(`${base}/api/company/sign-in`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ email: 'ines@hollowmere.example', password: PASSWORD }),
        })
      ).headers
        .get('set-cookie')!
        .split(';')[0]!
    const [items, [bin]] = [
      await ask<{ id: number }>(`select id from items where code in ('BONE', 'WAX', 'NEEDLE', 'BLADE') order by id`),
      await ask<{ id: number }>(`select id from places where code = 'SHELF-A'`),
    ]
    const send = async (cookie: string, body: { key?: string }): Promise<boolean> => {
      const answer = await fetch(`${base}/api/stock/corrections`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify(body),
      }).catch(() => null)
      if (answer?.status !== 200) {
        return false
      }
      acknowledged.set(
        body.key!,
        ((await answer.json().catch(() => ({ postingId: -1 }))) as { postingId: number }).postingId,
      )
      return true
    }
    /** Corrections from several lanes until the time is over or nobody answers any more. */
    const storm = async (cookie: string): Promise<void> => {
      const until = Date.now() + STORM_MS * 4
      await Promise.all(
        Array.from({ length: LANES }, async (_, lane) => {
          for (let i = 0; Date.now() < until; i++) {
            const body = {
              key: randomUUID(),
              itemId: items[(lane + i) % items.length]!.id,
              binId: bin!.id,
              lot: '',
              direction: i % 3 === 0 ? 'less' : 'more',
              quantity: String(1 + (i % 3)),
              unit: 'piece',
              reason: i % 3 === 0 ? 'sample' : 'found',
              unitCost: i % 3 === 0 ? '' : '1.37',
            }
            sent.set(body.key, body)
            if (!(await send(cookie, body))) {
              return
            }
          }
        }),
      )
    }
    /** What must hold whatever happened. */
    const sound = async (): Promise<void> => {
      expect(
        await ask(
          'select id from postings p where work_value = 0 and not exists (select 1 from moves m where m.posting_id = p.id) and not exists (select 1 from entries e where e.posting_id = p.id)',
        ),
      ).toEqual([])
      expect(await ask('select posting_id from journal group by 1 having sum(amount) <> 0')).toEqual([])
      expect(
        await ask(
          `select b.id
            from balances b
            where on_hand <> coalesce(
              (
                select
                  sum(case when to_place_id = b.place_id and to_status = b.status then quantity else 0 end)
                    - sum(case when from_place_id = b.place_id and from_status = b.status then quantity else 0 end)
                from moves m
                where m.item_id = b.item_id
                  and m.lot_id is not distinct from b.lot_id
                  and m.piece_id is not distinct from b.piece_id
              ),
              0
            )`,
        ),
      ).toEqual([])
      expect(
        await ask(
          `select item_id from holdings h where site_id > 0 and value <> (select coalesce(sum(amount), 0) from journal j where j.item_id = h.item_id and j.site_id = h.site_id and place_kind = 'bin')`,
        ),
      ).toEqual([])
      for (const [key, postingId] of acknowledged) {
        const [kept] = await ask<{ posting: number | null; there: boolean }>(
          "select (answer->>'postingId')::int as posting, exists (select 1 from postings where id = (answer->>'postingId')::int) as there from answers where key = $1",
          [key],
        )
        expect([kept?.there, postingId === -1 || kept?.posting === postingId]).toEqual([true, true])
      }
    }

    for (const victim of ['server', 'PostgreSQL'] as const) {
      const cookie = await signIn()
      const before = acknowledged.size
      const running = storm(cookie)
      await expect.poll(() => acknowledged.size).toBeGreaterThan(before + LANES * 4)
      if (victim === 'server') {
        process.kill(server.child.pid!, 'SIGKILL')
      } else {
        const [postmaster] = await ask<{ pid: string }>(
          "select split_part(pg_read_file('postmaster.pid'), chr(10), 1) as pid",
        )
        process.kill(Number(postmaster!.pid), 'SIGKILL')
      }
      await running
      // What was under way when it ended may be there or not, as a whole; the loop above ends when nobody answers.
      expect(acknowledged.size).toBeGreaterThan(before + LANES)
      await server.stop()
      if (victim === 'PostgreSQL') {
        // What the dead one leaves behind goes away by itself; until then it cannot start.
        await expect(async () => {
          cluster = await startPostgres({ root: folder })
        }).toPass()
      }
      server = await start()
      await sound()
    }
    // Everybody sends again what got no answer: each counts once.
    const cookie = await signIn()
    for (const [key, body] of sent) {
      if (!acknowledged.has(key)) {
        await send(cookie, body as { key: string })
      }
    }
    await sound()
    const [counted] = await ask<{ postings: number; answers: number }>(
      "select (select count(*)::int from postings where kind = 'correction') as postings, (select count(*)::int from answers where answer is not null) as answers",
    )
    expect(counted!.postings).toBe(acknowledged.size)
    expect(counted!.answers).toBe(acknowledged.size)
  } finally {
    await server.stop()
    await cluster.stop()
    clear()
  }
})
