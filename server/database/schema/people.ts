import { bigint, index, integer, pgTable, text } from 'drizzle-orm/pg-core'
import { id, moment } from './columns'
import { users } from './company'

/** Where somebody is signed in. The browser holds the token, this only its digest. */
export const sessions = pgTable(
  'sessions',
  {
    id: id(),
    digest: text().notNull().unique(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    begunAt: moment().notNull().defaultNow(),
    seenAt: moment().notNull().defaultNow(),
    endedAt: moment(),
    address: text().notNull().default(''),
    browser: text().notNull().default(''),
  },
  (table) => [index('sessions_user').on(table.userId)],
)

/** Links by which somebody chooses a password, each once; kept is only the digest of what the link holds. */
export const passwordLinks = pgTable(
  'password_links',
  {
    id: id(),
    digest: text().notNull().unique(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    kind: text().$type<'invitation' | 'new password'>().notNull(),
    madeAt: moment().notNull().defaultNow(),
    expiresAt: moment().notNull(),
    usedAt: moment(),
  },
  (table) => [index('password_links_user').on(table.userId)],
)

/** How often something was tried: the table of the rate limiter, in the form that it wants. */
export const tries = pgTable('tries', {
  key: text().primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
})
