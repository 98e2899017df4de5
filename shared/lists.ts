import * as z from 'zod'
import { readFilter, type ListFilter } from './list-filter'

const Filter = z
  .string()
  .max(200, 'Keep a filter to 200 characters.')
  .transform((text, context): ListFilter => {
    const filter = readFilter(text)
    if (filter === null) {
      context.addIssue({ code: 'custom', message: `“${text}” is no filter of a list.` })
      return z.NEVER
    }
    return filter
  })
/** The filters of an address, none, one or several. */
export const Filters = z
  .union([z.array(Filter), Filter.transform((filter) => [filter])])
  .default([])
  .pipe(z.array(z.custom<ListFilter>()).max(20, 'Filter by at most 20 conditions.'))

/** The lists whose views can be saved. */
export const LISTS = [
  'items',
  'bills',
  'purchase orders',
  'buying list',
  'quotation requests',
  'blanket orders',
  'sales orders',
  'jobs',
  'cutting',
  'stock on hand',
  'stock by site',
  'lots',
  'moves',
  'counts',
  'transfers',
  'low stock',
  'dispatch',
  'plans',
  'forecasts',
  'planned orders',
  'stock value',
  'goods received not invoiced',
  'definitions',
] as const
export type ListName = (typeof LISTS)[number]

const ViewName = z
  .string('Give the view a name.')
  .trim()
  .min(1, 'Give the view a name.')
  .max(60, 'Keep it to 60 characters.')
/** What a view keeps: the part of the address that says tab, filter, sort and columns. */
const ViewQuery = z.string().max(2000, 'This view keeps too much: use fewer filters.')
export const ViewsQuery = z.object({ list: z.string().max(60) })
export const NewView = z.object({
  list: z.string().min(1).max(60),
  name: ViewName,
  query: ViewQuery,
  isShared: z.boolean().default(false),
})
/** A list as it was saved: who made it, and whether all may use it. */
export interface SavedView {
  readonly id: number
  readonly list: string
  readonly name: string
  readonly query: string
  readonly isShared: boolean
  readonly isOwn: boolean
  readonly owner: string
}

/** A table of the screen as a file: what stands in its cells, in the order in which it is shown. */
export const TableFile = z.object({
  name: z.string().trim().min(1).max(80),
  columns: z
    .array(z.object({ name: z.string().max(80), kind: z.enum(['text', 'number', 'day']) }))
    .min(1)
    .max(60),
  rows: z.array(z.array(z.string().max(4000))).max(50_000, 'A file holds at most 50 000 lines. Filter the list first.'),
})
export type TableFile = z.infer<typeof TableFile>
