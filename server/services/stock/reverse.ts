import { eq, sql } from 'drizzle-orm'
import { ratio } from '~~/core/units'
import { db, rows, type Tx } from '~~/server/database/client'
import { breakDowns, builds, moves, postings } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { may, rolesWith, type Right } from '~~/shared/people'
import { post, type DraftMove, type Status } from './post'

const RIGHTS: Readonly<Record<string, Right>> = { 'goods receipt': 'receive', 'build': 'make', 'kit packing': 'make', 'break-down': 'make', 'shipment': 'ship', 'correction': 'stock', 'move': 'stock' }

/** Whoever may do an act may take it back. */
export async function requireReversal(actor: Actor, postingId: number): Promise<void> {
  const [posting] = await db.select({ kind: postings.kind }).from(postings).where(eq(postings.id, postingId))
  const right = RIGHTS[posting?.kind ?? ''] ?? 'stock'
  if (!may(actor.role, right)) throw new Refusal('missing-right', `You are signed in as ${actor.role}. This needs one of: ${rolesWith(right).join(', ')}.`)
}

/**
 * Takes an act back by a counter-entry: every move the other way round, at its own value; the document it belongs to is opened again.
 *
 * Errors: `not-found`; `not-now` (already reversed, or itself a reversal); `short` where the goods have gone on meanwhile.
 */
export async function reverse(tx: Tx, actor: Actor, postingId: number): Promise<{ postingId: number, label: string }> {
  const [original] = await tx.select().from(postings).where(eq(postings.id, postingId))
  if (!original) throw new Refusal('not-found', 'There is no such act.')
  if (original.reversesId !== null) throw new Refusal('not-now', 'This is itself a reversal. Do the act again instead.')
  const [earlier] = await tx.select().from(postings).where(eq(postings.reversesId, postingId))
  if (earlier) throw new Refusal('not-now', `“${original.label}” has been reversed already.`)
  const lines = await tx.select().from(moves).where(eq(moves.postingId, postingId)).orderBy(moves.line)
  const drafts = lines.map((m): DraftMove => ({
    itemId: m.itemId, lotId: m.lotId, quantity: ratio(m.quantity), from: { placeId: m.toPlaceId, status: m.toStatus as Status | null }, to: { placeId: m.fromPlaceId, status: m.fromStatus as Status | null },
    entered: m.enteredQuantity, unit: m.enteredUnit, residue: ratio(m.residueNumerator).div(ratio(m.residueDenominator)), valuation: { kind: 'back', value: BigInt(m.value) },
    ...m.documentLineId !== null && { lineId: m.documentLineId },
  }))
  const label = `Reversal of ${original.label}`
  const posted = await post(tx, actor, {
    kind: 'reversal', label, effectiveOn: actor.today, workValue: -BigInt(original.workValue), reverses: postingId, moves: drafts,
    ...original.documentKind !== null && original.documentId !== null && { document: { kind: original.documentKind, id: original.documentId } },
  })
  await reopen(tx, original.documentKind, original.documentId, lines)
  return { postingId: posted.postingId, label }
}

async function reopen(tx: Tx, kind: string | null, id: number | null, lines: readonly { documentLineId: number | null, quantity: string }[]): Promise<void> {
  if (id === null) return
  const takeBack = async (column: 'received' | 'shipped', table: 'purchase_lines' | 'sales_lines'): Promise<void> => {
    for (const line of lines) await rows(tx, sql`update ${sql.identifier(table)} set ${sql.identifier(column)} = ${sql.identifier(column)} - ${line.quantity}::numeric where id = ${line.documentLineId}`)
  }
  if (kind === 'purchase order') {
    await takeBack('received', 'purchase_lines')
    await rows(tx, sql`update purchase_orders set status = 'open', version = version + 1 where id = ${id}`)
  }
  if (kind === 'sales order') {
    await takeBack('shipped', 'sales_lines')
    await rows(tx, sql`update sales_orders set status = 'open', version = version + 1 where id = ${id}`)
  }
  if (kind === 'build') await tx.update(builds).set({ status: 'planned', version: sql`${builds.version} + 1` }).where(eq(builds.id, id))
  if (kind === 'break-down') await tx.update(breakDowns).set({ status: 'planned', version: sql`${breakDowns.version} + 1` }).where(eq(breakDowns.id, id))
}
