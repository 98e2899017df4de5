import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { pool } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkLedger } from '~~/server/ledger/check'
import { backUp, restore } from '~~/server/services/backup'
import { run as runProgram } from '~~/server/services/backup/programs'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { correct } from '~~/server/services/stock/correct'
import { Correction } from '~~/shared/stock/requests'
import { best, type Figure } from './figure'
import { fillStock, LOTS, MOVES_A_LOT } from './stock-set'

const SIZE = `${(LOTS * MOVES_A_LOT) / 1e6} million moves`
const MEGABYTE = 1024 * 1024

/**
 * Backups of the demo and of a ledger of years, while somebody posts as quickly as it goes; each beside PostgreSQL's own
 * dump with nobody else there, and the larger brought back and checked.
 */
export async function* run(): AsyncGenerator<Figure> {
  const folder = mkdtempSync(path.join(tmpdir(), 'tsumiki-bench-'))
  try {
    await prepareDatabase('demo')
    yield* await measure('the demo', folder)
    await fillStock()
    await pool.query('vacuum analyze')
    const differed = await checkLedger()
    yield* await measure(SIZE, folder)
    await pool.query('drop schema public cascade; create schema public; drop schema if exists drizzle, jobs cascade')
    const start = performance.now()
    const { differences } = await restore(path.join(folder, `${SIZE}.tar`))
    const seconds = (performance.now() - start) / 1000
    yield figure(`${SIZE}: restored and checked`, seconds, 's', 'a minute', 60)
    // What is filled in has no journal; what differs must differ as it did before.
    yield figure(
      `${SIZE}: differences after it`,
      differences.length,
      '',
      'those before the backup',
      differed.length || 1,
    )
  } finally {
    await pool.end()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function measure(name: string, folder: string): Promise<Figure[]> {
  const plain = await best(1, () =>
    runProgram('pg_dump', [
      '--format=custom',
      `--file=${path.join(folder, 'plain')}`,
      `--dbname=${process.env.DATABASE_URL}`,
    ]),
  )
  const alone = await postWhile(() => new Promise((resolve) => setTimeout(resolve, 3000)))
  let bytes = 0
  let ms = 0
  const beside = await postWhile(async () => {
    const start = performance.now()
    ;({ bytes } = await backUp(path.join(folder, `${name}.tar`)))
    ms = performance.now() - start
  })
  return [
    figure(
      `${name}: backup while people post`,
      ms / 1000,
      's',
      'PostgreSQL’s own dump with nobody there',
      plain / 1000,
    ),
    figure(`${name}: its size`, bytes / MEGABYTE, 'MiB', 'one MiB', 1),
    figure(`${name}: postings meanwhile`, beside, 'per s', 'without a backup', alone),
  ]
}

/** Postings a second of one person while something goes on. */
async function postWhile(work: () => Promise<unknown>): Promise<number> {
  const { rows } = await pool.query<{ item: number; bin: number }>(
    `select (select id from items where code = 'BONE') as item, (select id from places where code = 'SHELF-A') as bin`,
  )
  const { item, bin } = rows[0]!
  const actor = { userId: 1, name: 'Ines', role: 'owner', today: '2026-10-05' } as const
  let posted = 0
  let isDone = false
  const start = performance.now()
  const posting = (async () => {
    while (!isDone) {
      const correction = {
        key: randomUUID(),
        itemId: item,
        binId: bin,
        direction: 'more',
        quantity: '1',
        unit: 'piece',
      }
      const read = Correction.parse({ ...correction, reason: 'found' })
      await inTransaction((tx) => correct(tx, actor, read))
      posted++
    }
  })()
  await work().finally(() => {
    isDone = true
  })
  await posting
  return posted / ((performance.now() - start) / 1000)
}

const figure = (name: string, value: number, unit: string, comparedWith: string, than: number): Figure => ({
  bench: 'backup',
  figure: name,
  value,
  unit,
  comparedWith,
  ratio: value / than,
})
