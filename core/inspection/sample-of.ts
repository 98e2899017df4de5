import { ratio, upwards, type Ratio } from '../units/exact'
import { singleSampling, type AcceptanceLimit, type InspectionLevel, type Severity } from './sampling'

/** How much of a lot is looked at: all, a number, a share of it in per cent, or by ISO 2859-1. */
export type SampleRule =
  | { readonly kind: 'all' }
  | { readonly kind: 'number'; readonly number: number }
  | { readonly kind: 'share'; readonly percent: string }
  | {
      readonly kind: 'iso 2859-1'
      readonly level: InspectionLevel
      readonly limit: AcceptanceLimit
      readonly severity: Severity
    }

/** How many of a lot are looked at, and how many of them may fail. */
export interface Sample {
  /** The code letter, where the rule has one. */
  readonly letter: string
  readonly size: number
  readonly accept: number
}

/** No list is longer than this; more than so many pieces are looked at by a sample. */
export const MOST_SAMPLES = 2000

/**
 * What is looked at of `quantity`: pieces, or the stock unit of other goods. Goods that are measured, not counted, are looked at in as many
 * places as they have whole units, at least in one.
 */
export function sampleOf(rule: SampleRule, quantity: Ratio): Sample {
  const pieces = Math.max(1, Math.min(Number(upwards(quantity)), Number.MAX_SAFE_INTEGER))
  switch (rule.kind) {
    case 'all':
      return whole(pieces)
    case 'number':
      return whole(Math.min(rule.number, pieces))
    case 'share':
      return whole(Math.max(1, Number(upwards(ratio(rule.percent).mul(ratio(pieces)).div(ratio(100))))))
    case 'iso 2859-1':
      return singleSampling({ ...rule, lotSize: pieces })
  }
}

const whole = (size: number): Sample => ({ letter: '', size: Math.min(size, MOST_SAMPLES), accept: 0 })
