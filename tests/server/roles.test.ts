import { mkdtempSync, rmSync, chmodSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { pool } from '~~/server/database/client'
import { grantToApplication } from '~~/server/database/owner'
import { withDemo } from './database'

interface Cluster {
  url(database: string): string
  urls(database: string): { readonly databaseUrl: string; readonly ownerUrl: string }
  stop(): Promise<void>
}
const { startPostgres } = (await import(path.resolve('scripts/lib/postgres.mjs'))) as {
  startPostgres(options: { root: string }): Promise<Cluster>
}
async function on<T>(url: string, act: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return await act(client)
  } finally {
    await client.end()
  }
}

describe('a database that a superuser made before there were two roles', () => {
  const root = mkdtempSync(path.join(tmpdir(), 'tsumiki-roles-'))
  chmodSync(root, 0o755)
  let cluster: Cluster
  beforeAll(async () => {
    cluster = await startPostgres({ root })
  })
  afterAll(async () => {
    await cluster.stop()
    rmSync(root, { recursive: true, force: true })
  })

  it('is handed over whole: its owner changes tables, the application only rows; neither is a superuser', async () => {
    await on(cluster.url('old'), (client) =>
      client.query(`
        create extension pg_trgm;
        create type colour as enum ('red');
        create table goods (id int generated always as identity primary key, colour colour);
        create view red_goods as select * from goods;
        create function count_goods() returns bigint language sql as 'select count(*) from goods';`),
    )
    const { databaseUrl, ownerUrl } = cluster.urls('old')
    const left = `
      select count(*)::int as left from pg_class c join pg_namespace n on n.oid = c.relnamespace
      where n.nspname = 'public' and c.relkind in ('r', 'v', 'S') and pg_get_userbyid(relowner) <> 'tsumiki_owner'`
    await on(ownerUrl, async (client) => {
      expect((await client.query(left)).rows).toEqual([{ left: 0 }])
      await client.query('alter table goods add column name text')
      await client.query('drop function count_goods()')
      await client.query('alter type colour add value $$blue$$')
    })
    for (const url of [databaseUrl, ownerUrl]) {
      await on(url, async (client) => {
        expect((await client.query('select rolsuper from pg_roles where rolname = current_user')).rows).toEqual([
          { rolsuper: false },
        ])
      })
    }
    await on(databaseUrl, async (client) => {
      await expect(client.query('create table mine (id int)')).rejects.toThrow('permission denied')
      await expect(client.query('select * from goods')).rejects.toThrow('permission denied')
    })
    // A second start finds everything as it is.
    expect(cluster.urls('old')).toEqual({ databaseUrl, ownerUrl })
  })
})

describe('the role of the application', () => {
  withDemo()
  const ROLE = 'tsumiki_test_application'
  beforeAll(async () => {
    await pool.query(`do $$ begin create role ${ROLE}; exception when duplicate_object then null; end $$`)
    const client = await pool.connect()
    await grantToApplication(client, ROLE)
    client.release()
  })
  afterAll(async () => {
    await pool.query(`drop owned by ${ROLE}`)
    await pool.query(`drop role ${ROLE}`)
  })
  const asApplication = async (statement: string): Promise<unknown> => {
    const client = await pool.connect()
    try {
      await client.query('begin')
      await client.query(`set local role ${ROLE}`)
      return await client.query(statement)
    } finally {
      await client.query('rollback')
      client.release()
    }
  }

  it.each([
    'update moves set quantity = quantity',
    'delete from moves',
    'truncate postings',
    'update postings set label = label',
    'delete from adjustments',
    'delete from entries',
    'update changes set label = label',
    'delete from changes',
    'alter table moves disable trigger all',
    'drop trigger moves_only_grow on moves',
    'alter table moves owner to current_user',
    'set session_replication_role = replica',
    'create table more (id int)',
    'drop table moves',
    'delete from drizzle.__drizzle_migrations',
  ])('may not: %s', async (statement) => {
    await expect(asApplication(statement)).rejects.toThrow(/permission denied|must be owner/)
  })
  it.each([
    'select count(*) from moves',
    `insert into changes (entity, entity_id) values ('item', '1')`,
    'update items set version = version where false',
    'delete from sessions where false',
    `select jobs.create_queue('plan', '{}'::json)`,
    'select max(created_at) from drizzle.__drizzle_migrations',
  ])('may: %s', async (statement) => {
    await expect(asApplication(statement)).resolves.toBeDefined()
  })
})
