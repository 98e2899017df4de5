import * as z from 'zod'
import { Id, Page } from '../primitives'
import { ITEM_KINDS, ITEM_SOURCES, ITEM_STATUSES, SETTABLE } from './words'

export const ItemQuery = Page.extend({
  status: z.enum(['', ...ITEM_STATUSES]).default(''),
  group: z.coerce.number().int().optional(),
  source: z.enum(['', ...ITEM_SOURCES]).default(''),
  kind: z.enum(['', ...ITEM_KINDS]).default(''),
  supplier: z.coerce.number().int().optional(),
})

/** Whoever is traded with, searched by a few letters of name or code. */
export const PartnerQuery = z.object({
  kind: z.enum(['customer', 'supplier'], 'Say customer or supplier.'),
  search: z.string().trim().max(200).default(''),
})
export type PartnerQuery = z.infer<typeof PartnerQuery>

export const SetMany = z.object({
  ids: z.array(Id).min(1, 'Choose at least one item.').max(50_000),
  field: z.enum(SETTABLE, 'Choose a field.'),
  value: z.string().trim().max(2000),
  inherit: z.boolean().default(false),
  dry: z.boolean().default(false),
})

export const FreeCode = z.object({ group: Id })

export type SetMany = z.output<typeof SetMany>
