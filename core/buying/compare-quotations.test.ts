import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { landedLines, leastTotal, type Quoted } from '.'

const DAY = '2026-10-09'
/** A supplier who quotes so many cents by line, all there on a day. */
const quote = (supplierId: number, charges: number, amounts: readonly number[], arrivesOn = DAY): Quoted => ({
  supplierId,
  charges: BigInt(charges),
  lines: amounts.map((amount, index) => ({ lineId: index + 1, amount: BigInt(amount), arrivesOn })),
})

describe('what a quotation costs landed', () => {
  /* By hand: 10.00 of freight over 30.00 and 15.01: 10.00 × 30.00 ÷ 45.01 = 6.66 (cut off), the rest, 3.34, on the last. */
  it('shares the charges by value, the remainder on the last line', () => {
    expect([...landedLines(quote(1, 1000, [3000, 1501])).values()]).toEqual([3666n, 1835n])
  })
  it('shares evenly where the goods cost nothing', () => {
    expect([...landedLines(quote(1, 100, [0, 0, 0])).values()]).toEqual([33n, 33n, 34n])
    expect(landedLines(quote(1, 100, [])).size).toBe(0)
  })
})

describe('who costs least in total', () => {
  /*
   * By hand. A: 100 + 50 + 12 freight = 162. B: 90 + 70 + 5 = 165. Of both, 90 + 50 + 17 = 157: less than either.
   * With 20 freight of A: A 170, B 165, both 90 + 50 + 25 = 165: the same as B alone, who is one less to deal with.
   */
  it('counts the charges of each who delivers anything once', () => {
    const total = leastTotal([1, 2], [quote(7, 1200, [10_000, 5000]), quote(8, 500, [9000, 7000])])!
    expect([total.total, [...total.suppliers]]).toEqual([
      15_700n,
      [
        [1, 8],
        [2, 7],
      ],
    ])
    const fewer = leastTotal([1, 2], [quote(7, 2000, [10_000, 5000]), quote(8, 500, [9000, 7000])])!
    expect([fewer.total, [...new Set(fewer.suppliers.values())]]).toEqual([16_500n, [8]])
  })

  it('takes only what is there in time, where that is asked', () => {
    const quoted = [quote(7, 0, [100], '2026-10-20'), quote(8, 0, [300], '2026-10-08')]
    expect(leastTotal([1], quoted)!.suppliers.get(1)).toBe(7)
    expect(leastTotal([1], quoted, new Map([[1, DAY]]))!.suppliers.get(1)).toBe(8)
    expect(leastTotal([1], quoted, new Map([[1, '2026-10-01']]))).toBeNull()
  })

  it('is none where nobody quotes a line', () => {
    expect(leastTotal([1, 2], [quote(7, 0, [100])])).toBeNull()
    expect(leastTotal([1], [])).toBeNull()
  })

  it('refuses more suppliers than it can look through', () => {
    expect(() =>
      leastTotal(
        [1],
        Array.from({ length: 13 }, (_, index) => quote(index, 0, [1])),
      ),
    ).toThrow('At most 12')
  })

  it('is never more than any other way of sharing the lines out (against all of them)', () => {
    const supplier = fc.record({
      charges: fc.integer({ min: 0, max: 300 }),
      amounts: fc.array(fc.integer({ min: 0, max: 500 }), { minLength: 3, maxLength: 3 }),
    })
    fc.assert(
      fc.property(fc.array(supplier, { minLength: 1, maxLength: 4 }), (suppliers) => {
        const quoted = suppliers.map(({ charges, amounts }, index) => quote(index, charges, amounts))
        const totals = everyWay(quoted.length, 3).map((way) => {
          const goods = way.reduce((sum, member, line) => sum + quoted[member]!.lines[line]!.amount, 0n)
          return [...new Set(way)].reduce((sum, member) => sum + quoted[member]!.charges, goods)
        })
        const least = totals.reduce((best, total) => (total < best ? total : best))
        expect(leastTotal([1, 2, 3], quoted)!.total).toBe(least)
      }),
    )
  })
})

/** All ways of giving each of some lines to one of some members. */
const everyWay = (members: number, lines: number): number[][] =>
  lines === 0
    ? [[]]
    : everyWay(members, lines - 1).flatMap((way) => Array.from({ length: members }, (_, member) => [...way, member]))
