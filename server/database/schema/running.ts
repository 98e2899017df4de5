import { sql } from 'drizzle-orm'
import { boolean, date, index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import type { Right } from '~~/shared/company/rights'
import type { HookEvent } from '~~/shared/running/words'
import { id, moment, version } from './columns'
import { users } from './company'

/**
 * What is being worked on in the background just now, and how far it is. The work itself waits in the tables of the
 * queue library, in the schema `jobs`.
 */
export const jobRuns = pgTable('job_runs', {
  jobId: uuid().primaryKey(),
  queue: text().notNull(),
  /** The number of the worker, which holds an advisory lock of that number for as long as it lives. */
  worker: integer().notNull(),
  phase: text().notNull().default(''),
  percent: integer().notNull().default(0),
  begunAt: moment().notNull().defaultNow(),
})

/** Keys by which scripts sign in; kept is only the digest. What is done by one is done for whoever made it. */
export const apiKeys = pgTable('api_keys', {
  id: id(),
  name: text().notNull(),
  digest: text().notNull().unique(),
  /** How it begins, so that its owner knows which it is. */
  beginning: text().notNull(),
  rights: text().array().$type<Right[]>().notNull(),
  userId: integer()
    .notNull()
    .references(() => users.id),
  madeAt: moment().notNull().defaultNow(),
  /** The last day on which it opens anything; null where it has none. */
  expiresOn: date(),
  usedAt: moment(),
  usedFrom: text().notNull().default(''),
  endedAt: moment(),
})

/** Addresses of other programs that are told what happens here. */
export const webHooks = pgTable('web_hooks', {
  id: id(),
  name: text().notNull(),
  url: text().notNull(),
  /** What each call is signed with. */
  secret: text().notNull(),
  events: text().array().$type<HookEvent[]>().notNull(),
  active: boolean().notNull().default(true),
  madeAt: moment().notNull().defaultNow(),
  version: version(),
})

/** What a web hook is told: written with what happened, and kept with what came of telling it. */
export const hookCalls = pgTable(
  'hook_calls',
  {
    id: id(),
    hookId: integer()
      .notNull()
      .references(() => webHooks.id, { onDelete: 'cascade' }),
    event: text().$type<HookEvent>().notNull(),
    /** What it is about: calls about one thing arrive in the order in which they happened. */
    about: text().notNull(),
    /** The posting or the change that it tells of. */
    postingId: integer(),
    changeId: integer(),
    /** The text that is sent, the same at each try; null until the first. */
    body: text(),
    state: text().$type<'waiting' | 'delivered' | 'failed'>().notNull().default('waiting'),
    tries: integer().notNull().default(0),
    /** What the other program answered last: its status, or what went wrong. */
    status: integer(),
    problem: text().notNull().default(''),
    at: moment().notNull().defaultNow(),
    deliveredAt: moment(),
  },
  (table) => [
    index('hook_calls_hook').on(table.hookId, table.id),
    index('hook_calls_waiting')
      .on(table.hookId, table.about, table.id)
      .where(sql`state = 'waiting'`),
  ],
)
