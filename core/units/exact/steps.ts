import { nearestEven, upwards, type Ratio } from './ratio'

/** A quantity on the ledger's grid: whole finest steps, and what did not fall on one (quantity − recorded). */
export interface Stepped {
  readonly steps: bigint
  readonly quantity: Ratio
  readonly residue: Ratio
}

/**
 * Puts an exact quantity on the grid of finest steps, once.
 *
 * `recorded`: the nearest step, ties to even (received, issued, counted). `required`: the next step up (planned).
 * Units: `quantity`, `finestStep` and the residue in the item's stock unit.
 *
 * @example 400/3 ft at steps of 0.01 ft, recorded → 13 333 steps, residue 1/300 ft
 */
export function toSteps(quantity: Ratio, finestStep: Ratio, how: 'recorded' | 'required'): Stepped {
  const exact = quantity.div(finestStep)
  const steps = how === 'recorded' ? nearestEven(exact) : upwards(exact)
  const onGrid = finestStep.mul(steps)
  return { steps, quantity: onGrid, residue: quantity.sub(onGrid) }
}
