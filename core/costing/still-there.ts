import { ZERO, type Ratio } from '../units/exact'

/**
 * How much of each of some goods that came in one after the other (oldest first) is still there, when what came first
 * is taken to have left first.
 *
 * Units: of one item, all the same. What is there beyond all of them came before.
 */
export function stillThere(cameIn: readonly Ratio[], there: Ratio): readonly Ratio[] {
  const kept: Ratio[] = []
  let left = there.compare(ZERO) > 0 ? there : ZERO
  for (const quantity of [...cameIn].reverse()) {
    const own = quantity.compare(left) < 0 ? quantity : left
    kept.unshift(own)
    left = left.sub(own)
  }
  return kept
}
