import { eq, sql } from 'drizzle-orm'
import { ratio } from '~~/core/units/exact'
import { db, rows, type Tx } from '~~/server/database/client'
import { moves, postings } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isAllowed, rolesWith, type Right } from '~~/shared/company/rights'
import { post, type DraftMove, type Status } from './post'
import { reversalsOf, type PostedLine, type Posting, type Reversal } from './reversals'

const RIGHTS: Readonly<Record<string, Right>> = {
  'goods receipt': 'receive',
  'direct delivery': 'receive',
  'direct shipment': 'receive',
  'return to supplier': 'receive',
  build: 'make',
  'kit packing': 'make',
  'build closed': 'make',
  unpacking: 'make',
  cut: 'make',
  'break-down': 'make',
  shipment: 'ship',
  correction: 'stock',
  move: 'stock',
  inspection: 'inspect',
  'supplier invoice': 'books',
  'standard cost': 'books',
  're-valuation': 'books',
}

/** Whoever may do an act may take it back. */
export async function requireReversal(actor: Actor, postingId: number): Promise<void> {
  const [posting] = await db.select({ kind: postings.kind }).from(postings).where(eq(postings.id, postingId))
  const right = RIGHTS[posting?.kind ?? ''] ?? 'stock'
  if (!isAllowed(actor, right)) {
    throw new Refusal(
      'missing-right',
      `You are signed in as ${actor.role}. This needs one of: ${rolesWith(right).join(', ')}.`,
    )
  }
}

/**
 * Takes an act back by a counter-entry: every move the other way round, at its own value; the document it belongs to is
 * opened again.
 *
 * `isPart`: it came with another act, and is taken back with that one.
 *
 * Errors: `not-found`; `not-now` (already reversed, or itself a reversal); `short` where the goods have gone on
 *         meanwhile.
 */
export async function reverse(
  tx: Tx,
  actor: Actor,
  postingId: number,
  isPart = false,
): Promise<{ postingId: number; label: string }> {
  // Two who take the same act back at once: the second waits, and is told.
  await rows(tx, sql`select pg_advisory_xact_lock(7302, ${postingId})`)
  const original = await requireReversible(tx, postingId)
  const reversals = reversalsOf(original)
  for (const reversal of reversals) {
    await reversal.require?.(tx, original, isPart)
  }
  const instead = reversals.find((reversal) => reversal.instead)?.instead
  if (instead) {
    const reversed = await instead(tx, actor, original)
    await reopenDocument(tx, reversals, original, [])
    return reversed
  }
  for (const reversal of reversals) {
    for (const earlierPosting of (await reversal.before?.(tx, original)) ?? []) {
      await reverse(tx, actor, earlierPosting, true)
    }
  }
  const lines = await tx.select().from(moves).where(eq(moves.postingId, postingId)).orderBy(moves.line)
  if (lines.length === 0) {
    throw new Refusal('not-now', `“${original.label}” moved no goods. Take it back where it was recorded.`)
  }
  const label = `Reversal of ${original.label}`
  const posted = await post(tx, actor, {
    kind: 'reversal',
    label,
    effectiveOn: actor.today,
    workValue: -BigInt(original.workValue),
    reverses: postingId,
    moves: lines.map(backwards),
    ...(original.documentKind !== null &&
      original.documentId !== null && { document: { kind: original.documentKind, id: original.documentId } }),
  })
  await reopenDocument(tx, reversals, original, lines)
  return { postingId: posted.postingId, label }
}

async function requireReversible(tx: Tx, postingId: number): Promise<Posting> {
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
  return original
}

/** A move the other way round, at its own value. */
const backwards = (move: typeof moves.$inferSelect): DraftMove => ({
  itemId: move.itemId,
  lotId: move.lotId,
  pieceId: move.pieceId,
  quantity: ratio(move.quantity),
  from: { placeId: move.toPlaceId, status: move.toStatus as Status | null },
  to: { placeId: move.fromPlaceId, status: move.fromStatus as Status | null },
  entered: move.enteredQuantity,
  unit: move.enteredUnit,
  residue: ratio(move.residueNumerator).div(ratio(move.residueDenominator)),
  valuation: { kind: 'back', of: move.id },
  ...(move.documentLineId !== null && { lineId: move.documentLineId }),
})

async function reopenDocument(
  tx: Tx,
  reversals: readonly Reversal[],
  original: Posting,
  lines: readonly PostedLine[],
): Promise<void> {
  if (original.documentId === null) {
    return
  }
  for (const reversal of reversals) {
    await reversal.reopen?.(tx, original, lines)
  }
}
