import { toDecimal, toText, type Ratio } from './ratio'

/**
 * Prints an amount for people: grouped thousands (thin space), a true minus, no needless noughts at the end.
 *
 * Rounds to `decimals` (ties to even) and marks a rounded figure with `≈`, so that a shortened value never passes for an exact one.
 *
 * @example 133333/1000 with 2 decimals → "≈ 133.33"; 1250 → "1 250"
 */
export function printAmount(amount: Ratio, decimals: number): string {
  const exact = toText(amount)
  const places = exact.includes('/') ? Infinity : exact.split('.')[1]?.length ?? 0
  const rounded = places <= decimals ? exact : toDecimal(amount, decimals)
  return (places <= decimals ? '' : '≈ ') + grouped(rounded)
}

/** Groups the whole digits of a plain decimal and gives it a true minus. */
export function grouped(decimal: string): string {
  const [whole = '', part] = decimal.replace('-', '').split('.')
  const sign = decimal.startsWith('-') ? '−' : ''
  return sign + whole.replace(/\B(?=(\d{3})+(?!\d))/g, ' ') + (part ? `.${part}` : '')
}
