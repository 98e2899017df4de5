import { z } from 'zod'
import { buildUnitGraph, ratio, type ItemMeasure, type Unit, type UnitError } from '~~/core/units'
import type { Result } from '~~/core/result'
import { Decimal, Id, Money, Note, Page, Text, Version } from './primitives'

export const ITEM_SOURCES = ['bought', 'made', 'kit', 'broken down'] as const
export const ITEM_STATUSES = ['active', 'no longer bought', 'retired'] as const
export const TRACKINGS = ['none', 'lot'] as const

export interface UnitRow {
  readonly code: string, readonly name: string, readonly plural: string, readonly symbol: string, readonly dimension: Unit['dimension']
  readonly numerator: string | null, readonly denominator: string | null, readonly decimals: number, readonly rec20: string | null, readonly own: boolean, readonly retired: boolean
}
export interface RelationRow { readonly unit: string, readonly ofUnit: string, readonly numerator: string, readonly denominator: string }

export const unitOf = (row: UnitRow): Unit => ({ ...row, ratio: row.numerator === null ? null : ratio(row.numerator).div(ratio(row.denominator ?? '1')) })

/** How an item is measured, from its rows: the one way in which server and browser join its units. */
export function measureOf(units: readonly UnitRow[], item: { readonly stockUnit: string, readonly finestStep: string, readonly relations: readonly RelationRow[] }): Result<ItemMeasure, UnitError> {
  const byCode = new Map(units.map(row => [row.code, unitOf(row)]))
  const graph = buildUnitGraph(byCode, item.relations.map(r => ({ unit: r.unit, per: ratio(r.numerator).div(ratio(r.denominator)), of: r.ofUnit })))
  return graph.ok ? { ok: true, value: { graph: graph.value, stockUnit: item.stockUnit, finestStep: ratio(item.finestStep) } } : graph
}

const unit = z.string('Choose a unit.').min(1, 'Choose a unit.')
const exact = z.string('Type a number.').trim().regex(/^(\d+(\.\d+)?|\d+\/[1-9]\d*)$/, 'Write a number such as 24, 1.32 or 1/3.')

export const Relation = z.object({ unit, per: exact, ofUnit: unit })
export const Terms = z.object({
  supplierId: Id, supplierCode: z.string().trim().max(80).default(''), unit, price: Money,
  minimum: Decimal('the minimum').default('0'), multiple: Decimal('the multiple').default('0'),
  leadDays: z.coerce.number('Give working days.').int('Give whole working days.').min(0, 'A lead time is not below zero.').max(730, 'Two years at most.'),
})

export const ItemEdit = z.object({
  code: Text('a code', 40), name: Text('a name'), groupId: Id,
  status: z.enum(ITEM_STATUSES).default('active'), source: z.enum(ITEM_SOURCES).default('bought'), tracking: z.enum(TRACKINGS).default('none'),
  stockUnit: unit, buyingUnit: unit, sellingUnit: unit,
  finestStep: z.string('Give the finest step.').trim().regex(/^\d+(\.\d+)?$/, 'Write the smallest quantity to record, for example 0.001.').refine(t => /[1-9]/.test(t), 'The finest step must be above zero.'),
  leadDays: z.coerce.number('Give working days.').int('Give whole working days.').min(0, 'A lead time is not below zero.').max(730, 'Two years at most.').default(0),
  safetyStock: Decimal('the safety stock').default('0'),
  shelfLifeDays: z.coerce.number().int().positive('Give days above zero.').nullable().default(null),
  price: Money.nullable().default(null), note: Note,
  relations: z.array(Relation).default([]),
  terms: Terms.nullable().default(null),
})
export type ItemEdit = z.infer<typeof ItemEdit>
export const NewItem = ItemEdit
export const ChangedItem = ItemEdit.extend({ version: Version })

export const ItemQuery = Page.extend({ status: z.enum(['', ...ITEM_STATUSES]).default(''), group: z.coerce.number().int().optional(), source: z.enum(['', ...ITEM_SOURCES]).default('') })

export const NewGroup = z.object({ code: Text('a code', 40), name: Text('a name') })
export const NewParty = z.object({ code: Text('a code', 40), name: Text('a name'), email: z.union([z.literal(''), z.email('Give an e-mail address.')]).default(''), address: z.string().trim().max(500).default('') })
export const NewBin = z.object({ code: Text('a code', 40), name: Text('a name'), pickOrder: z.coerce.number('Give a number.').int().min(0).default(0), closedToPicking: z.boolean().default(false), closedToReceiving: z.boolean().default(false) })
