import { mkdtempSync, rmSync, chmodSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import pg from 'pg'

interface Cluster {
  readonly joined: boolean
  url(database: string): string
  drop(database: string): void
  stop(): Promise<void>
}
const { startPostgres } = (await import(path.resolve('scripts/lib/postgres.mjs'))) as {
  startPostgres(options: { root: string }): Promise<Cluster>
}
const { isPortFree, freePort } = (await import(path.resolve('scripts/lib/run.mjs'))) as {
  isPortFree(port: number): Promise<boolean>
  freePort(): Promise<number>
}

const root = mkdtempSync(path.join(tmpdir(), 'tsumiki-cluster-'))
chmodSync(root, 0o755)
afterAll(() => {
  rmSync(root, { recursive: true, force: true })
})

const ask = async (url: string, text: string): Promise<string> => {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  const {
    rows: [row],
  } = await client.query<Record<string, string>>(text)
  await client.end()
  return Object.values(row!)[0]!
}

describe('the cluster of our own', () => {
  it('is durable, on loopback with a password, joined by a second start, and kept over a stop', async () => {
    const first = await startPostgres({ root })
    const url = first.url('kept')
    for (const setting of ['fsync', 'full_page_writes', 'synchronous_commit', 'data_checksums']) {
      expect([setting, await ask(url, `show ${setting}`)]).toEqual([setting, 'on'])
    }
    expect(await ask(url, 'show listen_addresses')).toBe('127.0.0.1')
    await expect(ask(url.replace(/:[^:@]+@/, ':wrong@'), 'select 1')).rejects.toThrow(/password/)
    await ask(url, 'select 1')
    const second = await startPostgres({ root })
    expect([first.joined, second.joined, second.url('kept')]).toEqual([false, true, url])
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    await client.query("create table kept (word text); insert into kept values ('block')")
    await client.end()
    await first.stop()
    await expect(ask(url, 'select 1')).rejects.toThrow()
    const third = await startPostgres({ root })
    expect(await ask(third.url('kept'), 'select word from kept')).toBe('block')
    third.drop('kept')
    await expect(ask(url.replace(/:\d+\//, `:${new URL(third.url('other')).port}/`), 'select 1')).rejects.toThrow(
      /does not exist/,
    )
    await third.stop()
  })
})

describe('ports', () => {
  it('a port in use is not free', async () => {
    const port = await freePort()
    expect(await isPortFree(port)).toBe(true)
    const { createServer } = await import('node:net')
    const server = createServer()
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve))
    expect(await isPortFree(port)).toBe(false)
    await new Promise((resolve) => server.close(resolve))
  })
})
