import { readGtin } from './gtin'

/** No quantity that anybody counts or receives has so many digits. */
const LONGEST_QUANTITY = 11
/** A GS1 element string as readers write it: behind its symbology identifier, or with its identifiers in brackets. */
const ELEMENTS = /\](?:C1|d2|Q3|e0).+$|\(01\).+$/

/**
 * What stood in a quantity field when Enter came: what was typed before, and the code that a scanner wrote after it.
 */
export interface ScanInField {
  readonly typed: string
  readonly code: string
}

/**
 * Tells a barcode that a scanner wrote into a quantity field from a quantity, also where a figure was typed before it;
 * null where it is none.
 *
 * @example "12" then 4006381333931 → typed "12", code "4006381333931"
 */
export function scanInField(text: string): ScanInField | null {
  const digits = text.trim()
  const elements = ELEMENTS.exec(digits)
  if (elements) {
    return { typed: digits.slice(0, elements.index), code: elements[0] }
  }
  if (!/^\d+$/.test(digits) || digits.length <= LONGEST_QUANTITY) {
    return null
  }
  for (const length of [14, 13, 12]) {
    const code = digits.slice(-length)
    if (digits.length >= length && readGtin(code).ok) {
      return { typed: digits.slice(0, -length), code }
    }
  }
  return { typed: '', code: digits }
}
