import { customType, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import type { Mapping } from '~~/shared/import'
import { id, moment } from './columns'
import { users } from './company'

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** A picture as the application keeps it: JPEG, no larger than a screen asks for, with a small one for lists. */
export const pictures = pgTable('pictures', {
  id: id(),
  width: integer().notNull(),
  height: integer().notNull(),
  full: bytes().notNull(),
  small: bytes().notNull(),
})

/** A file that was brought in: what it is, how its columns were matched, what came of it. */
export const imports = pgTable('imports', {
  id: id(),
  table: text().notNull(),
  fileName: text().notNull(),
  userId: integer().notNull().references(() => users.id),
  at: moment().notNull().defaultNow(),
  state: text().notNull().default('open'),
  content: bytes().notNull(),
  mapping: jsonb().$type<Mapping>().notNull(),
  /** Rows, and how many definitions are new, changed and the same. */
  rows: integer().notNull().default(0),
  made: integer().notNull().default(0),
  changed: integer().notNull().default(0),
}, table => [index('imports_at').on(table.at)])
