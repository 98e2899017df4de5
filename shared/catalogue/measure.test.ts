import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toSteps, toText } from '~~/core/units/exact'
import { coarserThanUnit, stepThatHolds } from './measure'

describe('the step that holds a quantity', () => {
  it.each([
    ['10.4', '1', '0.1'],
    ['10.425', '0.5', '0.001'],
    ['10.5', '0.25', '0.01'],
    ['3', '1', '1'],
    ['400/3', '0.01', null],
    ['0.0000001', '1', null],
  ])('%s at steps of %s: %s', (quantity, step, better) =>
    expect(stepThatHolds(ratio(quantity), ratio(step))).toBe(better),
  )
})

describe('a finest step that is coarser than its unit is written', () => {
  it('tells what it would lose: 10.4 kg at 1 kg', () => {
    const coarse = coarserThanUnit('1', { decimals: 3 })!
    expect([toText(coarse.quantity), toText(coarse.becomes), coarse.better]).toEqual(['10.4', '10', '0.001'])
  })
  it.each([
    ['0.001', 3],
    ['0.0001', 3],
    ['1', 0],
  ])('nothing at %s with %i decimals', (step, decimals) => expect(coarserThanUnit(step, { decimals })).toBeNull())
  it('the example is one that the better step holds and the step does not (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 5000 }), fc.integer({ min: 0, max: 4 }), (many, decimals) => {
        const unitStep = ratio(1n, 10n ** BigInt(decimals))
        const step = unitStep.mul(ratio(BigInt(many)))
        const coarse = coarserThanUnit(toText(step), { decimals })!
        expect(coarse.quantity.div(unitStep).d).toBe(1n)
        expect(toSteps(coarse.quantity, step, 'recorded').quantity.equals(coarse.becomes)).toBe(true)
        expect(coarse.becomes.equals(coarse.quantity)).toBe(false)
      }),
    )
  })
})
