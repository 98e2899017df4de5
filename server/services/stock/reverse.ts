import { eq, sql } from 'drizzle-orm'
import { ratio } from '~~/core/units'
import { db, rows, type Tx } from '~~/server/database/client'
import { breakDowns, moves, postings } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { may, rolesWith, type Right } from '~~/shared/people'
import { reopenBuild, reopenClosed } from '../workshop/close-build'
import { arrivedActs } from '../workshop/break-down-on-receipt'
import { post, type DraftMove, type Status } from './post'

const RIGHTS: Readonly<Record<string, Right>> = {
  'goods receipt': 'receive',
  build: 'make',
  'kit packing': 'make',
  'build closed': 'make',
  unpacking: 'make',
  cut: 'make',
  'break-down': 'make',
  shipment: 'ship',
  correction: 'stock',
  move: 'stock',
  'supplier invoice': 'books',
  'standard cost': 'books',
  're-valuation': 'books',
}

/** Whoever may do an act may take it back. */
export async function requireReversal(actor: Actor, postingId: number): Promise<void> {
  const [posting] = await db.select({ kind: postings.kind }).from(postings).where(eq(postings.id, postingId))
  const right = RIGHTS[posting?.kind ?? ''] ?? 'stock'
  if (!may(actor.role, right)) {
    throw new Refusal(
      'missing-right',
      `You are signed in as ${actor.role}. This needs one of: ${rolesWith(right).join(', ')}.`,
    )
  }
}

/**
 * Takes an act back by a counter-entry: every move the other way round, at its own value; the document it belongs to is opened again.
 *
 * Errors: `not-found`; `not-now` (already reversed, or itself a reversal); `short` where the goods have gone on meanwhile.
 */
export async function reverse(tx: Tx, actor: Actor, postingId: number): Promise<{ postingId: number; label: string }> {
  // Two who take the same act back at once: the second waits, and is told.
  await rows(tx, sql`select pg_advisory_xact_lock(7302, ${postingId})`)
  const [original] = await tx.select().from(postings).where(eq(postings.id, postingId))
  if (!original) {
    throw new Refusal('not-found', 'There is no such act.')
  }
  if (original.reversesId !== null) {
    throw new Refusal('not-now', 'This is itself a reversal. Do the act again instead.')
  }
  const [earlier] = await tx.select().from(postings).where(eq(postings.reversesId, postingId))
  if (earlier) {
    throw new Refusal('not-now', `“${original.label}” has been reversed already.`)
  }
  if (original.kind === 'opening stock') {
    await requireUntouched(tx, postingId)
  }
  if (original.documentKind === 'build') {
    await requireNewest(tx, postingId, original.documentId!)
  }
  if (original.kind === 'build closed') {
    const reopened = await reopenClosed(tx, actor, postingId)
    await reopenBuild(tx, original.documentId!)
    return reopened
  }
  if (original.kind === 'goods receipt') {
    for (const act of await arrivedActs(tx, postingId)) {
      await reverse(tx, actor, act)
    }
  }
  const lines = await tx.select().from(moves).where(eq(moves.postingId, postingId)).orderBy(moves.line)
  if (lines.length === 0) {
    throw new Refusal('not-now', `“${original.label}” moved no goods. Take it back where it was recorded.`)
  }
  const drafts = lines.map((m): DraftMove => ({
    itemId: m.itemId,
    lotId: m.lotId,
    pieceId: m.pieceId,
    quantity: ratio(m.quantity),
    from: { placeId: m.toPlaceId, status: m.toStatus as Status | null },
    to: { placeId: m.fromPlaceId, status: m.fromStatus as Status | null },
    entered: m.enteredQuantity,
    unit: m.enteredUnit,
    residue: ratio(m.residueNumerator).div(ratio(m.residueDenominator)),
    valuation: { kind: 'back', of: m.id },
    ...(m.documentLineId !== null && { lineId: m.documentLineId }),
  }))
  const label = `Reversal of ${original.label}`
  const posted = await post(tx, actor, {
    kind: 'reversal',
    label,
    effectiveOn: actor.today,
    workValue: -BigInt(original.workValue),
    reverses: postingId,
    moves: drafts,
    ...(original.documentKind !== null &&
      original.documentId !== null && { document: { kind: original.documentKind, id: original.documentId } }),
  })
  await reopen(tx, original, lines)
  return { postingId: posted.postingId, label }
}

