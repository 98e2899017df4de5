import { boolean, customType, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import type { Mapping } from '~~/shared/catalogue/import'
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

/**
 * Definitions that were changed together: by a file that was brought in, or many set at once. Taken back together too.
 */
export const batches = pgTable(
  'batches',
  {
    id: id(),
    kind: text().$type<'file' | 'set'>().notNull(),
    table: text().notNull(),
    label: text().notNull(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    at: moment().notNull().defaultNow(),
    state: text().$type<'open' | 'done' | 'undone'>().notNull().default('open'),
    content: bytes(),
    mapping: jsonb().$type<Mapping>(),
    rows: integer().notNull().default(0),
    made: integer().notNull().default(0),
    changed: integer().notNull().default(0),
    /** Per cent of the work that is running, and whether its owner wants it stopped. */
    progress: integer().notNull().default(0),
    stopped: boolean().notNull().default(false),
  },
  (table) => [index('batches_at').on(table.at)],
)
