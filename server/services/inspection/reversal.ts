import { and, eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { inspections } from '~~/server/database/schema'
import type { Posting, Reversals } from '~~/server/ledger/reversals'
import { freeArrived } from '../purchasing/buying/free-arrived'
import { Refusal } from '~~/server/utils/refusal'

/** A decision that is taken back leaves the inspection open, with all that was found. */
export const inspectionReversals: Reversals = {
  'document inspection': {
    before: async (tx, original) => {
      const [decided] = await tx
        .select({ receiptId: inspections.postingId })
        .from(inspections)
        .where(eq(inspections.id, original.documentId!))
      await freeArrived(tx, decided!.receiptId)
      return []
    },
    reopen: async (tx, original) => {
      await tx
        .update(inspections)
        .set({
          status: 'open',
          decision: null,
          reason: '',
          accepted: '0',
          rejected: '0',
          decidedBy: null,
          decidedOn: null,
          decisionId: null,
          version: sql`${inspections.version} + 1`,
        })
        .where(eq(inspections.id, original.documentId!))
    },
  },
}

/** Goods of which an inspection was decided do not go back before that does. Errors: `not-now`. */
export async function requireUndecided(tx: Tx, original: Posting): Promise<void> {
  const [decided] = await rows<{ number: string }>(
    tx,
    sql`select number from inspections where posting_id = ${original.id} and status = 'decided' limit 1`,
  )
  if (decided) {
    throw new Refusal('not-now', `${decided.number} decided on these goods. Take that back first.`)
  }
}

/** The inspections of goods that went back are about nothing any more. */
export async function endInspections(tx: Tx, original: Posting): Promise<void> {
  await tx
    .update(inspections)
    .set({ status: 'taken back', version: sql`${inspections.version} + 1` })
    .where(and(eq(inspections.postingId, original.id), eq(inspections.status, 'open')))
}
