import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio } from '../units/exact'
import { COST_METHODS } from './cost-pool'
import { otherEnd } from './value-moves'
import type { RecordedMove } from './histories'
import { Ledger } from './ledger-of-tests'
import { runs } from '../../tests/property-runs'

const half = { basis: 'part', weight: ratio('1/2'), job: 'build/1' } as const
const rest = { basis: 'part', weight: 1, job: 'build/1' } as const
const given = (moves: RecordedMove[] | 'lacked-then'): bigint[] =>
  (moves as RecordedMove[]).filter((move) => move.to !== null).map((move) => otherEnd(move.amounts))

/** Wood at 2.00 for one, of which a build of ten chairs takes 12, in two parts. */
function bench(): Ledger {
  const ledger = new Ledger(() => 'moving average')
  ledger.post('2026-01-01', [{ quantity: 30, to: 'wood', stated: 6000n }])
  return ledger
}

describe('a job in parts', () => {
  it('each part is given its fraction of what is in work; the last takes what is left', () => {
    const ledger = bench()
    // 10 of wood and work of 5.00 are 25.00 in work; the first half of the chairs takes 12.50
    expect(
      given(
        ledger.post(
          '2026-01-02',
          [
            { quantity: 10, from: 'wood', job: 'build/1' },
            { quantity: 5, to: 'chair', ...half },
          ],
          500n,
        ),
      ),
    ).toEqual([1250n])
    expect(ledger.inWork('build/1')).toBe(1250n)
    // 2 of wood more: 12.50 + 4.00
    expect(
      given(
        ledger.post('2026-01-05', [
          { quantity: 2, from: 'wood', job: 'build/1' },
          { quantity: 5, to: 'chair', ...rest },
        ]),
      ),
    ).toEqual([1650n])
    expect([ledger.inWork('build/1'), ledger.value('wood'), ledger.value('chair')]).toEqual([0n, 3600n, 2900n])
  })
  it('what is taken before anything is made waits in work', () => {
    const ledger = bench()
    ledger.post('2026-01-02', [{ quantity: 12, from: 'wood', job: 'build/1' }])
    expect(ledger.inWork('build/1')).toBe(2400n)
    expect(given(ledger.post('2026-01-03', [{ quantity: 10, to: 'chair', ...rest }]))).toEqual([2400n])
  })
  it('an odd minor unit goes with the last part', () => {
    const ledger = bench()
    const third = { basis: 'part', weight: ratio('1/3'), job: 'build/1' } as const
    expect(
      given(
        ledger.post('2026-01-02', [
          { quantity: '0.5', from: 'wood', job: 'build/1' },
          { quantity: 1, to: 'chair', ...third },
        ]),
      ),
    ).toEqual([33n])
    expect(given(ledger.post('2026-01-03', [{ quantity: 1, to: 'chair', ...half }]))).toEqual([33n])
    expect(given(ledger.post('2026-01-04', [{ quantity: 1, to: 'chair', ...rest }]))).toEqual([34n])
  })
  it('a late invoice reaches every part by what it took: wood turns out to cost 3.00', () => {
    const ledger = bench()
    ledger.post(
      '2026-01-02',
      [
        { quantity: 10, from: 'wood', job: 'build/1' },
        { quantity: 5, to: 'chair', ...half },
      ],
      500n,
    )
    ledger.post('2026-01-05', [
      { quantity: 2, from: 'wood', job: 'build/1' },
      { quantity: 5, to: 'chair', ...rest },
    ])
    ledger.invoice('1.0', 9000n)
    // (30.00 + 5.00) / 2 = 17.50; 17.50 + 6.00 = 23.50
    expect(given(ledger.moves.filter((move) => move.to === 'chair'))).toEqual([1750n, 2350n])
    expect([ledger.inWork('build/1'), ledger.value('wood'), ledger.value('chair')]).toEqual([0n, 5400n, 4100n])
  })
  it('parts are taken back, the newest first, and nothing stays in work', () => {
    const ledger = bench()
    ledger.post(
      '2026-01-02',
      [
        { quantity: 10, from: 'wood', job: 'build/1' },
        { quantity: 5, to: 'chair', ...half },
      ],
      500n,
    )
    ledger.post('2026-01-05', [
      { quantity: 2, from: 'wood', job: 'build/1' },
      { quantity: 5, to: 'chair', ...rest },
    ])
    ledger.reverse(3, '2026-01-06')
    expect(ledger.inWork('build/1')).toBe(1250n)
    ledger.reverse(2, '2026-01-06')
    expect([ledger.inWork('build/1'), ledger.value('wood'), ledger.value('chair')]).toEqual([0n, 6000n, 0n])
    // Made again, it costs what it cost.
    expect(
      given(
        ledger.post(
          '2026-01-07',
          [
            { quantity: 12, from: 'wood', job: 'build/1' },
            { quantity: 10, to: 'chair', ...rest },
          ],
          500n,
        ),
      ),
    ).toEqual([2900n])
  })
  it('a job that is closed short writes off what is in work, and a late invoice changes what it wrote off', () => {
    const ledger = bench()
    ledger.post('2026-01-02', [
      { quantity: 10, from: 'wood', job: 'build/1' },
      { quantity: 4, to: 'chair', basis: 'part', weight: ratio('2/5'), job: 'build/1' },
    ])
    // 20.00 in work, 8.00 with the chairs
    expect(ledger.close('build/1', '2026-01-03')).toBe(1200n)
    expect(ledger.inWork('build/1')).toBe(0n)
    ledger.invoice('1.0', 9000n)
    expect([ledger.closings[0]!.written, ledger.value('chair')]).toEqual([1800n, 1200n])
  })
  it('what comes out beside the main thing takes its share of each part', () => {
    const ledger = bench()
    const done = ledger.post('2026-01-02', [
      { quantity: 10, from: 'wood', job: 'build/1' },
      { quantity: 5, to: 'chair', ...half, weight: ratio('9/20') },
      { quantity: 1, to: 'chips', ...half, weight: ratio('1/20') },
    ])
    expect(given(done)).toEqual([900n, 100n])
    expect(ledger.inWork('build/1')).toBe(1000n)
  })
})

