import { ONE, toDecimal, toText, ZERO, type Ratio } from '../exact'
import { convert, type UnitGraph } from '../graph'

/** What stands between the whole digits of a number and the rest, as the company writes it. */
export type DecimalSign = '.' | ','
/** What stands between groups of three digits: a space, the sign that is no decimal sign, or nothing. */
export type Grouping = 'space' | 'sign' | 'none'

/** How a company writes numbers. */
export interface NumberFormat {
  readonly decimalSign: DecimalSign
  readonly grouping: Grouping
}

/**
 * Prints an amount for people: digits in groups, a true minus, no needless noughts at the end.
 *
 * Rounds to `decimals` (ties to even) and marks a rounded figure with `≈`, so that a shortened value never passes for
 * an exact one.
 *
 * @example 133333/1000 with 2 decimals and a decimal point → "≈ 133.33"; 1250 → "1 250"
 */
export function printAmount(amount: Ratio, decimals: number, format: NumberFormat): string {
  const exact = toText(amount)
  const places = exact.includes('/') ? Infinity : (exact.split('.')[1]?.length ?? 0)
  const rounded = places <= decimals ? exact : toDecimal(amount, decimals)
  return (places <= decimals ? '' : '≈ ') + grouped(rounded, format)
}

/** Formats by how many decimals they print; made once each. */
const formats = new Map<number, Intl.NumberFormat>()

function formatOf(decimals: number): Intl.NumberFormat {
  const known = formats.get(decimals)
  const made =
    known ?? new Intl.NumberFormat('en', { minimumFractionDigits: decimals, maximumFractionDigits: decimals })
  formats.set(decimals, made)
  return made
}

/** Prints a plain decimal with all its digits: in groups, with a true minus and the decimal sign. */
export function grouped(decimal: string, { decimalSign, grouping }: NumberFormat): string {
  const signs = { space: ' ', sign: decimalSign === '.' ? ',' : '.', none: '' }
  const places = decimal.split('.')[1]?.length ?? 0
  // Text goes in as it is: as a number it would lose digits.
  return formatOf(places)
    .formatToParts(decimal as Intl.StringNumericLiteral)
    .map(({ type, value }) => {
      if (type === 'group') {
        return signs[grouping]
      }
      if (type === 'decimal') {
        return decimalSign
      }
      return type === 'minusSign' ? '−' : value
    })
    .join('')
}

/** One part of a quantity in mixed form: a whole number of a pack, or what is left in the smallest unit. */
export interface MixedPart {
  readonly unit: string
  readonly amount: Ratio
}

/**
 * Splits a quantity into packs, largest first, and the rest: all parts together are exactly the whole.
 *
 * Shape:  parts that are nought are left out; the last part may be broken, the others are whole. Empty for nought.
 * Units:  `amount` in `unit`; packs that nothing relates to it, or that hold no more than one of it, are passed over.
 *
 * @example 292 piece with cartons of 24 and pallets of 192 → 1 pallet, 4 carton, 4 piece
 */
export function splitIntoPacks(
  graph: UnitGraph,
  amount: Ratio,
  unit: string,
  packs: readonly string[],
): readonly MixedPart[] {
  const sizes = packs
    .flatMap((pack) => {
      const size = convert(graph, ONE, pack, unit)
      return size.ok && size.value.compare(ONE) > 0 ? [{ pack, size: size.value }] : []
    })
    .sort((a, b) => b.size.compare(a.size))
  const parts: MixedPart[] = []
  let left = amount.abs()
  for (const { pack, size } of sizes) {
    const whole = left.div(size).floor()
    if (whole.equals(ZERO)) {
      continue
    }
    parts.push({ unit: pack, amount: whole })
    left = left.sub(size.mul(whole))
  }
  return left.equals(ZERO) ? parts : [...parts, { unit, amount: left }]
}

/** Writes a quantity in mixed form, so that typing it gives the same quantity: `12 carton + 4 piece`. */
export const printMixed = (parts: readonly MixedPart[], unit: string): string =>
  parts.length === 0 ? `0 ${unit}` : parts.map((part) => `${toText(part.amount)} ${part.unit}`).join(' + ')
