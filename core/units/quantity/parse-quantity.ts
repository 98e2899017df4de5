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
  /** `meant`: the number as it would be written with the sign that counts here. */
  | { readonly code: 'other-sign'; readonly text: string; readonly sign: '.' | ','; readonly meant: string }
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
  /**
   * The unit of a plain number that stands beside a term with a unit of its own; the same where absent. `1 carton + 5`
   * in a field of cartons is a carton and 5 loose ones.
   */
  readonly loose?: string
  readonly decimalSign?: '.' | ','
  /** Whether nought and less may pass; they may not by default. */
  readonly anySign?: boolean
}

/**
 * Reads what a person types into a quantity field.
 *
 * Understands `2.5`, `2.5 kg`, `1/3 ream`, `3*12`, `2 carton + 5`, `1 1/2 in`, `1,250.5` and, with a decimal comma, `1
 * 250,5`.
 * Errors: `empty`; `unreadable` (the part that was not understood); `unknown-word`; `other-sign`; `divide-by-zero`;
 * `not-above-zero`; `no-path` where terms in several units cannot be added.
 */
export function parseQuantity(text: TypedQuantity, settings: ParseSettings): Result<ParsedQuantity, ParseError> {
  const source = text.trim()
  if (!source) {
    return refuse({ code: 'empty' })
  }
  const read = readTerms(source.replaceAll('−', '-'), settings)
  if (!read.ok) {
    return read
  }
  const terms = read.value
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

interface Term {
  readonly amount: Ratio
  /** The unit that was typed with it; null where none was. */
  readonly unit: string | null
}

function readTerms(source: string, settings: ParseSettings): Result<readonly Term[], ParseError> {
  const terms: Term[] = []
  for (let rest = source; rest !== '';) {
    const sign = /^[+-]/.exec(rest)?.[0] ?? ''
    const term = readTerm(rest.slice(sign.length).trimStart(), settings)
    if (!term.ok) {
      return term
    }
    const { amount, unit } = term.value
    terms.push({ amount: sign === '-' ? amount.neg() : amount, unit })
    rest = term.value.rest
  }
  return ok(terms)
}

const NUMBERS = {
  '.': /^(\d{1,3}(?:[,  ]\d{3})+(?!\d|\s*\/)(?:\.\d+)?|\d+(?:\.\d*)?|\.\d+)/,
  ',': /^(\d{1,3}(?:[.  ]\d{3})+(?!\d|\s*\/)(?:,\d+)?|\d+(?:,\d*)?|,\d+)/,
}
const MIXED = /^(\d+)\s+(\d+)\s*\/\s*([1-9]\d*)/

/** A number as it was typed, and what stands behind it. */
interface NumberRead {
  readonly amount: Ratio
  readonly rest: string
}

function readNumber(text: string, { graph: { units }, decimalSign: sign = '.' }: ParseSettings): NumberRead | null {
  const mixed = MIXED.exec(text)
  if (mixed) {
    const amount = ratio(BigInt(mixed[1]!)).add(ratio(BigInt(mixed[2]!), BigInt(mixed[3]!)))
    return { amount, rest: text.slice(mixed[0].length).trimStart() }
  }
  // In `2 500-pack` the 500 is of the unit's name, not of the number.
  const plain = /^(\d+)\s+(?=\d)/.exec(text)
  if (plain && unitAt(units, text.slice(plain[0].length)) !== null) {
    return { amount: ratio(plain[1]!), rest: text.slice(plain[0].length) }
  }
  const found = NUMBERS[sign].exec(text)
  return found && { amount: ratio(plainDecimal(found[0], sign)), rest: text.slice(found[0].length).trimStart() }
}

function readTerm(text: string, settings: ParseSettings): Result<Term & { readonly rest: string }, ParseError> {
  let number = readNumber(text, settings)
  if (!number) {
    return refuse({ code: 'unreadable', text: wordAt(text) || '+' })
  }
  let { amount } = number
  for (let operator = /^[*×/]/.exec(number.rest)?.[0]; operator; operator = /^[*×/]/.exec(number.rest)?.[0]) {
    const behind = number.rest.slice(1).trimStart()
    number = readNumber(behind, settings)
    if (!number) {
      return refuse({ code: 'unreadable', text: wordAt(behind) || operator })
    }
    if (operator === '/' && number.amount.equals(ZERO)) {
      return refuse({ code: 'divide-by-zero' })
    }
    amount = operator === '/' ? amount.div(number.amount) : amount.mul(number.amount)
  }
  return readUnit(amount, number.rest, { text, settings })
}

function readUnit(
  amount: Ratio,
  rest: string,
  { text, settings }: { readonly text: string; readonly settings: ParseSettings },
): Result<Term & { readonly rest: string }, ParseError> {
  if (rest === '' || /^[+-]/.test(rest)) {
    return ok({ amount, unit: null, rest })
  }
  const name = unitAt(settings.graph.units, rest)
  if (name !== null) {
    const unit = findUnit(settings.graph.units, name)!
    return ok({ amount, unit: unit.code, rest: rest.slice(name.length).trimStart() })
  }
  const sign = settings.decimalSign ?? '.'
  const other = sign === '.' ? ',' : '.'
  if (rest.startsWith(other) && /^\d/.test(rest.slice(1))) {
    const [typed] = /^[\d.,  ]+/.exec(text)!
    return refuse({ code: 'other-sign', text: typed.trim(), sign, meant: inSign(plainDecimal(typed, other), sign) })
  }
  return refuse({ code: 'unknown-word', word: wordAt(rest) })
}

const inSign = (plain: string, sign: '.' | ','): string => plain.trim().replace('.', sign)

/** What stands up to the next sign. */
const wordAt = (text: string): string => /^[^+-]*/.exec(text)![0].trim()

/**
 * The longest name of a unit that a text begins with, up to its end or the next sign; such a name may hold a sign
 * itself: `6-pack`.
 */
function unitAt(units: ReadonlyMap<string, Unit>, text: string): string | null {
  const lower = text.toLowerCase()
  let longest = ''
  for (const unit of units.values()) {
    for (const name of namesOf(unit)) {
      if (
        name.length > longest.length &&
        lower.startsWith(name.toLowerCase()) &&
        /^\s*(?:$|[+-])/.test(text.slice(name.length))
      ) {
        longest = text.slice(0, name.length)
      }
    }
  }
  return longest || null
}

const namesOf = (unit: Unit): readonly string[] => [unit.code, unit.symbol, unit.name, unit.plural]

function plainDecimal(text: string, sign: '.' | ','): string {
  const grouping = sign === '.' ? /[,  ]/g : /[.  ]/g
  return text.replace(grouping, '').replace(',', '.').replace(/\.$/, '')
}

/** Finds a unit by code, symbol, name or plural; letter case matters only where two would differ by it alone. */
export function findUnit(units: ReadonlyMap<string, Unit>, word: string): Unit | null {
  const all = [...units.values()]
  const lower = word.toLowerCase()
  return (
    all.find((unit) => namesOf(unit).includes(word)) ??
    all.find((unit) => namesOf(unit).some((name) => name.toLowerCase() === lower)) ??
    null
  )
}
