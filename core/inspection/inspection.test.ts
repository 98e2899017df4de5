import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio } from '../units/exact'
import {
  ACCEPTANCE_LIMITS,
  asRecorded,
  INSPECTION_LEVELS,
  judgeSamples,
  judgeValue,
  sampleOf,
  SEVERITIES,
  type Characteristic,
} from '.'
import { codeLetter, singleSampling } from './sampling'

describe('single sampling by ISO 2859-1', () => {
  // From memory of the standard and of the examples in D. C. Montgomery, Introduction to Statistical Quality Control,
  // on MIL-STD-105E, whose plans ISO 2859-1 took over (lot of 2 000, limit 0.65: 125 with 2, 125 with 1, 50 with 1).
  it.each([
    [500, 'II', '1.0', 'normal', { letter: 'H', size: 50, accept: 1 }],
    [2000, 'II', '0.65', 'normal', { letter: 'K', size: 125, accept: 2 }],
    [2000, 'II', '0.65', 'tightened', { letter: 'K', size: 125, accept: 1 }],
    [2000, 'II', '0.65', 'reduced', { letter: 'K', size: 50, accept: 1 }],
    [1000, 'II', '2.5', 'normal', { letter: 'J', size: 80, accept: 5 }],
    [1000, 'II', '1.0', 'tightened', { letter: 'J', size: 80, accept: 1 }],
    [3200, 'II', '4.0', 'normal', { letter: 'K', size: 125, accept: 10 }],
    [100, 'II', '4.0', 'normal', { letter: 'F', size: 20, accept: 2 }],
    [5000, 'II', '1.0', 'normal', { letter: 'L', size: 200, accept: 5 }],
    [35_000, 'I', '1.5', 'normal', { letter: 'K', size: 125, accept: 5 }],
    [600_000, 'III', '0.010', 'normal', { letter: 'Q', size: 1250, accept: 0 }],
  ] as const)('a lot of %i at level %s and limit %s, %s', (lotSize, level, limit, severity, plan) => {
    expect(singleSampling({ lotSize, level, limit, severity })).toEqual(plan)
  })

  it('follows the arrows to the nearest plan', () => {
    const of = (lotSize: number, limit: '0.40' | '0.65') =>
      singleSampling({ lotSize, level: 'II', limit, severity: 'normal' })
    expect(of(500, '0.40')).toEqual({ letter: 'G', size: 32, accept: 0 })
    expect(of(500, '0.65')).toEqual({ letter: 'J', size: 80, accept: 1 })
    expect(of(50, '0.65')).toEqual({ letter: 'F', size: 20, accept: 0 })
  })

  it('looks at a small lot whole', () => {
    expect(singleSampling({ lotSize: 12, level: 'II', limit: '0.65', severity: 'normal' })).toMatchObject({ size: 12 })
    expect(singleSampling({ lotSize: 1, level: 'II', limit: '1.0', severity: 'normal' })).toMatchObject({ size: 1 })
  })

  it('ends at a plan from every cell of the tables, with a letter no smaller for a larger lot', () => {
    for (const level of INSPECTION_LEVELS) {
      const letters = [2, 9, 16, 26, 51, 91, 151, 281, 501, 1201, 3201, 10_001, 35_001, 150_001, 500_001].map((lot) =>
        codeLetter(lot, level),
      )
      expect(letters).toEqual([...letters].sort())
      for (const severity of SEVERITIES) {
        for (const limit of ACCEPTANCE_LIMITS) {
          const { size, accept } = singleSampling({ lotSize: 400_000, level, limit, severity })
          expect(size).toBeGreaterThan(0)
          expect(accept).toBeLessThanOrEqual(44)
        }
      }
    }
  })

  /*
   * What the plans are for, worked out by the Poisson distribution and not by the tables: a lot that is just good
   * enough passes 88 to 99.5 times in a hundred, tightened less often, and reduced with a smaller sample.
   */
  const lots = ['I', 'II', 'III'].flatMap((level) =>
    [280, 1200, 10_000, 150_000].map((lotSize) => ({ level, lotSize })),
  )
  const limits = ['0.25', '0.40', '0.65', '1.0', '1.5', '2.5', '4.0', '6.5', '10'] as const
  it.each(lots)('lets pass what is good enough as often as it should: level $level, $lotSize', ({ level, lotSize }) => {
    const planOf = (limit: (typeof limits)[number], severity: (typeof SEVERITIES)[number]) =>
      singleSampling({ lotSize, level: level as 'I', limit, severity })
    // Where the lot is looked at whole, or an arrow leads to another letter, the rule of thumb does not hold.
    const own = limits.filter((limit) => {
      const { size, letter } = planOf(limit, 'normal')
      return size < lotSize && letter === codeLetter(lotSize, level as 'I')
    })
    expect(own.length).toBeGreaterThan(2)
    for (const limit of own) {
      const [normal, tightened, reduced] = SEVERITIES.map((severity) => planOf(limit, severity))
      const passes = poisson(normal!.accept, (normal!.size * Number(limit)) / 100)
      expect(passes).toBeGreaterThan(0.87)
      expect(passes).toBeLessThan(0.997)
      expect(tightened!.accept / tightened!.size).toBeLessThanOrEqual(normal!.accept / normal!.size)
      expect(reduced!.size).toBeLessThan(normal!.size)
    }
  })
})