describe('random jobs in parts', () => {
  const part = fc.record({
    wood: fc.integer({ min: 0, max: 4 }),
    glue: fc.integer({ min: 0, max: 4 }),
    made: fc.integer({ min: 0, max: 3 }),
    work: fc.bigInt(0n, 999n),
  })
  const history = fc.record({
    prices: fc.tuple(fc.bigInt(1n, 9999n), fc.bigInt(1n, 9999n)),
    later: fc.tuple(fc.bigInt(0n, 9999n), fc.bigInt(0n, 9999n)),
    parts: fc.array(part, { minLength: 1, maxLength: 5 }),
    last: fc.constantFrom('made', 'closed', 'open'),
    back: fc.nat(5),
    methods: fc.tuple(
      fc.constantFrom(...COST_METHODS),
      fc.constantFrom(...COST_METHODS),
      fc.constantFrom(...COST_METHODS),
    ),
  })

  it('what went in is in what came out, in what was written off and in what is in work; late invoices and parts taken back change nothing in that (500 jobs of all five methods)', () => {
    fc.assert(
      fc.property(history, ({ prices, later, parts, last, back, methods }) => {
        const ledger = new Ledger((pool) => methods[['wood', 'glue', 'chair'].indexOf(pool)]!, ratio(123))
        const [wood] = ledger.post('2026-01-01', [{ quantity: 20, to: 'wood', stated: prices[0] }]) as RecordedMove[]
        const [glue] = ledger.post('2026-01-01', [{ quantity: 20, to: 'glue', stated: prices[1] }]) as RecordedMove[]
        const all = parts.reduce((sum, part) => sum + part.made, 0) + 1
        let made = 0
        for (const [index, entry] of parts.entries()) {
          const out =
            entry.made === 0
              ? []
              : [
                  {
                    quantity: entry.made,
                    to: 'chair',
                    basis: 'part',
                    job: 'build/7',
                    weight: ratio(entry.made).div(all - made),
                  } as const,
                ]
          made += entry.made
          const used = (['wood', 'glue'] as const).flatMap((from) =>
            entry[from] === 0 ? [] : [{ quantity: entry[from], from, job: 'build/7' }],
          )
          ledger.post(`2026-01-0${index + 2}`, [...used, ...out], used.length + out.length === 0 ? 0n : entry.work)
        }
        if (last === 'made') {
          ledger.post('2026-01-08', [{ quantity: 1, to: 'chair', basis: 'part', job: 'build/7', weight: 1 }])
        }
        if (last === 'closed') {
          ledger.close('build/7', '2026-01-08')
        } else {
          for (let n = 0; n < back; n++) {
            const newest = Math.max(
              0,
              ...ledger.moves
                .filter(
                  (move) =>
                    move.job === 'build/7' &&
                    move.basis !== 'back' &&
                    !ledger.moves.some((entry) => entry.of === move.id),
                )
                .map((move) => move.posting),
            )
            if (newest > 0) {
              ledger.reverse(newest, '2026-01-09')
            }
          }
        }
        ledger.invoice(wood!.id, later[0])
        ledger.invoice(glue!.id, later[1])
        const own = ledger.moves.filter((move) => move.job === 'build/7')
        const work = [...new Set(own.map((move) => move.posting))].reduce(
          (sum, posting) => sum + ledger.work.get(posting)!,
          0n,
        )
        const [into, out] = [own.filter((move) => move.to === null), own.filter((move) => move.to !== null)].map(
          (moves) => moves.reduce((sum, move) => sum + otherEnd(move.amounts), 0n),
        )
        expect(into! + work).toBe(
          out! + ledger.inWork('build/7') + ledger.closings.reduce((sum, closing) => sum + closing.written, 0n),
        )
        if (last === 'made' && back === 0) {
          expect(ledger.inWork('build/7')).toBe(0n)
        }
        for (const pool of ['wood', 'glue', 'chair']) {
          expect(ledger.value(pool)).toBe(ledger.pools.get(pool)?.value ?? 0n)
        }
      }),
      { numRuns: runs(500) },
    )
  })
})
