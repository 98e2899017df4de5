import { ok, type Result } from '../../result'
import { convert, type UnitError, type UnitGraph } from '../../units/graph'
import { ZERO, type Ratio } from '../../units/exact'

/** A line as it is written: so much of a component, in any of its units, for a batch or for a build. */
export interface WrittenLine {
  readonly quantity: Ratio
  readonly unit: string
  readonly basis: 'per batch' | 'per build'
}

/**
 * What a written line says in stock units: of the component for one stock unit of its parent, and for a build whatever
 * its size.
 *
 * Units:  `batch` in the stock unit of the parent.
 * Errors: `unknown-unit`; `no-path` where the component has no way from the unit of the line to its stock unit.
 */
export function bindLine(
  line: WrittenLine,
  component: { readonly graph: UnitGraph; readonly stockUnit: string },
  batch: Ratio,
): Result<{ readonly per: Ratio; readonly fixed: Ratio }, UnitError> {
  const inStock = convert(component.graph, line.quantity, line.unit, component.stockUnit)
  if (!inStock.ok) {
    return inStock
  }
  return ok(
    line.basis === 'per build' ? { per: ZERO, fixed: inStock.value } : { per: inStock.value.div(batch), fixed: ZERO },
  )
}
