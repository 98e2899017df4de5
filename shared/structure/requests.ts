import * as z from 'zod'
import { OneOf, optional, positiveAmount } from '../catalogue/fields'
import { ITEM_SOURCES } from '../catalogue/words'
import { Day, Decimal, Id, Note, OptionalDay, Page, Text, Typed, Unit, Version } from '../primitives'
import { COST_BASES, EXPLOSIONS } from './words'

export const BASES = ['per batch', 'per build'] as const

const above = (what: string) => Decimal(what).refine((text) => /[1-9]/.test(text), `Give ${what} above zero.`)
const Share = (what: string) =>
  Decimal(what)
    .default('0')
    .refine((text) => Number(text) < 100, `Keep ${what} below 100 %.`)
const Rank = z.coerce
  .number('Give a rank.')
  .int('Give a whole rank.')
  .min(1, 'Ranks begin at 1.')
  .max(99, 'Ranks end at 99.')
  .default(1)
const Short = z.string().trim().max(300, 'Keep it to 300 characters.').default('')

export const LineSubstitute = z.object({ itemId: Id, rank: Rank, per: positiveAmount('a ratio').default('1') })
export const BillLine = z.object({
  /** Counts from 1; lines are put in its order and counted anew. */
  position: z.coerce
    .number('Give a position.')
    .int('Give a whole position.')
    .min(1, 'Positions begin at 1.')
    .optional(),
  itemId: Id,
  quantity: positiveAmount('a quantity'),
  unit: Unit,
  basis: OneOf(BASES).default('per batch'),
  scrapPercent: Share('the scrap'),
  offsetDays: z.coerce
    .number('Give days.')
    .int('Give whole working days.')
    .min(-365, 'A year at most.')
    .max(365, 'A year at most.')
    .default(0),
  phantom: z.boolean().default(false),
  note: Short,
  substitutes: z.array(LineSubstitute).max(20).default([]),
})
export const ByProduct = z.object({
  itemId: Id,
  quantity: positiveAmount('a quantity'),
  unit: Unit,
  sharePercent: Share('the share of the cost'),
})
export const Step = z.object({
  position: z.coerce.number().int().min(1).optional(),
  text: Text('what is done', 2000),
  pictureId: optional(Id),
})
export type Step = z.output<typeof Step>

/** A revision of a bill of materials or of a kit's contents: a draft while it has no first day. */
export const BillEdit = z
  .object({
    itemId: Id,
    name: z.string().default(''),
    revision: z.coerce.number().int().min(0).default(0),
    fromOn: OptionalDay.default(null),
    batchSize: above('a batch').default('1'),
    batchUnit: Unit,
    yieldPercent: Decimal('the yield')
      .default('100')
      .refine((t) => Number(t) > 0 && Number(t) <= 100, 'The yield lies above 0 and up to 100 %.'),
    workMinutes: Decimal('the minutes').default('0'),
    minutesPerUnit: Decimal('the minutes').default('0'),
    workRate: Decimal('the rate').default('0'),
    otherCost: Decimal('the cost').default('0'),
    note: Note,
    lines: z.array(BillLine).max(2000, 'Keep a bill to 2 000 lines.').default([]),
    byProducts: z.array(ByProduct).max(50).default([]),
    steps: z.array(Step).max(200).default([]),
  })
  .superRefine((bill, context) => {
    const fault = (message: string, ...path: (string | number)[]): void => {
      context.addIssue({ code: 'custom', path, message })
    }
    bill.lines.forEach((line, index) => {
      if (line.itemId === bill.itemId) {
        fault('An item cannot contain itself.', 'lines', index, 'itemId')
      }
      line.substitutes.forEach((substitute, i) => {
        if (substitute.itemId === line.itemId) {
          fault('An item does not stand in for itself.', 'lines', index, 'substitutes', i, 'itemId')
        }
        if (line.substitutes.findIndex((candidate) => candidate.itemId === substitute.itemId) < i) {
          fault('This substitute is there already.', 'lines', index, 'substitutes', i, 'itemId')
        }
      })
    })
    bill.byProducts.forEach((byProduct, index) => {
      if (byProduct.itemId === bill.itemId) {
        fault('A by-product is something else than what the bill is for.', 'byProducts', index, 'itemId')
      }
      if (bill.byProducts.findIndex((candidate) => candidate.itemId === byProduct.itemId) < index) {
        fault('This by-product is there already.', 'byProducts', index, 'itemId')
      }
    })
    if (bill.byProducts.reduce((sum, byProduct) => sum + Number(byProduct.sharePercent), 0) >= 100) {
      fault('By-products carry less than 100 % of the cost together.', 'byProducts')
    }
  })
  .transform((bill) => ({ ...bill, lines: inOrder(bill.lines), steps: inOrder(bill.steps) }))
