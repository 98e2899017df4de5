import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'

/** What is known of a line of a sales order, in its stock unit. */
export interface CoveredLine {
  readonly quantity: string
  readonly shipped: string
  readonly allocated: string
  /**
   * What of the item is free, for all who want it; and what of that falls to the line once the orders before it are
   * served.
   */
  readonly free: string
  readonly got: string
  readonly canPack: string
  readonly kind: 'stocked' | 'service'
}

/** What is neither shipped nor allocated. */
export const openOf = (line: Pick<CoveredLine, 'quantity' | 'shipped' | 'allocated'>): Ratio =>
  ratio(line.quantity).sub(ratio(line.shipped)).sub(ratio(line.allocated))

/** What of the line can be filled neither from what falls to it nor by packing; a service is never missing. */
export function missingOf(line: CoveredLine): string {
  const left = openOf(line).sub(ratio(line.got)).sub(ratio(line.canPack))
  return line.kind === 'stocked' && left.compare(ZERO) > 0 ? toText(left) : '0'
}

/** Whether orders before it want some of what is free, so that less than there is falls to the line. */
export const isPartlyForOthers = (line: CoveredLine): boolean =>
  ratio(line.got).compare(openOf(line)) < 0 && ratio(line.got).compare(ratio(line.free)) < 0

/** What is there for the line: allocated, or to be allocated or packed. */
export function thereFor(line: CoveredLine): string {
  const there = ratio(line.got).add(ratio(line.canPack))
  const open = openOf(line)
  return toText(ratio(line.allocated).add(there.compare(open) < 0 ? there : open))
}
