import { sql, type SQL } from 'drizzle-orm'

/** Text as it stands in a `like` pattern: `%`, `_` and `\` mean themselves. */
export const escapeLike = (text: string): string => text.replace(/[\\%_]/g, (sign) => `\\${sign}`)

/** The pattern of what holds this text anywhere. */
export const anywhere = (text: string): string => `%${escapeLike(text)}%`

/** The pattern of what begins with this text. */
export const beginningWith = (text: string): string => `${escapeLike(text)}%`

/** One page of a list; pages count from 1. */
export const onePage = (query: { readonly page: number; readonly size: number }): SQL =>
  sql`limit ${query.size} offset ${(query.page - 1) * query.size}`

/** The column is one of these numbers or texts, sent as one array however many they are; of none it is not. */
export const anyOf = (column: SQL | { getSQL(): SQL }, values: readonly number[] | readonly string[]): SQL =>
  values.length === 0
    ? sql`false`
    : sql`${column} = any(${sql.param([...values])}::${sql.raw(typeof values[0] === 'string' ? 'text' : 'int')}[])`