export type BillEdit = z.output<typeof BillEdit>

/** By their positions where they have one, else as they come; counted anew. */
function inOrder<T extends { position?: number | undefined }>(list: readonly T[]): (T & { position: number })[] {
  return list
    .map((entry, index) => ({ entry, at: index, place: entry.position ?? index + 1 }))
    .sort((a, b) => a.place - b.place || a.at - b.at)
    .map(({ entry }, index) => ({ ...entry, position: index + 1 }))
}

/** What a quantity of a bulk item gives when it is broken down. */
export const BreakDownEdit = z
  .object({
    itemId: Id,
    name: z.string().default(''),
    rank: Rank,
    take: above('a quantity').default('1'),
    unit: Unit,
    loss: Decimal('the loss').default('0'),
    lossUnit: optional(Unit),
    lossWrittenOff: z.boolean().default(false),
    onArrival: z.boolean().default(false),
    note: Note,
    outputs: z
      .array(
        z.object({
          itemId: Id,
          quantity: positiveAmount('a quantity'),
          unit: Unit,
          share: Decimal('the share').default('1'),
        }),
      )
      .min(1, 'Say what it gives.')
      .max(100),
  })
  .superRefine((recipe, context) => {
    recipe.outputs.forEach((output, index) => {
      if (output.itemId === recipe.itemId) {
        context.addIssue({
          code: 'custom',
          path: ['outputs', index, 'itemId'],
          message: 'A break-down gives something else than what it takes.',
        })
      }
      if (recipe.outputs.findIndex((candidate) => candidate.itemId === output.itemId) < index) {
        context.addIssue({
          code: 'custom',
          path: ['outputs', index, 'itemId'],
          message: 'This output is there already.',
        })
      }
    })
    if (recipe.outputs.length > 0 && recipe.outputs.every((output) => Number(output.share) === 0)) {
      context.addIssue({
        code: 'custom',
        path: ['outputs', 0, 'share'],
        message: 'At least one output carries the cost.',
      })
    }
  })

const Files = { format: z.enum(['json', 'csv', 'xlsx']).default('json') }
const Basis = z.enum(COST_BASES, 'Choose what costs are taken from.').default('current')
export const ExplodeQuery = z.object({
  quantity: Typed.prefault('1'),
  unit: z.string().default(''),
  how: z.enum(EXPLOSIONS).default('summed'),
  basis: Basis,
  revision: z.coerce.number().int().optional(),
  ...Files,
})
export const WhereUsedQuery = z.object(Files)
export const BuildableQuery = z.object({
  wanted: z
    .array(z.object({ itemId: Id, quantity: Typed, unit: z.string().default('') }))
    .min(1, 'Choose what you want to make.')
    .max(50),
  ...Files,
})
export const PartsQuery = z.object({
  of: z.union([Id.transform((id) => [id]), z.array(Id)]),
  revision: z.coerce.number().int().optional(),
})
export const CompareQuery = z.object({ before: Id, after: Id, basis: Basis, ...Files })
/** Of some items, or of all. */
export const StructuresFileQuery = z.object({ of: z.union([Id.transform((id) => [id]), z.array(Id)]).optional() })
export const LookUp = z.object({ words: z.array(z.string().max(200)).max(2000, 'Look up at most 2 000 at a time.') })
export const Revise = z.object({ from: optional(Id) })
export const ReplaceComponent = z.object({
  itemId: Id,
  by: Id,
  per: positiveAmount('a ratio').default('1'),
  bills: z.array(Id).max(5000).default([]),
  fromOn: OptionalDay.default(null),
  dry: z.boolean().default(true),
})
export const UseDrafts = z.object({ bills: z.array(Id).min(1, 'Choose at least one draft.').max(5000), fromOn: Day })
/** `becomes`: what its item is from then on, where it was neither made nor a kit. */
export const UseBill = z.object({
  version: Version,
  fromOn: Day,
  becomes: OneOf(['made', 'kit'] as const).default('made'),
})
export const BillList = Page.extend({
  state: z.enum(['', 'draft', 'current', 'to come', 'past', 'none']).default(''),
  source: z.enum(['', ...ITEM_SOURCES]).default(''),
})
