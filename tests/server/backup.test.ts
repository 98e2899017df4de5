import { randomUUID } from 'node:crypto'
import { cpSync, mkdtempSync, readdirSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs'
import { open } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { toDay, toIso } from '~~/core/calendar/days'
import { db, pool, rows } from '~~/server/database/client'
import { company } from '~~/server/database/schema'
import { backUp, listBackups, restore } from '~~/server/services/backup'
import { dailyBackup, readBackups } from '~~/server/services/backup/daily'
import { backupsToDrop } from '~~/server/services/backup/kept'
import { correct } from '~~/server/services/stock/correct'
import { checkLedger } from '~~/server/ledger/check'
import { inTransaction } from '~~/server/database/transactions'
import { Correction } from '~~/shared/stock/requests'
import { Refusal } from '~~/server/utils/refusal'
import { idOf, onHand, owner, valueOf, withDemo } from './database'

withDemo()

const folder = mkdtempSync(path.join(tmpdir(), 'tsumiki-backups-'))
const inFolder = (name: string): string => path.join(folder, name)
beforeAll(() => {
  process.env.BACKUP_DIR = folder
})
afterAll(() => {
  delete process.env.BACKUP_DIR
  rmSync(folder, { recursive: true, force: true })
})
const takeBone = async (quantity: string): Promise<void> => {
  const correction = {
    key: randomUUID(),
    itemId: await idOf('items', 'BONE'),
    binId: await idOf('places', 'SHELF-A'),
    direction: 'more',
    quantity,
    unit: 'piece',
    reason: 'found',
  }
  const read = Correction.parse(correction)
  await inTransaction((tx) => correct(tx, owner, read))
}
const empty = (): Promise<unknown> =>
  pool.query('drop schema public cascade; create schema public; drop schema if exists drizzle, jobs cascade')
const refusal = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => 'taken',
    (error: unknown) => (error instanceof Refusal ? error.detail : String(error)),
  )

describe('a backup', () => {
  it('brings back everything as it was in its moment, and nothing of what came later', async () => {
    const before = [await onHand('BONE'), await valueOf('BONE')]
    const [pictures] = await rows<{ sum: string }>(
      db,
      sql`select md5(string_agg(full_, '')) as sum from (select encode("full", 'hex') as full_ from pictures order by id) p`,
    )
    await rows(db, sql`insert into sessions (digest, user_id) values ('open', 1)`)
    const { file, bytes } = await backUp(inFolder('one.tar'))
    expect([bytes > 100_000, statSync(file).mode & 0o777]).toEqual([true, 0o600])
    await takeBone('7')
    expect(await onHand('BONE')).not.toBe(before[0])

    expect(await refusal(restore(file))).toMatch(/holds a company already/)
    await empty()
    const { manifest, differences } = await restore(file)
    expect([manifest.company, differences]).toEqual(['Hollowmere Bindery', []])
    expect([await onHand('BONE'), await valueOf('BONE')]).toEqual(before)
    expect(await checkLedger()).toEqual([])
    expect(
      await rows(
        db,
        sql`select md5(string_agg(full_, '')) as sum from (select encode("full", 'hex') as full_ from pictures order by id) p`,
      ),
    ).toEqual([pictures])
    expect(await rows(db, sql`select count(*)::int as open from sessions where ended_at is null`)).toEqual([
      { open: 0 },
    ])
    // Work goes on in it.
    await takeBone('1')
    expect(await checkLedger()).toEqual([])
  })
  it('holds one moment, though people go on recording while it is written', async () => {
    let isDone = false
    const working = (async () => {
      while (!isDone) {
        await takeBone('1')
      }
    })()
    const { file } = await backUp(inFolder('busy.tar'))
    isDone = true
    await working
    await empty()
    expect((await restore(file)).differences).toEqual([])
  })
  it('that is damaged, or none at all, is refused and nothing is brought back', async () => {
    const { file } = await backUp(inFolder('whole.tar'))
    const damaged = inFolder('damaged.tar')
    cpSync(file, damaged)
    const handle = await open(damaged, 'r+')
    await handle.write(Buffer.from('damaged'), 0, 7, Math.floor(statSync(file).size / 2))
    await handle.close()
    writeFileSync(inFolder('none.tar'), 'no archive')
    await empty()
    expect(await refusal(restore(damaged))).toMatch(/is damaged: its checksum is another/)
    expect(await refusal(restore(inFolder('none.tar')))).toMatch(/is no backup of Tsumiki/)
    expect((await pool.query(`select 1 from pg_tables where schemaname = 'public'`)).rows).toEqual([])
    expect((await restore(file)).differences).toEqual([])
  })
  it('that fails leaves no half file behind', async () => {
    const before = readdirSync(folder).sort()
    const programs = process.env.PG_BIN
    process.env.PG_BIN = '/nowhere'
    try {
      expect(await refusal(backUp(inFolder('failed.tar')))).toContain('/nowhere/pg_dump')
    } finally {
      if (programs === undefined) {
        delete process.env.PG_BIN
      } else {
        process.env.PG_BIN = programs
      }
    }
    expect(readdirSync(folder).sort()).toEqual(before)
  })
})

