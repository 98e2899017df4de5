import { sql } from 'drizzle-orm'
import {
  type AnyPgColumn,
  bigint,
  boolean,
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { DateFormat } from '~~/core/calendar/days'
import type { Grouping } from '~~/core/units/quantity'
import type { Right, Role } from '~~/shared/company/rights'
import type { LowStockLine } from '~~/shared/planning/low-stock'
import { id, moment, version } from './columns'

export const company = pgTable('company', {
  id: integer().primaryKey().default(1),
  name: text().notNull(),
  currency: text().notNull().default('EUR'),
  minorDigits: integer().notNull().default(2),
  decimalSign: text().$type<'.' | ','>().notNull().default('.'),
  grouping: text().$type<Grouping>().notNull().default('space'),
  dateFormat: text().$type<DateFormat>().notNull().default('day month'),
  /** The fixed day of a demo; null where the real clock counts. */
  fixedDay: date(),
  /** Nothing is recorded on this day or before it any more. */
  closedThrough: date(),
  /** The working days of sites and suppliers that have no calendar of their own; null for Monday to Friday. */
  calendarId: integer().references((): AnyPgColumn => calendars.id),
  /**
   * Where finished goods usually go; null: the first bin in the order of picking. A bin, and the customer that orders
   * of the web shop are for.
   */
  finishedBinId: integer(),
  webCustomerId: integer(),
  /** The IANA name of the zone by whose clock the company’s day begins; null for that of the server. */
  timeZone: text(),
  /** Working days before the last day to order on which low stock is told. */
  lowStockDays: integer().notNull().default(5),
  /** Minutes without an act after which a session ends, and days after which it ends in any case. */
  sessionMinutes: integer().notNull().default(720),
  sessionDays: integer().notNull().default(30),
  /** What a role may correct at most by itself, in minor units; a role that is not named may correct anything. */
  correctionLimits: jsonb().$type<Readonly<Partial<Record<Role, string>>>>().notNull().default({}),
  /** The sum above which a purchase order is sent only once somebody has approved it; null: never. */
  approveAbove: numeric(),
  /** What is written to a supplier with a purchase order; empty for the usual text. */
  orderLetter: text().notNull().default(''),
  version: version(),
})

export const users = pgTable('users', {
  id: id(),
  email: text().notNull().unique(),
  name: text().notNull(),
  role: text().notNull(),
  /** What this person may do beyond what the role allows. */
  rights: text().array().$type<Right[]>().notNull().default([]),
  /** Null until whoever is invited has chosen a password. */
  passwordHash: text(),
  active: boolean().notNull().default(true),
  /** The key of the second factor (RFC 6238), in Base32; null where there is none. */
  factorKey: text(),
  /** Whether its first code was right: only then it is asked for. */
  factorIsOn: boolean().notNull().default(false),
  /** The time step of the code that was last used: no code counts twice. */
  factorStep: bigint({ mode: 'number' }),
  /** Digests of the codes that stand in for the second factor, each once. */
  recoveryCodes: text().array().notNull().default([]),
  version: version(),
  /** Whether low stock is mailed to this person each day. */
  lowStockMail: boolean().notNull().default(true),
  /** The digest of the private address by which this person's calendar program reads what is due. */
  calendarDigest: text().unique(),
})

/** What was found to run low on a day: looked for once a day, or when somebody asks. */
export const lowStockDays = pgTable('low_stock_days', {
  day: date().primaryKey(),
  lookedAt: moment().notNull().defaultNow(),
  lines: jsonb().$type<LowStockLine[]>().notNull(),
})

/** Letters: those that stay in the simulated mailbox, and those that go out by a mail server. */
export const mails = pgTable(
  'mails',
  {
    id: id(),
    /** What it is about, so that it is sent once: a kind, a day, a person. */
    key: text().notNull().unique(),
    /** Whose mailbox it lies in; null where it goes to somebody outside. */
    userId: integer().references(() => users.id),
    /** The document that it goes with, where there is one. */
    entity: text(),
    entityId: integer(),
    sentOn: date().notNull(),
    sentAt: moment().notNull().defaultNow(),
    toAddress: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    /** The whole message as it goes over the wire (RFC 5322). */
    message: text().notNull(),
    /** Whether it stays in the mailbox here, or goes out by the mail server of the setting SMTP_URL. */
    state: text().$type<'kept' | 'waiting' | 'sent' | 'failed'>().notNull().default('kept'),
    problem: text().notNull().default(''),
    passedOnAt: moment(),
  },
  (table) => [index('mails_user').on(table.userId, table.id)],
)

/** Who changed what: one row per edit of a definition or a document. */
export const changes = pgTable(
  'changes',
  {
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
    /** The network address that it came from, where that is kept: of sign-ins and of what is changed about people. */
    address: text(),
    /** The key of the script by which it was done. */
    keyId: integer(),
  },
  (table) => [
    index('changes_entity').on(table.entity, table.entityId),
    index('changes_batch').on(table.batchId),
    index('changes_at').on(table.at),
  ],
)

/** The answer that a command gave, by the key its client made: the same key gives the same answer again. */
export const answers = pgTable('answers', {
  key: uuid().primaryKey(),
  userId: integer().references(() => users.id),
  at: moment().notNull().defaultNow(),
  /** A digest of what was asked: its method, its path and its body. Null for what was answered before this was kept. */
  request: text(),
  answer: jsonb(),
})

/** The next number of each kind of document. */
export const counters = pgTable('counters', { name: text().primaryKey(), next: integer().notNull() })

export const calendars = pgTable('calendars', {
  id: id(),
  name: text().notNull().unique(),
  weekdays: boolean()
    .array()
    .notNull()
    .default(sql`'{t,t,t,t,t,f,f}'`),
  /** Hours of work on a working day, all hands together. */
  workHours: numeric(),
  note: text().notNull().default(''),
  version: version(),
})

export const closedDays = pgTable(
  'closed_days',
  {
    calendarId: integer()
      .notNull()
      .references(() => calendars.id, { onDelete: 'cascade' }),
    day: date().notNull(),
    note: text().notNull().default(''),
  },
  (table) => [primaryKey({ columns: [table.calendarId, table.day] })],
)

/** Lists as people saved them: filter, sort and columns, as they stand in an address. */
export const savedViews = pgTable(
  'saved_views',
  {
    id: id(),
    list: text().notNull(),
    name: text().notNull(),
    query: text().notNull(),
    userId: integer()
      .notNull()
      .references(() => users.id, { onDelete: 'cascade' }),
    isShared: boolean().notNull().default(false),
  },
  (table) => [uniqueIndex('saved_views_name').on(table.userId, table.list, table.name)],
)
