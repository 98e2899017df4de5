import type { Tx } from '~~/server/database/client'
import type { postings } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'

export type Posting = typeof postings.$inferSelect
export interface PostedLine {
  readonly documentLineId: number | null
  readonly quantity: string
}
export interface Reversed {
  readonly postingId: number
  readonly label: string
}

/** How postings are taken back: each area says it of its own kinds, so that the ledger need not know them. */
export interface Reversal {
  /** Throws a refusal where it cannot be taken back. `isPart`: it goes with another act that is taken back. */
  readonly require?: (tx: Tx, original: Posting, isPart: boolean) => Promise<void>
  /** Takes it back in its own way, instead of by counter-entries of its moves. */
  readonly instead?: (tx: Tx, actor: Actor, original: Posting) => Promise<Reversed>
  /** Makes way for it, and says which postings came with it and are taken back before it, in this order. */
  readonly before?: (tx: Tx, original: Posting) => Promise<readonly number[]>
  /** Opens its document again. */
  readonly reopen?: (tx: Tx, original: Posting, lines: readonly PostedLine[]) => Promise<void>
}

/** What is taken back: postings of a kind, or all postings of a kind of document. */
export type ReversalKey = `posting ${string}` | `document ${string}`

export type Reversals = Readonly<Partial<Record<ReversalKey, Reversal>>>

const registry = new Map<ReversalKey, Reversal>()

/** Says how postings of a kind, or those of a kind of document, are taken back. */
export function registerReversals(entries: Reversals): void {
  for (const [key, reversal] of Object.entries(entries)) {
    if (reversal) {
      registry.set(key as ReversalKey, reversal)
    }
  }
}

/**
 * What applies to a posting: that of its own kind first, then that of its document.
 *
 * Errors: throws where no area has registered anything, for then documents would stay closed in silence.
 */
export function reversalsOf(original: Posting): readonly Reversal[] {
  if (registry.size === 0) {
    throw new Error('server/services/reversals is not loaded')
  }
  const keys: readonly ReversalKey[] = [`posting ${original.kind}`, `document ${original.documentKind}`]
  return keys.flatMap((key) => registry.get(key) ?? [])
}
