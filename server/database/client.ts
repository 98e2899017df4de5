import { drizzle } from 'drizzle-orm/node-postgres'
import type { SQL } from 'drizzle-orm'
import pg from 'pg'
import * as schema from './schema'

/** Whole numbers of 64 bits stay text until core makes them BigInt; dates stay year-month-day. */
pg.types.setTypeParser(pg.types.builtins.DATE, text => text)

// Databases of this kind lie on solid-state disks or in memory, where a page out of order costs about as much as the next one.
export const pool = new pg.Pool({ connectionString: process.env.DATABASE_URL, max: 12, options: '-c random_page_cost=1.1 -c work_mem=24MB' })
pool.on('error', error => console.error('Database connection lost:', error.message))

export const db = drizzle(pool, { schema, casing: 'snake_case' })
export type Tx = Parameters<Parameters<typeof db.transaction>[0]>[0]
export type Reader = Pick<Tx, 'select' | 'execute' | 'query'>

/** Rows of a read, as the query names them. */
export async function rows<T>(reader: Reader, query: SQL): Promise<T[]> {
  return (await reader.execute(query)).rows as T[]
}
