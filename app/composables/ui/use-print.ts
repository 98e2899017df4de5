import { majorText } from '~~/core/money'
import { printDay, weekday, toDay } from '~~/core/calendar/days'
import { grouped, printAmount } from '~~/core/units/quantity'
import { ratio, toDecimal } from '~~/core/units/exact'

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** How figures are written: dates by the company's day, money in its currency, quantities with their unit's decimals. */
export function usePrint() {
  const session = useSession()
  const signOf = (code: string): string =>
    new Intl.NumberFormat('en', { style: 'currency', currency: code, currencyDisplay: 'narrowSymbol' })
      .formatToParts(0)
      .find((part) => part.type === 'currency')?.value ?? code
  const currency = computed(() => signOf(session.company?.currency ?? 'EUR'))
  const day = (iso: string | null | undefined): string => (iso ? printDay(iso, session.today) : '')
  const longDay = (iso: string): string => `${DAYS[weekday(toDay(iso))]} ${day(iso)}`
  /** Minor units to text, in the company's currency or the one named. */
  const money = (minor: string | bigint, code?: string | null): string =>
    `${code ? signOf(code) : currency.value}${grouped(majorText(typeof minor === 'bigint' ? minor : minor.split('.')[0]!))}`
  /** Major units as text to text. */
  const price = (major: string, code?: string | null): string => {
    const r = ratio(major)
    return `${code ? signOf(code) : currency.value}${grouped(printAmount(r, 6).includes('≈') ? toDecimal(r, 6) : toDecimal(r, Math.max(2, (major.split('.')[1] ?? '').replace(/0+$/, '').length)))}`
  }
  const amount = (text: string, decimals = 4): string => printAmount(ratio(text), decimals)
  /** An exact decimal as a person would type it into a field: with the company's decimal sign, ungrouped. */
  const asTyped = (exact: string): string => (session.company?.decimalSign === ',' ? exact.replace('.', ',') : exact)
  const isPast = (iso: string | null | undefined): boolean => Boolean(iso) && iso! < session.today
  return { day, longDay, money, price, amount, isPast, currency, asTyped }
}
