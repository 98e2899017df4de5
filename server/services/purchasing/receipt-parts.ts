import { convert } from '~~/core/units/graph'
import { ZERO, type Ratio } from '~~/core/units/exact'
import type { StockQuantity } from '~~/core/units/quantity'
import type { Receive } from '~~/shared/purchasing/requests'
import { readQuantity, type MeasuredItem } from '../catalogue/measured-items'

type Line = Receive['lines'][number]
type PartedLine = Pick<Line, 'quantity' | 'unit' | 'lot'> & Partial<Pick<Line, 'traits' | 'pieces'>>

/** A quantity that came, or one piece. */
export interface Part {
  readonly read: StockQuantity
  readonly lot: string
  readonly label: string
  readonly traits: Readonly<Record<string, string>>
}

/** What several parts come to together. */
export const total = (parts: readonly Part[], quantityOf: (part: Part) => Ratio): Ratio =>
  parts.reduce((sum, part) => sum.add(quantityOf(part)), ZERO)

/**
 * What a line brings: one quantity, or the pieces of a packing list.
 *
 * What the list says of all and what the pieces measure may differ by less than a finest step: that is the residue, and
 * stays on the last piece.
 */
export function partsOf(item: MeasuredItem, line: PartedLine, pathOf: (field: string) => string): Part[] {
  const traits = line.traits ?? {}
  if (item.tracking !== 'piece' || !line.pieces || line.pieces.length === 0) {
    return [
      { read: readQuantity(item, line.quantity, line.unit, pathOf('quantity')), lot: line.lot, label: '', traits },
    ]
  }
  const parts = line.pieces.map((piece, index): Part => ({
    read: readQuantity(item, piece.quantity, piece.unit, pathOf(`pieces.${index}.quantity`)),
    lot: piece.lot === '' ? line.lot : piece.lot,
    label: piece.label,
    traits: { ...traits, ...piece.traits },
  }))
  if (String(line.quantity).trim() === '') {
    return parts
  }
  const listed = readQuantity(item, line.quantity, line.unit, pathOf('quantity'))
  const residue = listed.exact.sub(parts.reduce((sum, part) => sum.add(part.read.exact), ZERO))
  if (residue.equals(ZERO) || residue.abs().compare(item.measure.finestStep) >= 0) {
    return parts
  }
  const last = parts.at(-1)!
  const inTyped = convert(item.measure.graph, residue, item.stockUnit, last.read.unit)
  return [
    ...parts.slice(0, -1),
    {
      ...last,
      read: {
        ...last.read,
        exact: last.read.exact.add(residue),
        residue: last.read.residue.add(residue),
        residueEntered: last.read.residueEntered.add(inTyped.ok ? inTyped.value : residue),
      },
    },
  ]
}

/** What came, in the unit that it was ordered in. */
export function inUnit(item: MeasuredItem, read: StockQuantity, unit: string): Ratio {
  const converted = convert(item.measure.graph, read.exact, item.stockUnit, unit)
  return converted.ok ? converted.value : read.exact
}
