import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buildUnitGraph, standardUnits } from '../units/graph'
import { ratio } from '../units/exact'
import { spreadCharge, SPREADS, type ChargedReceipt, type Spread } from '.'

/** Goods counted in pieces, of which each weighs so much and takes so much room. */
function goods(value: bigint, quantity: string, kilograms = '', cubicMetres = ''): ChargedReceipt {
  const relations = [
    { of: 'kg', each: kilograms },
    { of: 'm3', each: cubicMetres },
  ].filter(({ each }) => each !== '')
  const graph = buildUnitGraph(
    standardUnits,
    relations.map(({ of, each }) => ({ unit: 'piece', per: ratio(each), of })),
  )
  if (!graph.ok) {
    throw new Error('The units of this test do not agree')
  }
  return { value, quantity: ratio(quantity), unit: 'piece', graph: graph.value }
}

/*
 * By hand. 10 at 2.00, 5 at 8.00 and 3 at 10.00 are worth 20, 40 and 30, together 90; they weigh 0.5, 2 and 1 kg each,
 * 5, 10 and 3 kg, together 18; and take 1, 4 and 10 l each, 10, 20 and 30 l, together 60. Freight of 10.00:
 *   by value    10 × 2/9 = 2.22…, × 4/9 = 4.44…; the rest is 3.34
 *   by quantity 10 × 10/18 = 5.55…, × 5/18 = 2.77…; the rest is 1.68
 *   by mass     10 × 5/18 = 2.77…, × 10/18 = 5.55…; the rest is 1.68
 *   by volume   10 × 1/6 = 1.66…, × 2/6 = 3.33…; the rest is 5.01
 */
const LOAD = [goods(2000n, '10', '0.5', '0.001'), goods(4000n, '5', '2', '0.004'), goods(3000n, '3', '1', '0.01')]

describe('a charge is spread over goods', () => {
  it.each<[Spread, bigint[]]>([
    ['value', [222n, 444n, 334n]],
    ['quantity', [555n, 277n, 168n]],
    ['mass', [277n, 555n, 168n]],
    ['volume', [166n, 333n, 501n]],
  ])('by %s, to the cent, with the remainder on the last', (by, shares) => {
    expect(spreadCharge(1000n, by, LOAD)).toEqual({ ok: true, value: shares })
  })

  it('a rebate is spread the same way, below nought', () => {
    expect(spreadCharge(-1000n, 'value', LOAD)).toEqual({ ok: true, value: [-222n, -444n, -334n] })
  })

  it('is refused where there is nothing to go by, and says which goods', () => {
    const unweighed = goods(100n, '1')
    const sheets: ChargedReceipt = { ...unweighed, unit: 'm2' }
    expect(spreadCharge(1000n, 'value', [])).toEqual({ ok: false, error: { kind: 'nothing' } })
    expect(spreadCharge(1000n, 'mass', [LOAD[0]!, unweighed])).toEqual({
      ok: false,
      error: { kind: 'no measure', at: 1 },
    })
    expect(spreadCharge(1000n, 'quantity', [LOAD[0]!, sheets])).toEqual({
      ok: false,
      error: { kind: 'other unit', at: 1 },
    })
    expect(spreadCharge(1000n, 'value', [goods(0n, '4')])).toEqual({ ok: false, error: { kind: 'all nought' } })
  })

  it('adds up, and no share but the last is more than a cent off its proportion (property)', () => {
    const parcel = fc.record({
      value: fc.bigInt(1n, 10n ** 9n),
      quantity: fc.integer({ min: 1, max: 10_000 }),
      kilograms: fc.integer({ min: 1, max: 500 }),
      litres: fc.integer({ min: 1, max: 500 }),
    })
    fc.assert(
      fc.property(
        fc.bigInt(-(10n ** 9n), 10n ** 9n),
        fc.constantFrom(...SPREADS),
        fc.array(parcel, { minLength: 1, maxLength: 8 }),
        (charge, by, parcels) => {
          const weights = parcels.map(({ value, quantity, kilograms, litres }) => {
            const measures = { mass: quantity * kilograms, volume: quantity * litres, quantity, value: 0 }
            return by === 'value' ? value : BigInt(measures[by])
          })
          const found = spreadCharge(
            charge,
            by,
            parcels.map(({ value, quantity, kilograms, litres }) =>
              goods(value, String(quantity), String(kilograms), `${litres}/1000`),
            ),
          )
          const shares = found.ok ? found.value : []
          const whole = weights.reduce((sum, weight) => sum + weight, 0n)
          expect(shares.reduce((sum, share) => sum + share, 0n)).toBe(charge)
          shares.slice(0, -1).forEach((share, at) => {
            const off = share * whole - charge * weights[at]!
            expect(off > -whole && off < whole).toBe(true)
          })
        },
      ),
    )
  })
})
