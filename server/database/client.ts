import { drizzle } from 'drizzle-orm/node-postgres'
import { sql, type SQL } from 'drizzle-orm'
import pg from 'pg'
import * as schema from './schema'

/** Whole numbers of 64 bits stay text until core makes them BigInt; dates stay year-month-day. */
pg.types.setTypeParser(pg.types.builtins.DATE, (text) => text)

// Databases of this kind lie on solid-state disks or in memory, where a page out of order costs about as much as the next one.
export const pool = new pg.Pool({
  connectionString: process.env.DATABASE_URL,
  max: 12,
  options: '-c random_page_cost=1.1 -c work_mem=24MB -c jit=off',
})
pool.on('error', (error) => console.error('Database connection lost:', error.message))

export const db = drizzle(pool, { schema, casing: 'snake_case' })
export type Tx = Parameters<Parameters<typeof db.transaction>[0]>[0]
export type Reader = Pick<Tx, 'select' | 'execute' | 'query'>

/** Rows of a read, as the query names them. */
export async function rows<T>(reader: Reader, query: SQL): Promise<T[]> {
  return (await reader.execute(query)).rows as T[]
}

/**
 * The columns of a read of whole or decimal numbers, in the order of the query's rows; null is NaN.
 *
 * They travel as one text a column: of a million rows that takes a fifth of the time of rows.
 */
export async function columns(reader: Reader, count: number, query: SQL): Promise<number[][]> {
  return (await columnsWithTexts(reader, count, 0, query)).numbers
}

/** The same with columns of text behind those of numbers; null is an empty text. */
export async function columnsWithTexts(
  reader: Reader,
  count: number,
  texts: number,
  query: SQL,
): Promise<{ readonly numbers: number[][]; readonly texts: string[][] }> {
  const each = Array.from({ length: count + texts }, (_, at) => at)
  const packed = each.map((at) =>
    at < count
      ? sql.raw(`string_agg(coalesce(c${at}::text, 'null'), ',') as t${at}`)
      : sql.raw(`json_agg(coalesce(c${at}::text, '')) as t${at}`),
  )
  const [found] = await rows<Record<string, string | string[] | null>>(
    reader,
    sql`select ${sql.join(packed, sql`, `)} from (${query}) as q(${sql.raw(each.map((at) => `c${at}`).join(', '))})`,
  )
  const column = (at: number): string | string[] | null => found![`t${at}`]!
  return {
    numbers: each.slice(0, count).map((at) => readNumbers((column(at) ?? '') as string)),
    texts: each.slice(count).map((at) => (column(at) ?? []) as string[]),
  }
}

/** Numbers of a text, parted by commas, where “null” is NaN: read as JSON, which is quicker than digit by digit. */
export function readNumbers(text: string): number[] {
  const found = JSON.parse(`[${text}]`) as (number | null)[]
  return (text.includes('null') ? found.map((one) => one ?? NaN) : found) as number[]
}
