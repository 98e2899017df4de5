import { MINOR_DIGITS, majorText } from '~~/core/money'
import { printDay, weekday, toDay } from '~~/core/calendar/days'
import { grouped, printAmount, type DecimalSign, type NumberFormat } from '~~/core/units/quantity'
import { ratio, toDecimal, toText, type Ratio } from '~~/core/units/exact'

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/**
 * How figures are written: dates by the company's day, money in its currency, quantities with their unit's decimals.
 */
export function usePrint() {
  const session = useSession()
  /** The sign of a currency by ISO 4217, its code where it has none. */
  const signOf = (code: string): string =>
    new Intl.NumberFormat('en', { style: 'currency', currency: code, currencyDisplay: 'narrowSymbol' })
      .formatToParts(0)
      .find((part) => part.type === 'currency')?.value ?? code
  const currency = computed(() => signOf(session.company?.currency ?? 'EUR'))
  const decimalSign = (): DecimalSign => session.company?.decimalSign ?? '.'
  const format = (): NumberFormat => session.company ?? { decimalSign: '.', grouping: 'space' }
  const day = (iso: string | null | undefined): string =>
    iso ? printDay(iso, session.today, session.company?.dateFormat) : ''
  const longDay = (iso: string): string => `${DAYS[weekday(toDay(iso))]} ${day(iso)}`
  /** A plain decimal as text: its digits in groups, with the company’s decimal sign. */
  const digits = (decimal: string): string => grouped(decimal, format())
  /** A sum of money, whose minus stands before the sign of its currency. */
  const inCurrency = (major: string, code?: string | null): string =>
    `${major.startsWith('-') ? '−' : ''}${code ? signOf(code) : currency.value}${digits(major.replace('-', ''))}`
  /** Minor units to text, in the company's currency or the one named. */
  const money = (minor: string | bigint, code?: string | null): string =>
    inCurrency(majorText(typeof minor === 'bigint' ? minor : minor.split('.')[0]!), code)
  /** Major units as text to text: at least the digits of the minor unit, and up to six where they are given. */
  const price = (major: string, code?: string | null): string => {
    const given = major.includes('/') ? 6 : (major.split('.')[1] ?? '').replace(/0+$/, '').length
    return inCurrency(toDecimal(ratio(major), Math.min(6, Math.max(MINOR_DIGITS, given))), code)
  }
  const printed = (value: Ratio, decimals = 4): string => printAmount(value, decimals, format())
  const amount = (text: string, decimals = 4): string => printed(ratio(text), decimals)
  /** So many finest steps, in the unit that the step is in. */
  const ofSteps = (steps: number, step: string): string => digits(toText(ratio(step).mul(ratio(BigInt(steps)))))
  /** An exact decimal as a person would type it into a field: with the company's decimal sign, ungrouped. */
  const asTyped = (decimal: string): string =>
    decimalSign() === ',' ? decimal.replace(/^(-?\d+)\.(?=\d)/, '$1,') : decimal
  /** What a finest step would lose of a quantity. */
  const tooCoarse = ({ quantity, becomes }: { quantity: Ratio; becomes: Ratio }, step: string, unit: string): string =>
    `${printed(quantity, 6)} ${unit} cannot be recorded at ${digits(step)} ${unit}: it would become ${printed(becomes, 6)} ${unit}.`
  const isPast = (iso: string | null | undefined): boolean => Boolean(iso) && iso! < session.today
  /** The day and the minute of a moment, by the clock of whoever looks: for what is only drawn in the browser. */
  const clock = (at: string): string => {
    const moment = new Date(at)
    const two = (part: number): string => String(part).padStart(2, '0')
    const iso = `${moment.getFullYear()}-${two(moment.getMonth() + 1)}-${two(moment.getDate())}`
    return `${day(iso)}, ${two(moment.getHours())}:${two(moment.getMinutes())}`
  }
  return {
    day,
    clock,
    longDay,
    money,
    price,
    amount,
    printed,
    digits,
    ofSteps,
    isPast,
    currency,
    signOf,
    asTyped,
    tooCoarse,
  }
}
