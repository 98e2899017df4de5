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

const MEASURE = /^-?\d{1,9}(\.\d{1,9})?$/
/** What people write for yes and no; on sheets that were filled in by hand a cross or a one is a yes. */
const YES = new Set(['y', 'yes', 'ok', '1', 'x', 'true', 'pass'])
const NO = new Set(['n', 'no', '0', 'false', 'fail'])

/** What was typed, as it is recorded: measures with a point, words for yes and no as these; what is neither as it is. */
export function asRecorded({ kind }: Characteristic, typed: string): string {
  const text = typed.trim()
  if (kind === 'measured') {
    return /^-?\d+,\d+$/.test(text) ? text.replace(',', '.') : text
  }
  if (kind !== 'yes or no') {
    return text
  }
  const word = text.toLowerCase()
  if (YES.has(word)) {
    return 'yes'
  }
  return NO.has(word) ? 'no' : text
}

/** Whether a recorded value is one of its kind, or not there yet. */
export function isReadable({ kind }: Characteristic, value: string): boolean {
  if (value === '' || kind === 'text' || kind === 'document') {
    return true
  }
  return kind === 'measured' ? MEASURE.test(value) : value === 'yes' || value === 'no'
}

/**
 * What one recorded value says. Measured ones pass within their limits, the limits themselves included; `yes` passes and
 * `no` fails; a text and the number of a document pass once they are there. What cannot be read says nothing.
 */
export function judgeValue(characteristic: Characteristic, value: string): Verdict {
  if (value === '' || !isReadable(characteristic, value)) {
    return 'open'
  }
  const { kind, low, high } = characteristic
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
 * What a sample says of its lot. `values` are as recorded, by sample and characteristic. More failures than `accept` are
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