describe('the backup of the night', () => {
  it('is made once a day after two, of one’s own company, and missed ones are told', async () => {
    // Who began today has missed none; two days later one is missed.
    for (const name of await listBackups()) {
      rmSync(inFolder(name.id))
    }
    expect((await readBackups()).isOverdue).toBe(false)
    await db.update(company).set({ fixedDay: null })
    expect((await readBackups()).isOverdue).toBe(false)
    expect((await readBackups(new Date(Date.now() + 49 * 3_600_000))).isOverdue).toBe(true)
    await db.update(company).set({ fixedDay: '2026-10-05' })
    const night = new Date(2026, 10, 30, 2, 5)
    expect(await dailyBackup(night)).toBeNull()
    await db.update(company).set({ fixedDay: null })
    expect(await dailyBackup(new Date(2026, 10, 30, 1, 59))).toBeNull()
    const now = new Date()
    now.setHours(3)
    const file = await dailyBackup(now)
    expect(file).toMatch(/tsumiki-\d{4}-\d{2}-\d{2}-\d{6}\.tar$/)
    expect([await dailyBackup(now), (await listBackups()).length, (await readBackups()).isOverdue]).toEqual([
      null,
      1,
      false,
    ])
    const old = (Date.now() - 49 * 3_600_000) / 1000
    utimesSync(file!, old, old)
    expect((await readBackups()).isOverdue).toBe(true)
    await db.update(company).set({ fixedDay: '2026-10-05' })
  })
})

describe('which backups are kept', () => {
  const nameOf = (day: string): string => `tsumiki-${day}-020000.tar`
  const back = (days: number): string => toIso(toDay('2026-11-30') - days)
  it('of a year and a half of nights: 14 days, then the newest of each of eight weeks and of each of twelve months', () => {
    const all = Array.from({ length: 550 }, (_, age) => nameOf(back(age)))
    const dropped = new Set(backupsToDrop(all, '2026-11-30'))
    const kept = all.filter((name) => !dropped.has(name)).map((name) => name.slice(8, 18))
    expect(kept.slice(0, 15)).toEqual(Array.from({ length: 15 }, (_, age) => back(age)))
    const later = kept.slice(15)
    const weekly = later.filter((day) => toDay('2026-11-30') - toDay(day) <= 56 && !isLastOfMonth(day))
    expect(weekly.length).toBe(6)
    for (const [index, day] of weekly.slice(1).entries()) {
      expect(toDay(weekly[index]!) - toDay(day)).toBe(7)
    }
    expect(later.filter(isLastOfMonth)).toEqual([
      '2026-10-31',
      '2026-09-30',
      '2026-08-31',
      '2026-07-31',
      '2026-06-30',
      '2026-05-31',
      '2026-04-30',
      '2026-03-31',
      '2026-02-28',
      '2026-01-31',
      '2025-12-31',
      '2025-11-30',
    ])
    expect(later.length).toBe(weekly.length + 12)
  })
  it('what is none of ours is never dropped, and a backup by hand counts as one of its day', () => {
    // The only one of its month that is older than twelve months goes; what has another name stays.
    const names = ['notes.txt', nameOf('2020-01-01'), 'tsumiki-old.tar', nameOf('2026-11-29')]
    expect(backupsToDrop(names, '2026-11-30')).toEqual([nameOf('2020-01-01')])
    expect(backupsToDrop(['tsumiki-2026-11-29-020000.tar', 'tsumiki-2026-11-29-170000.tar'], '2026-11-30')).toEqual([])
  })
  const isLastOfMonth = (day: string): boolean => toIso(toDay(day) + 1).endsWith('-01')
})
