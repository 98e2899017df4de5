import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText } from '../units/exact'
import { offerFor, proposeOffer, type SellingTerms } from '.'

const DAY = '2026-10-05'
const tier = (fromQuantity: string, price: string, fromOn: string | null = null) => ({
  fromQuantity,
  price,
  fromOn,
  untilOn: null,
})
const terms = (edit: Partial<SellingTerms> = {}): SellingTerms => ({
  price: '0.25',
  tiers: [],
  minimum: ratio(0),
  multiple: ratio(0),
  ...edit,
})
const told = (sold: SellingTerms, wanted: string) => {
  const { quantity, price, amount, next } = offerFor(sold, ratio(wanted), DAY)
  return [quantity, price, amount, ...(next ? [next.quantity, next.price, next.amount] : [])].map(toText)
}

describe('what a supplier asks', () => {
  it('is rounded up to the minimum and to whole steps', () => {
    expect(told(terms(), '7')).toEqual(['7', '0.25', '1.75'])
    expect(told(terms({ minimum: ratio(10) }), '7')).toEqual(['10', '0.25', '2.5'])
    expect(told(terms({ multiple: ratio(4) }), '7')).toEqual(['8', '0.25', '2'])
    expect(told(terms({ minimum: ratio(10), multiple: ratio(4) }), '7')).toEqual(['12', '0.25', '3'])
  })

  /*
   * By hand. 88 at 0.25 are 22.00; from 100 on each costs 0.20: 100 are 20.00. So 12 more cost 2.00 less.
   * 60 at 0.25 are 15.00; 100 at 0.20 are 20.00: each costs less, all of it 5.00 more. 40 are too far from 100.
   */
  it('tells of the next price, where it is near', () => {
    const tiers = [tier('100', '0.20'), tier('500', '0.16')]
    expect(told(terms({ tiers }), '88')).toEqual(['88', '0.25', '22', '100', '0.2', '20'])
    expect(told(terms({ tiers }), '60')).toEqual(['60', '0.25', '15', '100', '0.2', '20'])
    expect(told(terms({ tiers }), '40')).toEqual(['40', '0.25', '10'])
    expect(told(terms({ tiers }), '400')).toEqual(['400', '0.2', '80', '500', '0.16', '80'])
    expect(told(terms({ tiers, multiple: ratio(30) }), '88')).toEqual(['90', '0.25', '22.5', '120', '0.2', '24'])
  })

  it('passes over prices that do not hold yet, or are no lower', () => {
    expect(told(terms({ tiers: [tier('100', '0.20', '2026-11-01')] }), '88')).toEqual(['88', '0.25', '22'])
    expect(told(terms({ tiers: [tier('100', '0.25')] }), '88')).toEqual(['88', '0.25', '22'])
  })

  it('is never less than is wanted', () => {
    const amount = fc.integer({ min: 1, max: 10_000 })
    fc.assert(
      fc.property(amount, amount, amount, (wanted, minimum, multiple) => {
        const { quantity } = offerFor(terms({ minimum: ratio(minimum), multiple: ratio(multiple) }), ratio(wanted), DAY)
        expect(quantity.compare(ratio(Math.max(wanted, minimum)))).toBeGreaterThanOrEqual(0)
        expect(quantity.sub(ratio(Math.max(wanted, minimum))).compare(ratio(multiple))).toBeLessThan(0)
      }),
    )
  })
})

describe('the supplier that is proposed', () => {
  const offer = (cost: number, arrivesOn: string) => ({ cost: ratio(cost), arrivesOn })
  it('is the cheapest of those in time, else the soonest', () => {
    const [cheap, dear, late] = [offer(5, '2026-10-10'), offer(7, '2026-10-08'), offer(3, '2026-10-20')]
    expect(proposeOffer([dear, cheap, late], '2026-10-12')).toBe(cheap)
    expect(proposeOffer([dear, cheap, late], '2026-10-09')).toBe(dear)
    expect(proposeOffer([cheap, late, dear], '2026-10-01')).toBe(dear)
    expect(proposeOffer([], '2026-10-01')).toBeNull()
  })
})
