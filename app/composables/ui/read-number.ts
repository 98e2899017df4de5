import { buildUnitGraph, standardUnits } from '~~/core/units/graph'
import { parseQuantity, typedQuantity } from '~~/core/units/quantity'
import { toText } from '~~/core/units/exact'

const pieces = buildUnitGraph(new Map([...standardUnits].filter(([code]) => code === 'piece')), [])

/** Text that is a number as it is stored: digits, and a point before the decimals. */
export const isPlainDecimal = (text: string): boolean => /^\d+(\.\d+)?$/.test(text)

/**
 * Reads a number as it is typed into any field, `1 250,5` or `3*12`, and gives the plain text that is stored.
 *
 * What is plain already, a fraction without an end, and what is no number stay as they were typed; the field's own
 * check tells of them.
 */
export function readNumber(text: string, decimalSign: '.' | ',' = '.'): string {
  const typed = text.trim()
  if (typed === '' || (decimalSign === '.' && isPlainDecimal(typed)) || !pieces.ok) {
    return typed
  }
  const read = parseQuantity(typedQuantity(typed), { graph: pieces.value, unit: 'piece', decimalSign, anySign: true })
  if (!read.ok) {
    return typed
  }
  const plain = toText(read.value.amount)
  return plain.includes('/') ? typed : plain
}
