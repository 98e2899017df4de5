import { checkLedger } from '~~/server/ledger/check'
import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { computeApart } from '~~/server/services/planning/runs'
import { dailyLowStock } from '~~/server/services/stock/low-stock'
import type { JobData } from './definitions'

export type ThreadedName = 'plan' | 'low-stock' | 'month-ends' | 'ledger-check'

/** What is computed for longer than others should wait; what it answers is kept with the work. */
export const THREADED: {
  readonly [Name in ThreadedName]: (
    data: JobData[Name],
    jobId: string,
    onPhase: (phase: string, percent: number) => void,
  ) => Promise<unknown>
} = {
  plan: computeApart,
  'low-stock': () => dailyLowStock(),
  'month-ends': () => keepMonthEnds(),
  'ledger-check': async () => ({ differing: (await checkLedger()).length }),
}
