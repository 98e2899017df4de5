import { ok, refuse, type Result } from '../result'

/** A Global Trade Item Number, as 14 digits, and the length in which it was written. */
export interface Gtin {
  readonly gtin14: string
  readonly form: 'GTIN-8' | 'GTIN-12' | 'GTIN-13' | 'GTIN-14'
}

export type GtinError =
  | { readonly code: 'not-digits'; readonly text: string }
  | { readonly code: 'wrong-length'; readonly text: string }
  | { readonly code: 'wrong-check-digit'; readonly text: string; readonly expected: number }

/**
 * The last digit of a GS1 number, from the digits before it: weights 3 and 1 from the right, up to the next ten.
 *
 * Source: GS1 General Specifications, section 7.9, standard check digit calculations.
 *
 * @example "629104150021" → 3
 */
export function checkDigit(digits: string): number {
  const sum = [...digits]
    .reverse()
    .reduce((total, digit, index) => total + Number(digit) * (index % 2 === 0 ? 3 : 1), 0)
  return (10 - (sum % 10)) % 10
}

const FORMS = { 8: 'GTIN-8', 12: 'GTIN-12', 13: 'GTIN-13', 14: 'GTIN-14' } as const

/**
 * Reads a GTIN and verifies its check digit; spaces and hyphens are passed over.
 *
 * Errors: `not-digits`; `wrong-length` (8, 12, 13 and 14 are right); `wrong-check-digit` with the one expected.
 */
export function readGtin(text: string): Result<Gtin, GtinError> {
  const digits = text.replace(/[\s-]/g, '')
  if (!/^\d+$/.test(digits)) {
    return refuse({ code: 'not-digits', text })
  }
  const form = FORMS[digits.length as keyof typeof FORMS]
  if (!form) {
    return refuse({ code: 'wrong-length', text: digits })
  }
  const expected = checkDigit(digits.slice(0, -1))
  if (expected !== Number(digits.at(-1))) {
    return refuse({ code: 'wrong-check-digit', text: digits, expected })
  }
  return ok({ gtin14: digits.padStart(14, '0'), form })
}

/** What is wrong with a GTIN, and what to do, in a sentence. */
export function describeGtinError(error: GtinError): string {
  switch (error.code) {
    case 'not-digits':
      return `“${error.text}” is no GTIN: it has digits only. Enter it as an ordinary code instead.`
    case 'wrong-length':
      return `A GTIN has 8, 12, 13 or 14 digits; “${error.text}” has ${error.text.length}.`
    case 'wrong-check-digit':
      return `The last digit of ${error.text} should be ${error.expected}. Compare it with the label.`
  }
}
