import { ok, type Result } from '../result'
import { parseQuantity, type ParseError } from './parse-quantity'
import { toText, type Ratio } from './ratio'
import { toSteps } from './steps'
import { convert, type UnitGraph } from './unit-graph'

/** How one item is measured. */
export interface ItemMeasure {
  readonly graph: UnitGraph
  readonly stockUnit: string
  readonly finestStep: Ratio
}

export interface StockQuantity {
  /** What was typed, exactly, and its unit. */
  readonly entered: string
  readonly unit: string
  /** Exact, in the stock unit. */
  readonly exact: Ratio
  /** On a finest step, and what did not fall on one (stock unit; and in the unit typed). */
  readonly quantity: Ratio
  readonly residue: Ratio
  readonly residueEntered: Ratio
}

/**
 * Reads a typed quantity of an item and puts it on the item's finest step.
 *
 * Errors: those of `parseQuantity`; `no-path` where the unit typed is not one of the item's.
 */
export function readStockQuantity(
  text: string,
  unit: string,
  item: ItemMeasure,
  how: 'recorded' | 'required' = 'recorded',
  decimalSign: '.' | ',' = '.',
): Result<StockQuantity, ParseError> {
  const parsed = parseQuantity(text, { graph: item.graph, unit, loose: item.stockUnit, decimalSign })
  if (!parsed.ok) {
    return parsed
  }
  const exact = convert(item.graph, parsed.value.amount, parsed.value.unit, item.stockUnit)
  if (!exact.ok) {
    return exact
  }
  const { quantity, residue } = toSteps(exact.value, item.finestStep, how)
  const residueEntered = convert(item.graph, residue, item.stockUnit, parsed.value.unit)
  if (!residueEntered.ok) {
    return residueEntered
  }
  return ok({
    entered: toText(parsed.value.amount),
    unit: parsed.value.unit,
    exact: exact.value,
    quantity,
    residue,
    residueEntered: residueEntered.value,
  })
}
