import { sql } from 'drizzle-orm'
import { boolean, date, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import type { Role } from '~~/shared/people'
import { id, moment, version } from './columns'

export const company = pgTable('company', {
  id: integer().primaryKey().default(1),
  name: text().notNull(),
  currency: text().notNull().default('EUR'),
  minorDigits: integer().notNull().default(2),
  decimalSign: text().$type<'.' | ','>().notNull().default('.'),
  /** The fixed day of a demo; null where the real clock counts. */
  fixedDay: date(),
  /** Nothing is recorded on this day or before it any more. */
  closedThrough: date(),
  /** What a role may correct at most by itself, in minor units; a role that is not named may correct anything. */
  correctionLimits: jsonb().$type<Readonly<Partial<Record<Role, string>>>>().notNull().default({}),
  version: version(),
})

export const users = pgTable('users', {
  id: id(),
  email: text().notNull().unique(),
  name: text().notNull(),
  role: text().notNull(),
  passwordHash: text().notNull(),
  active: boolean().notNull().default(true),
})

/** Who changed what: one row per edit of a definition or a document. */
export const changes = pgTable('changes', {
  id: id(),
  at: moment().notNull().defaultNow(),
  userId: integer().references(() => users.id),
  entity: text().notNull(),
  entityId: text().notNull(),
  /** The code of what was changed, as it was then. */
  label: text().notNull().default(''),
  before: jsonb(),
  after: jsonb(),
  batchId: integer(),
  /** The change that this one took back. */
  undoesId: integer().unique(),
}, table => [index('changes_entity').on(table.entity, table.entityId), index('changes_batch').on(table.batchId)])

/** The answer that a command gave, by the key its client made: the same key gives the same answer again. */
export const answers = pgTable('answers', {
  key: uuid().primaryKey(),
  userId: integer().references(() => users.id),
  at: moment().notNull().defaultNow(),
  answer: jsonb(),
})

/** The next number of each kind of document. */
export const counters = pgTable('counters', { name: text().primaryKey(), next: integer().notNull() })

export const calendars = pgTable('calendars', {
  id: id(),
  name: text().notNull().unique(),
  weekdays: boolean().array().notNull().default(sql`'{t,t,t,t,t,f,f}'`),
  note: text().notNull().default(''),
  version: version(),
})

export const closedDays = pgTable('closed_days', {
  calendarId: integer().notNull().references(() => calendars.id, { onDelete: 'cascade' }),
  day: date().notNull(),
  note: text().notNull().default(''),
}, table => [primaryKey({ columns: [table.calendarId, table.day] })])
