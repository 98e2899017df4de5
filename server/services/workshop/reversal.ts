import { eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { breakDowns } from '~~/server/database/schema'
import type { Reversals } from '~~/server/ledger/reversals'
import { Refusal } from '~~/server/utils/refusal'
import { endInspections, requireUndecided } from '../inspection'
import { arrivedActs } from './break-down-on-receipt'
import { reopenBuild } from './build-status'
import { reopenClosed } from './close-build'

export const workshopReversals: Reversals = {
  'document build': {
    require: async (tx, original) => {
      await requireNewest(tx, original.id, original.documentId!)
      await requireUndecided(tx, original)
    },
    reopen: async (tx, original) => {
      await endInspections(tx, original)
      await reopenBuild(tx, original.documentId!)
    },
  },
  'posting build closed': {
    instead: (tx, actor, original) => reopenClosed(tx, actor, original.id),
  },
  // What was broken down on arrival goes back before the goods that it came with.
  'posting goods receipt': {
    before: (tx, original) => arrivedActs(tx, original.id),
  },
  'document break-down': {
    // What was broken down on arrival goes back with the goods that it came with; nobody planned it.
    reopen: async (tx, original) => {
      await tx
        .update(breakDowns)
        .set({
          status: sql`case when ${breakDowns.arrivalId} is null then 'planned' else 'cancelled' end`,
          version: sql`${breakDowns.version} + 1`,
        })
        .where(eq(breakDowns.id, original.documentId!))
    },
  },
  'document cutting job': {
    reopen: (tx, original) => reopenCutting(tx, original.documentId!),
  },
}

/** Lengths that were cut are planned again once the last of them is taken back. */
async function reopenCutting(tx: Tx, id: number): Promise<void> {
  await rows(
    tx,
    sql`
      update cutting_jobs
      set status = 'draft', version = version + 1
      where id = ${id}
        and not exists (
          select 1
          from postings o
          where o.document_kind = 'cutting job'
            and o.document_id = ${id}
            and ${isLive('o')}
        )`,
  )
}

/** The parts of a build hand value on from one to the next, so the newest is taken back first. */
async function requireNewest(tx: Tx, postingId: number, buildId: number): Promise<void> {
  const [later] = await rows<{ label: string }>(
    tx,
    sql`
      select label
      from postings o
      where document_kind = 'build'
        and document_id = ${buildId}
        and id > ${postingId}
        and ${isLive('o')}
      order by id desc
      limit 1`,
  )
  if (later) {
    throw new Refusal('not-now', `“${later.label}” came after it. Take that back first, or undo the whole build.`)
  }
}
