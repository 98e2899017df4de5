import { describeUnitError, standardUnits, type Unit, type UnitGraph } from '~~/core/units/graph'
import { parseQuantity, typedQuantity, type DecimalSign } from '~~/core/units/quantity'
import type { Ratio } from '~~/core/units/exact'
import { ok, refuse, type Result } from '~~/core/result'

/** A graph of one unit without a name: whatever stands behind the number is none of it. */
const NAMELESS: Unit = { ...standardUnits.get('piece')!, code: '', name: '', plural: '', symbol: '' }
const PLAIN: UnitGraph = { units: new Map([['', NAMELESS]]), edges: new Map() }

/**
 * Reads a number that a person typed, without a unit: by the company's decimal sign, with the sums that a quantity may
 * be. Errors: a sentence.
 */
export function parseNumber(text: string, decimalSign: DecimalSign, anySign = false): Result<Ratio, string> {
  const read = parseQuantity(typedQuantity(text), { graph: PLAIN, unit: '', decimalSign, anySign })
  if (read.ok) {
    return ok(read.value.amount)
  }
  return refuse(
    read.error.code === 'unknown-word'
      ? `Type a number; “${read.error.word}” is none of it.`
      : describeUnitError(read.error),
  )
}
