import { sql } from 'drizzle-orm'
import {
  boolean,
  check,
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  unique,
} from 'drizzle-orm/pg-core'
import type { CutPlan, WantedCut } from '~~/shared/workshop/cutting'
import { items, sites, units } from './catalogue'
import { id, quantity, version } from './columns'
import { postings } from './stock'
import { boms, recipes } from './structure'

export const builds = pgTable(
  'builds',
  {
    id: id(),
    number: text().notNull().unique(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    bomId: integer()
      .notNull()
      .references(() => boms.id),
    siteId: integer()
      .notNull()
      .references(() => sites.id),
    quantity: quantity().notNull(),
    /** What came out good until now. */
    made: quantity().notNull().default('0'),
    releaseOn: date().notNull(),
    dueOn: date().notNull(),
    status: text().notNull().default('draft'),
    startedOn: date(),
    doneOn: date(),
    /** The sales order line, or the build, that it is for. */
    salesLineId: integer(),
    forBuildId: integer(),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [
    index('builds_status').on(table.status),
    check('builds_quantity', sql`${table.quantity} > 0 and ${table.made} >= 0`),
  ],
)

/** What a build takes: the bill's components for the whole build, as this job has them. */
export const buildLines = pgTable(
  'build_lines',
  {
    id: id(),
    buildId: integer()
      .notNull()
      .references(() => builds.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    /** The component of the bill that it stands in for. */
    forItemId: integer().references(() => items.id),
    /** For the whole build, and until now; in the stock unit. */
    need: quantity().notNull(),
    used: quantity().notNull().default('0'),
    /** How much of the need what was recorded accounts for, whatever was really used. */
    covered: quantity().notNull().default('0'),
    /** The unit in which the bill says it. */
    unit: text()
      .notNull()
      .references(() => units.code),
    /** What one stock unit was thought to cost when the build was written, in minor units. */
    planned: numeric().notNull().default('0'),
    /** Changed for this job; it does not follow the bill any more. */
    byHand: boolean().notNull().default(false),
  },
  (table) => [
    unique().on(table.buildId, table.position),
    index('build_lines_item').on(table.itemId),
    check('build_lines_sound', sql`${table.need} >= 0 and ${table.used} >= 0`),
  ],
)

/**
 * How much of a line's need a posting accounts for, and what of it went into work ahead of what it is for, or was taken
 * from there.
 */
export const buildUses = pgTable(
  'build_uses',
  {
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    lineId: integer()
      .notNull()
      .references(() => buildLines.id, { onDelete: 'cascade' }),
    covers: quantity().notNull(),
    ahead: numeric().notNull(),
  },
  (table) => [primaryKey({ columns: [table.postingId, table.lineId] }), index('build_uses_line').on(table.lineId)],
)

/** What was spoiled while building, with the reason; part of what the posting used. */
export const buildScraps = pgTable(
  'build_scraps',
  {
    id: id(),
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    lineId: integer()
      .notNull()
      .references(() => buildLines.id, { onDelete: 'cascade' }),
    quantity: quantity().notNull(),
    reason: text().notNull(),
  },
  (table) => [
    index('build_scraps_posting').on(table.postingId),
    check('build_scraps_quantity', sql`${table.quantity} > 0`),
  ],
)

/** Minutes worked, as they were recorded with a part of a build. */
export const buildMinutes = pgTable(
  'build_minutes',
  {
    postingId: integer()
      .primaryKey()
      .references(() => postings.id),
    buildId: integer()
      .notNull()
      .references(() => builds.id),
    minutes: numeric().notNull(),
  },
  (table) => [index('build_minutes_build').on(table.buildId)],
)

export const breakDowns = pgTable(
  'break_downs',
  {
    id: id(),
    number: text().notNull().unique(),
    recipeId: integer()
      .notNull()
      .references(() => recipes.id),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    siteId: integer()
      .notNull()
      .references(() => sites.id),
    /** How many times the recipe is run. */
    times: quantity().notNull(),
    dueOn: date().notNull(),
    status: text().notNull().default('planned'),
    /** The goods receipt that it was broken down with, on arrival. */
    arrivalId: integer().references(() => postings.id),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [index('break_downs_status').on(table.status), check('break_downs_times', sql`${table.times} > 0`)],
)

/** Lengths to be cut from pieces of one item, and from which piece each is to come. */
export const cuttingJobs = pgTable(
  'cutting_jobs',
  {
    id: id(),
    number: text().notNull().unique(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    siteId: integer()
      .notNull()
      .references(() => sites.id),
    dueOn: date().notNull(),
    /** What a cut takes away, and the least offcut that goes back to stock; in the stock unit. */
    kerf: quantity().notNull().default('0'),
    keep: quantity().notNull().default('0'),
    oneLot: boolean().notNull().default(false),
    wanted: jsonb().$type<WantedCut[]>().notNull().default([]),
    plan: jsonb().$type<CutPlan | null>(),
    status: text().notNull().default('draft'),
    note: text().notNull().default(''),
    version: version(),
  },
  (table) => [
    index('cutting_jobs_item').on(table.itemId),
    check('cutting_jobs_sound', sql`${table.kerf} >= 0 and ${table.keep} >= 0`),
  ],
)
