import { bigint, integer, numeric, timestamp } from 'drizzle-orm/pg-core'

/** An identity key. */
export const id = () => integer().primaryKey().generatedAlwaysAsIdentity()

/** Counts the edits of a row; an edit carries the version that it saw. */
export const version = () => integer().notNull().default(1)

/** An exact quantity; text in the program. */
export const quantity = () => numeric()

/** Money in minor units of the company's currency. */
export const minor = () => bigint({ mode: 'bigint' })

export const moment = () => timestamp({ withTimezone: true, mode: 'string' })
