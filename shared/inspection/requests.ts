import * as z from 'zod'
import {
  ACCEPTANCE_LIMITS,
  CHARACTERISTIC_KINDS,
  INSPECTION_LEVELS,
  MOST_SAMPLES,
  SEVERITIES,
} from '~~/core/inspection'
import { Id, Key, Note, OptionalId, Page, Text, Typed, Unit, Version } from '../primitives'
import { INSPECTION_DECISIONS } from './words'

const Limit = z
  .string()
  .trim()
  .regex(/^(-?\d{1,9}(\.\d{1,9})?)?$/, 'Write a limit such as 1.95, or leave it empty.')
  .default('')
const CharacteristicEdit = z
  .object({
    name: Text('what is looked at', 60),
    kind: z.enum(CHARACTERISTIC_KINDS, 'Choose what is recorded.'),
    unit: z.string().trim().max(20, 'Keep a unit to 20 characters.').default(''),
    low: Limit,
    high: Limit,
  })
  .refine(({ kind, low, high }) => kind !== 'measured' || low !== '' || high !== '', {
    path: ['low'],
    message: 'Give a lower limit, an upper limit, or both.',
  })
  .refine(({ low, high }) => low === '' || high === '' || Number(low) <= Number(high), {
    path: ['high'],
    message: 'The upper limit is below the lower one.',
  })
  .transform((entry) => (entry.kind === 'measured' ? entry : { ...entry, unit: '', low: '', high: '' }))

const Rule = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('all') }),
  z.object({
    kind: z.literal('number'),
    number: z
      .number('Say how many.')
      .int('Say how many, as a whole number.')
      .min(1, 'Look at one at least.')
      .max(MOST_SAMPLES, `Look at up to ${MOST_SAMPLES}.`),
  }),
  z.object({
    kind: z.literal('share'),
    percent: z
      .string()
      .trim()
      .regex(/^\d{1,3}(\.\d{1,4})?$/, 'Write a share such as 10.')
      .refine((text) => Number(text) > 0 && Number(text) <= 100, 'Write a share above 0 and up to 100.'),
  }),
  z.object({
    kind: z.literal('iso 2859-1'),
    level: z.enum(INSPECTION_LEVELS, 'Choose a level.'),
    limit: z.enum(ACCEPTANCE_LIMITS, 'Choose an acceptance limit.'),
    severity: z.enum(SEVERITIES, 'Choose normal, tightened or reduced.'),
  }),
])

/** What is looked at of which goods. */
export const InspectionPlanEdit = z
  .object({
    code: Text('a code', 30),
    name: Text('a name', 120),
    itemId: OptionalId,
    groupId: OptionalId,
    supplierId: OptionalId,
    onReceipts: z.boolean().default(true),
    onBuilds: z.boolean().default(false),
    rule: Rule,
    characteristics: z
      .array(CharacteristicEdit)
      .min(1, 'Add what is looked at.')
      .max(20, 'Keep it to 20 characteristics.'),
    note: Note,
  })
  .refine(({ itemId, groupId, supplierId }) => [itemId, groupId, supplierId].filter((id) => id !== null).length === 1, {
    path: ['itemId'],
    message: 'Choose one item, one group or one supplier that it is for.',
  })
  .refine(({ onReceipts, onBuilds }) => onReceipts || onBuilds, {
    path: ['onReceipts'],
    message: 'Say whether goods are inspected when they come in, when they were built, or both.',
  })
export type InspectionPlanEdit = z.output<typeof InspectionPlanEdit>
export const NewInspectionPlan = InspectionPlanEdit.safeExtend({ key: Key })
export const ChangedInspectionPlan = InspectionPlanEdit.safeExtend({ version: Version })
export const RetireInspectionPlan = z.object({ version: Version, retired: z.boolean() })

export const InspectionQuery = Page.extend({
  status: z.enum(['', 'open', 'decided', 'taken back']).default(''),
  item: OptionalId,
  supplier: OptionalId,
  plan: OptionalId,
})
export const RunChartQuery = z.object({ plan: Id, item: Id })

const Values = z
  .array(z.array(z.string().trim().max(120, 'Keep it to 120 characters.')).max(20))
  .max(MOST_SAMPLES, `Record up to ${MOST_SAMPLES} samples.`)
/** What was found, kept while it is being looked at. */
export const InspectionResults = z.object({
  version: Version,
  samples: Values,
  instrument: z.string().trim().max(120, 'Keep it to 120 characters.').default(''),
  pictureId: OptionalId,
})
export type InspectionResults = z.output<typeof InspectionResults>
/** What is decided; `accepted` is how much may be used, where the goods are sorted. */
export const DecideInspection = z.object({
  key: Key,
  version: Version,
  decision: z.enum(INSPECTION_DECISIONS, 'Choose what is decided.'),
  reason: z.string().trim().max(500, 'Keep it to 500 characters.').default(''),
  accepted: Typed.nullish(),
  unit: Unit.nullish(),
  /** The pieces that may be used, of goods that are kept in pieces. */
  pieceIds: z.array(Id).max(500).default([]),
})
export type DecideInspection = z.output<typeof DecideInspection>
