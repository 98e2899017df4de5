import { ok, refuse, type Result } from '../../result'
import { ratio, ZERO, type Ratio } from '../exact'
import { convert, type Unit, type UnitError, type UnitGraph } from '../graph'
import type { TypedQuantity } from './typed-quantity'

/** Why a typed quantity cannot be read. */
export type ParseError =
  | { readonly code: 'empty' }
  | { readonly code: 'unreadable'; readonly text: string }
  | { readonly code: 'divide-by-zero' }
  | { readonly code: 'not-above-zero'; readonly text: string }
  | { readonly code: 'unknown-word'; readonly word: string }
  | UnitError

/** A typed quantity as it was read. */
export interface ParsedQuantity {
  readonly amount: Ratio
  /** The one unit that was typed, or the field's where none or several were. */
  readonly unit: string
}

export interface ParseSettings {
  readonly graph: UnitGraph
  /** The unit of a plain number. */
  readonly unit: string
  /** The unit of a plain number that stands beside a term with a unit of its own; the same where absent. `1 carton + 5` in a field of cartons is a carton and 5 loose ones. */
  readonly loose?: string
  readonly decimalSign?: '.' | ','
  /** Whether nought and less may pass; they may not by default. */
  readonly anySign?: boolean
}

/**
 * Reads what a person types into a quantity field.
 *
 * Understands `2.5`, `2.5 kg`, `1/3 ream`, `3*12`, `2 carton + 5`, `1 1/2 in`, `1,250.5` and, with a decimal comma, `1 250,5`.
 * Errors: `empty`; `unreadable` (the part that was not understood); `unknown-word`; `divide-by-zero`; `not-above-zero`;
 * `no-path` where terms in several units cannot be added.
 */
export function parseQuantity(text: TypedQuantity, settings: ParseSettings): Result<ParsedQuantity, ParseError> {
  const source = text.trim()
  if (!source) {
    return refuse({ code: 'empty' })
  }
  const terms: { amount: Ratio; unit: string | null }[] = []
  for (const piece of splitTerms(source)) {
    const term = readTerm(piece.text, settings)
    if (!term.ok) {
      return term
    }
    terms.push({ amount: piece.minus ? term.value.amount.neg() : term.value.amount, unit: term.value.unit })
  }
  const plainUnit = terms.some((term) => term.unit !== null) ? (settings.loose ?? settings.unit) : settings.unit
  const units = new Set(terms.map((term) => term.unit ?? plainUnit))
  const unit = units.size === 1 ? [...units][0]! : plainUnit
  let amount = ZERO
  for (const term of terms) {
    const inUnit = convert(settings.graph, term.amount, term.unit ?? plainUnit, unit)
    if (!inUnit.ok) {
      return inUnit
    }
    amount = amount.add(inUnit.value)
  }
  if (!settings.anySign && amount.compare(ZERO) <= 0) {
    return refuse({ code: 'not-above-zero', text: source })
  }
  return ok({ amount, unit })
}

function splitTerms(source: string): { text: string; minus: boolean }[] {
  const pieces: { text: string; minus: boolean }[] = []
  for (const match of source.replaceAll('−', '-').matchAll(/([+-]?)([^+-]*)/g)) {
    if (match[0] !== '') {
      pieces.push({ text: match[2]!.trim(), minus: match[1] === '-' })
    }
  }
  return pieces
}

const NUMBERS = {
  '.': /^(\d{1,3}(?:[,  ]\d{3})+(?!\d|\s*\/)(?:\.\d+)?|\d+(?:\.\d*)?|\.\d+)/,
  ',': /^(\d{1,3}(?:[.  ]\d{3})+(?!\d|\s*\/)(?:,\d+)?|\d+(?:,\d*)?|,\d+)/,
}

function readTerm(text: string, settings: ParseSettings): Result<{ amount: Ratio; unit: string | null }, ParseError> {
  let rest = text
  const sign = settings.decimalSign ?? '.'
  const number = (): Ratio | null => {
    const mixed = /^(\d+)\s+(\d+)\s*\/\s*([1-9]\d*)/.exec(rest)
    const found = mixed ?? NUMBERS[sign].exec(rest)
    if (!found) {
      return null
    }
    rest = rest.slice(found[0].length).trimStart()
    if (mixed) {
      return ratio(BigInt(mixed[1]!)).add(ratio(BigInt(mixed[2]!), BigInt(mixed[3]!)))
    }
    return ratio(plainDecimal(found[0], sign))
  }
  let amount = number()
  if (!amount) {
    return refuse({ code: 'unreadable', text: rest || '+' })
  }
  for (let operator = /^[*×/]/.exec(rest)?.[0]; operator; operator = /^[*×/]/.exec(rest)?.[0]) {
    rest = rest.slice(1).trimStart()
    const right = number()
    if (!right) {
      return refuse({ code: 'unreadable', text: rest || operator })
    }
    if (operator === '/' && right.equals(ZERO)) {
      return refuse({ code: 'divide-by-zero' })
    }
    amount = operator === '/' ? amount.div(right) : amount.mul(right)
  }
  if (!rest) {
    return ok({ amount, unit: null })
  }
  const unit = findUnit(settings.graph.units, rest)
  return unit ? ok({ amount, unit: unit.code }) : refuse({ code: 'unknown-word', word: rest })
}

function plainDecimal(text: string, sign: '.' | ','): string {
  const grouping = sign === '.' ? /[,  ]/g : /[.  ]/g
  return text.replace(grouping, '').replace(',', '.').replace(/\.$/, '')
}

/** Finds a unit by code, symbol, name or plural; letter case matters only where two would differ by it alone. */
export function findUnit(units: ReadonlyMap<string, Unit>, word: string): Unit | null {
  const names = (unit: Unit): string[] => [unit.code, unit.symbol, unit.name, unit.plural]
  const all = [...units.values()]
  const lower = word.toLowerCase()
  return (
    all.find((unit) => names(unit).includes(word)) ??
    all.find((unit) => names(unit).some((name) => name.toLowerCase() === lower)) ??
    null
  )
}