/** How often at most `most` happen where `mean` are expected. */
function poisson(most: number, mean: number): number {
  let term = Math.exp(-mean)
  let sum = term
  for (let count = 1; count <= most; count++) {
    term *= mean / count
    sum += term
  }
  return sum
}

describe('how much of a lot is looked at', () => {
  it('is all, a number, a share upwards, or what the standard says', () => {
    expect(sampleOf({ kind: 'all' }, ratio('12'))).toEqual({ letter: '', size: 12, accept: 0 })
    expect(sampleOf({ kind: 'number', number: 5 }, ratio('3'))).toMatchObject({ size: 3 })
    expect(sampleOf({ kind: 'share', percent: '10' }, ratio('31'))).toMatchObject({ size: 4 })
    expect(sampleOf({ kind: 'share', percent: '0.1' }, ratio('31'))).toMatchObject({ size: 1 })
    const rule = { kind: 'iso 2859-1', level: 'II', limit: '1.0', severity: 'normal' } as const
    expect(sampleOf(rule, ratio('500'))).toEqual({ letter: 'H', size: 50, accept: 1 })
  })

  it('counts a measure by its whole units', () => {
    expect(sampleOf({ kind: 'all' }, ratio('2.4'))).toMatchObject({ size: 3 })
    expect(sampleOf({ kind: 'all' }, ratio('0.004'))).toMatchObject({ size: 1 })
  })
})

const THICKNESS: Characteristic = { name: 'Thickness', kind: 'measured', unit: 'mm', low: '1.9', high: '2.1' }
const STRAIGHT: Characteristic = { name: 'Straight', kind: 'yes or no', unit: '', low: '', high: '' }

describe('what a sample says', () => {
  it('passes at a limit and fails beyond it', () => {
    const values = ['1.9', '2.1', '1.8999', '2.1001', '']
    expect(values.map((value) => judgeValue(THICKNESS, value))).toEqual(['pass', 'pass', 'fail', 'fail', 'open'])
    expect(judgeValue({ ...THICKNESS, low: '' }, '-4')).toBe('pass')
    expect(judgeValue({ ...THICKNESS, kind: 'text' }, 'smooth')).toBe('pass')
  })

  it('says nothing of what cannot be read', () => {
    expect(['-', '2.0x', 'abc'].map((value) => judgeValue(THICKNESS, value))).toEqual(['open', 'open', 'open'])
    expect(['y', 'maybe'].map((value) => judgeValue(STRAIGHT, value))).toEqual(['open', 'open'])
    expect(judgeSamples([THICKNESS, STRAIGHT], [['2.0x', 'ye']], 0).verdict).toBe('open')
  })

  it('takes what people type for what is recorded: a comma, a word for yes or no', () => {
    expect([' 2,05 ', '-1', '2.0x'].map((text) => asRecorded(THICKNESS, text))).toEqual(['2.05', '-1', '2.0x'])
    expect(['y', 'OK', ' 1', 'N', '0', 'maybe'].map((text) => asRecorded(STRAIGHT, text))).toEqual([
      ...['yes', 'yes', 'yes', 'no', 'no', 'maybe'],
    ])
    expect(asRecorded({ ...STRAIGHT, kind: 'text' }, ' y ')).toBe('y')
  })

  it('counts pieces, not values, and is told as soon as too many failed', () => {
    const rows = [
      ['2.0', 'yes'],
      ['2.5', 'no'],
      ['2.6', ''],
      ['', ''],
    ]
    expect(judgeSamples([THICKNESS, STRAIGHT], rows, 1)).toEqual({
      samples: ['pass', 'fail', 'fail', 'open'],
      failed: 2,
      open: 1,
      failedBy: [2, 1],
      verdict: 'fail',
    })
    expect(judgeSamples([THICKNESS, STRAIGHT], rows, 2).verdict).toBe('open')
  })

  it('passes once every piece is there and no more failed than may', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('yes', 'no'), { minLength: 1, maxLength: 40 }),
        fc.nat(40),
        (values, accept) => {
          const failed = values.filter((value) => value === 'no').length
          const judged = judgeSamples(
            [STRAIGHT],
            values.map((value) => [value]),
            accept,
          )
          expect(judged.verdict).toBe(failed > accept ? 'fail' : 'pass')
          expect(judged.failed).toBe(failed)
        },
      ),
    )
  })
})
