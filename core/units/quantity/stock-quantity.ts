import { ok, type Result } from '../../result'
import { parseQuantity, type ParseError } from './parse-quantity'
import type { TypedQuantity } from './typed-quantity'
import { toText, type Ratio, toSteps } from '../exact'
import { convert, type UnitGraph } from '../graph'

/** How one item is measured. */
export interface ItemMeasure {
  readonly graph: UnitGraph
  readonly stockUnit: string
  readonly finestStep: Ratio
}

/** A quantity in an item’s stock unit, with what did not fall on its finest step. */
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
 * A quantity as a command is given it: text that a person or a file wrote, or an exact amount that is stored or
 * computed.
 */
export type GivenQuantity = TypedQuantity | Ratio

/** A given quantity as text, for a note of what was asked. */
export const givenText = (given: GivenQuantity): string => (typeof given === 'string' ? given : toText(given))

/** What a person may send, as commands take it from one another: its quantities may be exact amounts. */
export type Given<Edit> = Edit extends Ratio
  ? Edit
  : Edit extends readonly (infer Line)[]
    ? Given<Line>[]
    : Edit extends object
      ? { [Key in keyof Edit]: Key extends 'quantity' | 'made' ? Edit[Key] | Ratio : Given<Edit[Key]> }
      : Edit

/**
 * Reads a typed quantity of an item and puts it on the item's finest step.
 *
 * Errors: those of `parseQuantity`; `no-path` where the unit typed is not one of the item's.
 */
export function readStockQuantity(
  text: TypedQuantity,
  unit: string,
  item: ItemMeasure,
  how: 'recorded' | 'required' = 'recorded',
  decimalSign: '.' | ',' = '.',
): Result<StockQuantity, ParseError> {
  const parsed = parseQuantity(text, { graph: item.graph, unit, loose: item.stockUnit, decimalSign })
  if (!parsed.ok) {
    return parsed
  }
  return exactStockQuantity(parsed.value.amount, parsed.value.unit, item, how)
}

/**
 * Puts an exact amount of an item on the item's finest step: what is stored or computed, and never goes through the
 * reader of typed text.
 *
 * Errors: `no-path` where the unit is not one of the item's.
 */
export function exactStockQuantity(
  amount: Ratio,
  unit: string,
  item: ItemMeasure,
  how: 'recorded' | 'required' = 'recorded',
): Result<StockQuantity, ParseError> {
  const exact = convert(item.graph, amount, unit, item.stockUnit)
  if (!exact.ok) {
    return exact
  }
  const { quantity, residue } = toSteps(exact.value, item.finestStep, how)
  const residueEntered = convert(item.graph, residue, item.stockUnit, unit)
  if (!residueEntered.ok) {
    return residueEntered
  }
  return ok({
    entered: toText(amount),
    unit,
    exact: exact.value,
    quantity,
    residue,
    residueEntered: residueEntered.value,
  })
}
