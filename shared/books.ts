import { z } from 'zod'

export const EXPORTS = ['items', 'balances', 'moves', 'journal', 'stock-value', 'sales-orders', 'purchase-orders', 'planned-orders'] as const
export type ExportName = (typeof EXPORTS)[number]
export const ExportParams = z.object({ table: z.enum(EXPORTS, 'There is no such export.') })
export const JournalQuery = z.object({ before: z.coerce.number().int().optional() })
