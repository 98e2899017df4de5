import * as z from 'zod'
import { typedQuantity } from '~~/core/units/quantity'
import { Id, Key, LotNumber, Text, Unit, Version } from '../primitives'
import { PieceLabel } from './requests'

export const COUNT_KINDS = ['everything', 'places', 'groups', 'items', 'due'] as const
const Ids = z.array(Id).max(2000).default([])
export const NewCount = z
  .object({
    key: Key,
    name: Text('a name', 80),
    kind: z.enum(COUNT_KINDS, 'Choose what to count.'),
    siteId: z.union([z.literal('').transform(() => null), z.null(), Id]).default(null),
    binIds: Ids,
    groupIds: Ids,
    itemIds: Ids,
    withNone: z.boolean().default(false),
    blind: z.boolean().default(true),
    recountOver: z
      .string()
      .trim()
      .regex(/^(\d+(\.\d{1,2})?)?$/, 'Write an amount such as 20, or leave it empty.')
      .default(''),
  })
  .superRefine((count, context) => {
    const need = { places: ['binIds', 'bin'], groups: ['groupIds', 'group'], items: ['itemIds', 'item'] } as const
    const wanted = count.kind === 'everything' || count.kind === 'due' ? null : need[count.kind]
    if (wanted && count[wanted[0]].length === 0) {
      context.addIssue({ code: 'custom', path: [wanted[0]], message: `Choose at least one ${wanted[1]}.` })
    }
  })
export type NewCount = z.infer<typeof NewCount>
export const EnterCounts = z.object({
  lines: z
    .array(
      z.object({
        lineId: Id,
        quantity: z.string().trim().transform(typedQuantity),
        unit: Unit,
        note: z.string().trim().max(200).default(''),
      }),
    )
    .min(1)
    .max(1000),
})
export type EnterCounts = z.infer<typeof EnterCounts>
export const AddCountLine = z.object({ itemId: Id, binId: Id, lot: LotNumber, piece: PieceLabel })
export type AddCountLine = z.infer<typeof AddCountLine>
export const CountFile = z.object({ fileName: z.string().max(200), content: z.string().max(15_000_000) })
export const ApproveCount = z.object({
  key: Key,
  version: Version,
  uncounted: z.enum(['refuse', 'leave']).default('refuse'),
})
export const EndCount = z.object({ version: Version })
