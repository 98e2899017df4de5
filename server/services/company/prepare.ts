import { readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { db, pool } from '~~/server/database/client'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { PictureFile } from '../catalogue/pictures'
import { loadCompany, today } from './company'
import { writeMissingLines } from '../workshop/build-lines'
import { importCompany } from './import-company'

/**
 * Brings the database up to date, and loads the demo where it is wanted and nothing is there. Servers that start
 * together wait for each other.
 */
export async function prepareDatabase(begin: 'demo' | 'empty'): Promise<void> {
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock(7857)')
    await migrate(drizzle(client), { migrationsFolder: shippedFiles('migrations') })
    if (await loadCompany()) {
      const day = await today()
      await db.transaction((tx) => writeMissingLines(tx, day))
    }
    if (begin === 'demo' && !(await loadCompany())) {
      await importCompany(readFolder(shippedFiles('demo')), readPictures(shippedFiles('demo')))
    }
  } finally {
    await client.query('select pg_advisory_unlock(7857)').catch(() => undefined)
    client.release()
  }
}

export const readFolder = (folder: string): ReadonlyMap<string, string> =>
  new Map(
    readdirSync(folder)
      .filter((name) => name.includes('.'))
      .map((name) => [name, readFileSync(path.join(folder, name), 'utf8')]),
  )

const readPictures = (folder: string): PictureFile[] =>
  readdirSync(path.join(folder, 'pictures')).map((name) => ({
    name,
    content: readFileSync(path.join(folder, 'pictures', name)),
  }))

/** The sign-ins that a demo shows; none in a real company. */
export async function demoSignIns(): Promise<{ email: string; password: string; role: string; name: string }[]> {
  if (!(await loadCompany())?.fixedDay) {
    return []
  }
  const [, ...lines] = readFileSync(path.join(shippedFiles('demo'), 'people.csv'), 'utf8')
    .trim()
    .split('\n')
  return lines.map((line) => {
    const [email = '', name = '', role = '', password = ''] = line.split(',')
    return { email, name, role, password }
  })
}
