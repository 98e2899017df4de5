import { db } from '~~/server/database/client'
import { forgetAnswers } from '~~/server/database/transactions'
import { dailyBackup } from '~~/server/services/backup/daily'
import { isMonthEndDue } from '~~/server/services/books/month-ends'
import { passOn, enqueueWaitingLetters } from '~~/server/services/company/mails'
import { enqueueUncomputedPlans } from '~~/server/services/planning/runs'
import { clearOld } from '~~/server/services/people/clear'
import { deliverCalls, enqueueWaitingCalls } from '~~/server/services/running/hook-calls'
import { isLowStockDue } from '~~/server/services/stock/low-stock'
import type { JobData, JobName, Progress } from './definitions'
import { inThread } from './in-thread'

/** Does one piece of work; what it throws is told, and it is tried again as its definition says. */
export type Handlers = {
  readonly [Name in JobName]: (data: JobData[Name], jobId: string, progress: Progress) => Promise<unknown>
}

/** Nobody sends an act again after so many days. */
const ANSWERS_KEPT_DAYS = 30

/** How each kind of background work is done. */
export const HANDLERS: Handlers = {
  plan: (data, jobId, progress) => inThread('plan', jobId, data, progress),
  'low-stock': async (data, jobId, progress) =>
    (await isLowStockDue()) ? inThread('low-stock', jobId, data, progress) : undefined,
  'month-ends': async (data, jobId, progress) =>
    (await isMonthEndDue()) ? inThread('month-ends', jobId, data, progress) : undefined,
  backup: () => dailyBackup(new Date()),
  'ledger-check': (data, jobId, progress) => inThread('ledger-check', jobId, data, progress),
  letter: ({ mailId }, _, { isLastTry }) => passOn(mailId, isLastTry),
  'hook-calls': ({ hookId, about }, _, { isLastTry }) => deliverCalls(hookId, about, isLastTry),
  outgoing: async () => {
    await enqueueWaitingLetters(db)
    await enqueueWaitingCalls(db)
    await enqueueUncomputedPlans(db)
  },
  clearing: async () => {
    await forgetAnswers(ANSWERS_KEPT_DAYS)
    await clearOld()
  },
}
