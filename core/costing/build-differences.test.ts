import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio } from '../units/exact'
import { buildDifferences } from './build-differences'

const differencesOf = (
  component: [need: string, used: string, planned: string, cost: bigint],
  quantity: number,
  made: number,
  done: boolean,
): bigint[] => {
  const [need, used, planned, cost] = component
  const {
    bill,
    usage,
    price,
    yield: lost,
    actual,
  } = buildDifferences(
    { need: ratio(need), used: ratio(used), planned: ratio(planned), cost },
    { quantity: ratio(quantity), made: ratio(made), done },
  )
  return [bill, usage, price, lost, actual]
}

describe('why a component cost what it cost', () => {
  it.each([
    // 20/24 of 0.288 is 0.24 kg at 5.00; 0.35 − 0.288 is 0.062 at 5.00; 0.35 at 0.40 more; 0.048 at 5.00
    [
      'fewer came out, more went in, and it was dearer',
      ['0.288', '0.35', '500', 189n],
      24,
      20,
      true,
      [120n, 31n, 14n, 24n, 189n],
    ],
    ['all as the bill says', ['10', '10', '123', 1230n], 5, 5, true, [1230n, 0n, 0n, 0n, 1230n]],
    [
      'still going on: held against what was made',
      ['0.288', '0.15', '500', 75n],
      24,
      10,
      false,
      [60n, 15n, 0n, 0n, 75n],
    ],
    ['cheaper and less', ['100', '90', '20', 1710n], 10, 10, true, [2000n, -200n, -90n, 0n, 1710n]],
    ['what the bill does not know: all of it is usage', ['0', '3', '50', 150n], 10, 10, true, [0n, 150n, 0n, 0n, 150n]],
  ] as const)('%s', (_, component, quantity, made, done, expected) => {
    expect(differencesOf([...component], quantity, made, done)).toEqual(expected)
  })

  it('bill + usage + price + yield is the actual cost, whatever the figures', () => {
    fc.assert(
      fc.property(
        fc.nat(9999),
        fc.nat(9999),
        fc.nat(9999),
        fc.bigInt(0n, 10n ** 9n),
        fc.integer({ min: 1, max: 99 }),
        fc.nat(120),
        fc.boolean(),
        (need, used, planned, cost, quantity, made, done) => {
          const [bill, usage, price, lost, actual] = differencesOf(
            [`${need}/7`, `${used}/1000`, `${planned}/13`, cost],
            quantity,
            made,
            done,
          )
          expect(bill! + usage! + price! + lost!).toBe(actual)
          expect(actual).toBe(cost)
        },
      ),
    )
  })
})
