import { ok, refuse, type Result } from '../result'
import { ZERO, type Ratio } from '../units/exact'

/** A stock status that people give goods. */
export const STOCK_STATUSES = ['available', 'on hold', 'damaged', 'returned'] as const
/** `on the way` is the status of goods between two sites. */
export type StockStatus = (typeof STOCK_STATUSES)[number] | 'on the way'

/** Where goods lie: item, bin, lot, piece and status. The outside (supplier, customer, …) has no balance. */
export interface BalanceKey {
  readonly item: string
  readonly bin: string
  readonly lot: string | null
  readonly piece: string | null
  readonly status: StockStatus
}

/** What lies in one place, and how much of it is set aside. Stock units, exact. */
export interface Balance extends BalanceKey {
  readonly onHand: Ratio
  readonly allocated: Ratio
}

/** One line to record; a null end is outside the stock rooms. `released` is the allocation that this move uses up. */
export interface StockMove {
  readonly item: string
  readonly lot: string | null
  readonly piece: string | null
  readonly quantity: Ratio
  readonly from: { readonly bin: string; readonly status: StockStatus } | null
  readonly to: { readonly bin: string; readonly status: StockStatus } | null
  readonly released: Ratio
}

export interface ShortLine extends BalanceKey {
  readonly line: number
  readonly wanted: Ratio
  /** On hand less what is allocated to others. */
  readonly free: Ratio
}

/** Why a posting cannot be made; `line` counts from 0. */
export type StockError =
  | { readonly code: 'not-above-zero'; readonly line: number }
  | { readonly code: 'short'; readonly lines: readonly ShortLine[] }

/**
 * What a posting does to the balances, all lines together or not at all.
 *
 * Shape:  the answer holds only balances that changed, in the fixed order of `keyOf`.
 * Errors: `not-above-zero`; `short` (every line that would take more than is free).
 */
export function applyMoves(
  balances: readonly Balance[],
  moves: readonly StockMove[],
): Result<readonly Balance[], StockError> {
  const now = new Map(balances.map((balance) => [keyOf(balance), { ...balance }]))
  const changed = new Set<string>()
  const short: ShortLine[] = []
  for (const [line, move] of moves.entries()) {
    if (move.quantity.compare(ZERO) <= 0) {
      return refuse({ code: 'not-above-zero', line })
    }
    if (move.from) {
      const key = { item: move.item, lot: move.lot, piece: move.piece, ...move.from }
      const there = now.get(keyOf(key)) ?? { ...key, onHand: ZERO, allocated: ZERO }
      const onHand = there.onHand.sub(move.quantity)
      const allocated = there.allocated.sub(move.released)
      if (onHand.compare(allocated) < 0 || allocated.compare(ZERO) < 0) {
        short.push({ ...key, line, wanted: move.quantity, free: there.onHand.sub(there.allocated).add(move.released) })
        continue
      }
      now.set(keyOf(key), { ...there, onHand, allocated })
      changed.add(keyOf(key))
    }
    if (move.to) {
      const key = { item: move.item, lot: move.lot, piece: move.piece, ...move.to }
      const there = now.get(keyOf(key)) ?? { ...key, onHand: ZERO, allocated: ZERO }
      now.set(keyOf(key), { ...there, onHand: there.onHand.add(move.quantity) })
      changed.add(keyOf(key))
    }
  }
  if (short.length > 0) {
    return refuse({ code: 'short', lines: short })
  }
  return ok([...changed].sort().map((key) => now.get(key)!))
}

const keyOf = (key: BalanceKey): string => [key.item, key.bin, key.lot ?? '', key.piece ?? '', key.status].join('|')
