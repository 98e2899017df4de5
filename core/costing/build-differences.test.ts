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
      { component: ['0.288', '0.35', '500', 189n], quantity: 24, made: 20, done: true },
      [120n, 31n, 14n, 24n, 189n],
    ],
    [
      'all as the bill says',
      { component: ['10', '10', '123', 1230n], quantity: 5, made: 5, done: true },
      [1230n, 0n, 0n, 0n, 1230n],
    ],
    [
      'still going on: held against what was made',
      { component: ['0.288', '0.15', '500', 75n], quantity: 24, made: 10, done: false },
      [60n, 15n, 0n, 0n, 75n],
    ],
    [
      'cheaper and less',
      { component: ['100', '90', '20', 1710n], quantity: 10, made: 10, done: true },
      [2000n, -200n, -90n, 0n, 1710n],
    ],
    [
      'what the bill does not know: all of it is usage',
      { component: ['0', '3', '50', 150n], quantity: 10, made: 10, done: true },
      [0n, 150n, 0n, 0n, 150n],
    ],
  ] as const)('%s', (_, build, expected) => {
    expect(differencesOf([...build.component], build.quantity, build.made, build.done)).toEqual(expected)
  })

  it('bill + usage + price + yield is the actual cost, whatever the figures', () => {
    fc.assert(
      fc.property(
        fc.record({
          need: fc.nat(9999),
          used: fc.nat(9999),
          planned: fc.nat(9999),
          cost: fc.bigInt(0n, 10n ** 9n),
          quantity: fc.integer({ min: 1, max: 99 }),
          made: fc.nat(120),
          done: fc.boolean(),
        }),
        ({ need, used, planned, cost, quantity, made, done }) => {
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
