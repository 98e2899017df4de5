import { ratio } from '../units/exact'

/** How a characteristic is recorded. */
export const CHARACTERISTIC_KINDS = ['measured', 'yes or no', 'text', 'document'] as const
/** One of these. */
export type CharacteristicKind = (typeof CHARACTERISTIC_KINDS)[number]

/** What is looked at in each piece of a sample. Limits are decimal text in `unit`; empty where there is none. */
export interface Characteristic {
  readonly name: string
  readonly kind: CharacteristicKind
  readonly unit: string
  readonly low: string
  readonly high: string
}

/** What was found says yes or no, or nothing yet. */
export type Verdict = 'open' | 'pass' | 'fail'

/**
 * What one value says. Measured ones pass within their limits, the limits themselves included; `yes` passes and `no`
 * fails; a text and the number of a document pass once they are there.
 */
export function judgeValue({ kind, low, high }: Characteristic, value: string): Verdict {
  if (value === '') {
    return 'open'
  }
  switch (kind) {
    case 'measured': {
      const measured = ratio(value)
      const isWithin =
        (low === '' || measured.compare(ratio(low)) >= 0) && (high === '' || measured.compare(ratio(high)) <= 0)
      return isWithin ? 'pass' : 'fail'
    }
    case 'yes or no':
      return value === 'yes' ? 'pass' : 'fail'
    case 'text':
    case 'document':
      return 'pass'
  }
}

/** What a sample says, piece by piece and in all. */
export interface Judged {
  /** A sample fails where any of its values does, and is open while one is missing. */
  readonly samples: readonly Verdict[]
  readonly failed: number
  readonly open: number
  /** How many values failed, by characteristic. */
  readonly failedBy: readonly number[]
  /** What the sample says of the lot; `open` until it is decided either way. */
  readonly verdict: Verdict
}

/**
 * What a sample says of its lot. `values` are as typed, by sample and characteristic. More failures than `accept` are
 * told at once; that a lot passes, once every sample is there.
 */
export function judgeSamples(
  characteristics: readonly Characteristic[],
  values: readonly (readonly string[])[],
  accept: number,
): Judged {
  const verdicts = values.map((sample) =>
    characteristics.map((characteristic, index) => judgeValue(characteristic, sample[index] ?? '')),
  )
  const samples = verdicts.map(together)
  const failed = samples.filter((sample) => sample === 'fail').length
  const open = samples.filter((sample) => sample === 'open').length
  return {
    samples,
    failed,
    open,
    failedBy: characteristics.map((_, index) => verdicts.filter((sample) => sample[index] === 'fail').length),
    verdict: ofLot(failed > accept, open > 0),
  }
}

function ofLot(hasFailed: boolean, isOpen: boolean): Verdict {
  if (hasFailed) {
    return 'fail'
  }
  return isOpen ? 'open' : 'pass'
}

function together(verdicts: readonly Verdict[]): Verdict {
  if (verdicts.includes('fail')) {
    return 'fail'
  }
  return verdicts.includes('open') ? 'open' : 'pass'
}
