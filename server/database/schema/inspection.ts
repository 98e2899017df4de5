import { sql } from 'drizzle-orm'
import { boolean, check, date, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import type { Characteristic, SampleRule } from '~~/core/inspection'
import type { InspectionDecision, InspectionPlanSeen } from '~~/shared/inspection/words'
import { itemGroups, items, places, suppliers } from './catalogue'
import { id, quantity, version } from './columns'
import { users } from './company'
import { pictures } from './files'
import { lots, pieces, postings } from './stock'

/** What is looked at before goods are used: of an item, of a group with all below it, or of a supplier. */
export const inspectionPlans = pgTable(
  'inspection_plans',
  {
    id: id(),
    code: text().notNull().unique(),
    name: text().notNull(),
    itemId: integer().references(() => items.id),
    groupId: integer().references(() => itemGroups.id),
    supplierId: integer().references(() => suppliers.id),
    onReceipts: boolean().notNull().default(true),
    onBuilds: boolean().notNull().default(false),
    rule: jsonb().$type<SampleRule>().notNull(),
    characteristics: jsonb().$type<Characteristic[]>().notNull(),
    note: text().notNull().default(''),
    retired: boolean().notNull().default(false),
    version: version(),
  },
  (table) => [
    check('inspection_plans_of_one', sql`num_nonnulls(${table.itemId}, ${table.groupId}, ${table.supplierId}) = 1`),
    index('inspection_plans_item').on(table.itemId),
  ],
)

/** Goods that wait on hold until their sample has been looked at, and what was decided. */
export const inspections = pgTable(
  'inspections',
  {
    id: id(),
    number: text().notNull().unique(),
    planId: integer()
      .notNull()
      .references(() => inspectionPlans.id),
    /** The plan as it was then. */
    plan: jsonb().$type<InspectionPlanSeen>().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    supplierId: integer().references(() => suppliers.id),
    /** The goods receipt or the build that brought them. */
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    status: text().$type<'open' | 'decided' | 'taken back'>().notNull().default('open'),
    openedOn: date().notNull(),
    letter: text().notNull().default(''),
    sampleSize: integer().notNull(),
    accept: integer().notNull(),
    /** What was typed, by sample and characteristic. */
    samples: jsonb().$type<string[][]>().notNull().default([]),
    instrument: text().notNull().default(''),
    pictureId: integer().references(() => pictures.id),
    decision: text().$type<InspectionDecision>(),
    reason: text().notNull().default(''),
    failed: integer().notNull().default(0),
    accepted: quantity().notNull().default('0'),
    rejected: quantity().notNull().default('0'),
    decidedBy: integer().references(() => users.id),
    decidedOn: date(),
    decisionId: integer().references(() => postings.id),
    version: version(),
  },
  (table) => [
    index('inspections_open').on(table.itemId, table.status),
    index('inspections_posting').on(table.postingId),
    index('inspections_plan').on(table.planId),
  ],
)

/** What an inspection is about, where it was put. */
export const inspectionGoods = pgTable(
  'inspection_goods',
  {
    id: id(),
    inspectionId: integer()
      .notNull()
      .references(() => inspections.id, { onDelete: 'cascade' }),
    placeId: integer()
      .notNull()
      .references(() => places.id),
    lotId: integer().references(() => lots.id),
    pieceId: integer().references(() => pieces.id),
    quantity: quantity().notNull(),
  },
  (table) => [index('inspection_goods_of').on(table.inspectionId)],
)
