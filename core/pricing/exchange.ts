import { ratio, type Ratio } from '../units/exact'

/** From a day on, one of a foreign currency is worth `rate` of the company's own. */
export interface ExchangeRate {
  readonly fromOn: string
  readonly rate: string
}

/** The rate that holds on a day: the latest that has begun; null where none has. */
export function rateOn(rates: readonly ExchangeRate[], day: string): Ratio | null {
  let best: ExchangeRate | null = null
  for (const rate of rates) {
    if (rate.fromOn <= day && (best === null || rate.fromOn > best.fromOn)) {
      best = rate
    }
  }
  return best && ratio(best.rate)
}
