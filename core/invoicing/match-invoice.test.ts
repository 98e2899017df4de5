import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO } from '../units/exact'
import { matchInvoice } from '.'

const receipt = (quantity: string, invoiced: string, given: bigint) => ({
  quantity: ratio(quantity),
  invoiced: ratio(invoiced),
  given,
})

describe('an invoice is matched with what came in', () => {
  // By hand: 3 for 100 cents. Two of the first receipt are ⅔ of it, 66.67 → 67; the last part takes the other 33.
  // The first receipt stands at 50 for 2, the second at 60 for 2, so 30 for one of them.
  it('gives each receipt its share, and the last what is left', () => {
    const { parts, left } = matchInvoice({ quantity: ratio(3), amount: 100n }, [
      receipt('2', '0', 50n),
      receipt('2', '0', 60n),
    ])
    expect(parts.map((part) => [toText(part.quantity), part.amount, part.delta])).toEqual([
      ['2', 67n, 17n],
      ['1', 33n, 3n],
    ])
    expect(toText(left)).toBe('0')
  })

  // By hand: of 10 for 99 cents 4 are invoiced, which stand at 39.6 → 40. The other 6 stand at 99 − 40 = 59.
  it('goes on where the invoice before it ended', () => {
    const { parts } = matchInvoice({ quantity: ratio(6), amount: 60n }, [receipt('10', '4', 99n)])
    expect(parts.map((part) => [toText(part.quantity), part.amount, part.delta])).toEqual([['6', 60n, 1n]])
  })

  it('passes over receipts that are invoiced, and says what was never received', () => {
    const { parts, left } = matchInvoice({ quantity: ratio(5), amount: 500n }, [
      receipt('2', '2', 10n),
      receipt('3', '0', 30n),
    ])
    expect(parts).toHaveLength(1)
    expect(toText(left)).toBe('2')
  })

  it('adds up, whatever came in (property)', () => {
    const receipts = fc.array(fc.tuple(fc.integer({ min: 1, max: 50 }), fc.bigInt(0n, 10n ** 6n)), {
      minLength: 1,
      maxLength: 6,
    })
    fc.assert(
      fc.property(receipts, fc.bigInt(0n, 10n ** 7n), (came, amount) => {
        const all = came.reduce((sum, [quantity]) => sum + quantity, 0)
        const { parts, left } = matchInvoice(
          { quantity: ratio(all), amount },
          came.map(([quantity, given]) => receipt(String(quantity), '0', given)),
        )
        expect(left.equals(ZERO)).toBe(true)
        expect(parts.reduce((sum, part) => sum + part.amount, 0n)).toBe(amount)
        const given = came.reduce((sum, entry) => sum + entry[1], 0n)
        expect(parts.reduce((sum, part) => sum + part.delta, 0n)).toBe(amount - given)
      }),
    )
  })
})