/** Opening stock stands once something else has happened to what it brought. */
async function requireUntouched(tx: Tx, postingId: number): Promise<void> {
  const [later] = await rows<{ code: string; label: string }>(
    tx,
    sql`
      select i.code, o.label
      from moves m
      join postings o on o.id = m.posting_id
      join items i on i.id = m.item_id
      where m.item_id in (select item_id from moves where posting_id = ${postingId})
        and o.kind <> 'opening stock'
        and o.kind <> 'reversal'
        and not exists (select 1 from postings r where r.reverses_id = o.id)
      order by m.id
      limit 1`,
  )
  if (later) {
    throw new Refusal(
      'not-now',
      `${later.code} has moved since (“${later.label}”), so its opening stock stands. Correct what is wrong instead.`,
    )
  }
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
        and reverses_id is null
        and not exists (select 1 from postings r where r.reverses_id = o.id)
      order by id desc
      limit 1`,
  )
  if (later) {
    throw new Refusal('not-now', `“${later.label}” came after it. Take that back first, or undo the whole build.`)
  }
}

const TRANSFER_COLUMNS = { 'transfer out': 'shipped', 'transfer in': 'received', correction: 'lost' } as const

async function reopen(
  tx: Tx,
  original: typeof postings.$inferSelect,
  lines: readonly { documentLineId: number | null; quantity: string }[],
): Promise<void> {
  const { documentKind: kind, documentId: id } = original
  if (id === null) {
    return
  }
  const takeBack = async (
    column: 'received' | 'shipped' | 'lost',
    table: 'purchase_lines' | 'sales_lines' | 'transfer_lines',
  ): Promise<void> => {
    for (const line of lines) {
      await rows(
        tx,
        sql`
          update ${sql.identifier(table)}
          set ${sql.identifier(column)} = ${sql.identifier(column)} - ${line.quantity}::numeric
          where id = ${line.documentLineId}`,
      )
    }
  }
  if (kind === 'purchase order') {
    await takeBack('received', 'purchase_lines')
    await rows(tx, sql`update purchase_orders set status = 'open', version = version + 1 where id = ${id}`)
  }
  if (kind === 'sales order') {
    await takeBack('shipped', 'sales_lines')
    await rows(tx, sql`update sales_orders set status = 'open', version = version + 1 where id = ${id}`)
  }
  if (kind === 'transfer') {
    await takeBack(TRANSFER_COLUMNS[original.kind as keyof typeof TRANSFER_COLUMNS], 'transfer_lines')
    await rows(tx, sql`update transfers set status = 'open', version = version + 1 where id = ${id}`)
  }
  if (kind === 'stock count') {
    await rows(
      tx,
      sql`
        update stock_counts
        set status = 'open', posting_id = null, approved_by = null, approved_on = null, version = version + 1
        where id = ${id}`,
    )
  }
  // Lengths that were cut are planned again once the last of them is taken back.
  if (kind === 'cutting job') {
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
              and o.reverses_id is null
              and not exists (select 1 from postings r where r.reverses_id = o.id)
          )`,
    )
  }
  if (kind === 'build') {
    await reopenBuild(tx, id)
  }
  // What was broken down on arrival goes back with the goods that it came with; nobody planned it.
  if (kind === 'break-down') {
    await tx
      .update(breakDowns)
      .set({
        status: sql`case when ${breakDowns.arrivalId} is null then 'planned' else 'cancelled' end`,
        version: sql`${breakDowns.version} + 1`,
      })
      .where(eq(breakDowns.id, id))
  }
}
