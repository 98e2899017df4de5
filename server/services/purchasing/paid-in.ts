import { rateOn } from '~~/core/pricing'
import { ratio, toDecimal, toText } from '~~/core/units/exact'
import type { Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { loadDefinition } from '../catalogue/definitions'

/** The currency of a supplier and what one of it is worth on a day; null and 1 for the company's own. */
export async function paidIn(
  tx: Tx,
  supplier: { currencyId: number | null; name: string },
  day: string,
): Promise<{ currency: string | null; rate: string }> {
  if (supplier.currencyId === null) {
    return { currency: null, rate: '1' }
  }
  const currency = await loadDefinition(tx, 'currencies', supplier.currencyId)
  const rate = rateOn(currency.rates, day)
  if (!rate) {
    throw new Refusal(
      'invalid-input',
      `${supplier.name} is paid in ${currency.code}, and no rate of it is known on ${day}. Add one under Catalogue, Currencies.`,
      { supplierId: `No rate of ${currency.code} is known on this day.` },
    )
  }
  return { currency: currency.code, rate: toDecimalText(rate) }
}

/** A rate as the database keeps it: rates are typed as decimals or fractions; the latter to twelve places. */
const toDecimalText = (rate: ReturnType<typeof ratio>): string => {
  const text = toText(rate)
  return text.includes('/') ? toDecimal(rate, 12) : text
}
