import { sql } from 'drizzle-orm'
import { shareWork } from '~~/core/costing'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { loadMeasuredItem, type MeasuredItem } from '../catalogue/measured-items'
import { loadJob } from '../../ledger/cost-history'
import { recordPosting } from '../../ledger/post'
import { requireOpenDay } from '../../ledger/requirements'
import { reverse } from '../../ledger/reverse'
import type { Build } from './build-status'
import { giveFree } from './allocate-build'
import { lockAsSeen, saveDocument } from '../../documents'

/** What is in work of a build now, in minor units. */
export async function inWorkOf(reader: Reader, buildId: number): Promise<bigint> {
  const job = await loadJob(reader, `build/${buildId}`)
  const amounts = new Map(job.moves.map((move) => [move.id, move.amounts]))
  return shareWork(job, (id) => amounts.get(id)!).left
}

/** Writes off what is still in work: debit corrections, credit work in progress. */
export async function closeWork(tx: Tx, actor: Actor, build: Build, item: MeasuredItem, day: string): Promise<bigint> {
  const left = await inWorkOf(tx, build.id)
  if (left === 0n) {
    return 0n
  }
  const [company] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  requireOpenDay(day, company?.closed ?? null, actor.today)
  const [postingId] = await recordPosting(tx, actor, {
    kind: 'build closed',
    label: `${build.number} of ${item.code} closed; what was in work written off`,
    document: { kind: 'build', id: build.id },
    effectiveOn: day,
  })
  await writeOff(tx, postingId!, left, day)
  return left
}

const writeOff = (tx: Tx, postingId: number, amount: bigint, day: string): Promise<unknown> =>
  rows(
    tx,
    sql`
      insert into entries (posting_id, account, amount, effective_on)
      values
        (${postingId}, 'workshop', ${(-amount).toString()}::bigint, ${day}),
        (${postingId}, 'correction', ${amount.toString()}::bigint, ${day})`,
  )

/**
 * Finishes a build with what has come of it. What was used for what never came is written off, unless a part took it
 * all.
 */
export async function closeBuild(
  tx: Tx,
  actor: Actor,
  id: number,
  version: number,
): Promise<{ version: number; writtenOff: string }> {
  const build = await lockAsSeen(tx, 'build', id, version, ['started'])
  const written = await closeWork(tx, actor, build, await loadMeasuredItem(tx, build.itemId), actor.today)
  await giveFree(tx, sql`l.build_id = ${id}`)
  return {
    ...(await saveDocument(tx, actor, 'build', build, { set: { status: 'done', doneOn: actor.today } })),
    writtenOff: written.toString(),
  }
}

/** Takes the writing off of a build back; the build is open again. */
export async function reopenClosed(
  tx: Tx,
  actor: Actor,
  postingId: number,
): Promise<{ postingId: number; label: string }> {
  const [closing] = await rows<{ label: string; buildId: number; written: string }>(
    tx,
    sql`
      select
        o.label, o.document_id as "buildId",
        coalesce(
          (
            select -sum(e.amount)
            from entries e
            where o.id in (e.posting_id, e.cause_id) and e.account = 'workshop'
          ),
          0
        )::text as written
      from postings o
      where o.id = ${postingId}`,
  )
  const label = `Reversal of ${closing!.label}`
  const [made] = await recordPosting(tx, actor, {
    kind: 'reversal',
    label,
    document: { kind: 'build', id: closing!.buildId },
    effectiveOn: actor.today,
    reverses: postingId,
  })
  await writeOff(tx, made!, -BigInt(closing!.written), actor.today)
  return { postingId: made!, label }
}

/** Takes back everything that was recorded of a build, the newest part first, all or nothing. */
export async function undoBuild(tx: Tx, actor: Actor, id: number, version: number): Promise<{ taken: number }> {
  await lockAsSeen(tx, 'build', id, version, ['started', 'done'])
  const recorded = await rows<{ id: number }>(
    tx,
    sql`
      select id
      from postings o
      where document_kind = 'build'
        and document_id = ${id}
        and ${isLive('o')}
      order by id desc`,
  )
  if (recorded.length === 0) {
    throw new Refusal('not-now', 'Nothing of this build is recorded.')
  }
  for (const posting of recorded) {
    await reverse(tx, actor, posting.id)
  }
  return { taken: recorded.length }
}
