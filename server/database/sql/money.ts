import { sql, type SQL } from 'drizzle-orm'
import { MINOR_DIGITS, MINOR_PER_MAJOR } from '~~/core/money'

const PER_MAJOR = sql.raw(`${MINOR_PER_MAJOR}.0`)

/** Major units as minor ones. */
export const minorOf = (major: SQL): SQL => sql`${major} * ${PER_MAJOR}`

/** Minor units as major ones, with the digits of the minor unit. */
export const majorOf = (minor: SQL): SQL => sql`round(${minor} / ${PER_MAJOR}, ${sql.raw(String(MINOR_DIGITS))})`
