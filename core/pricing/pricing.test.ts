import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buyingPrice, tierAt } from './tiers'
import { rateOn } from './exchange'
import { sellingPrice, type SellingRule } from './selling'
import { buildUnitGraph, standardUnits } from '../units/graph'
import { ratio, toText } from '../units/exact'

const tier = (fromQuantity: string, price: string, fromOn: string | null = null, untilOn: string | null = null) => ({
  fromQuantity,
  price,
  fromOn,
  untilOn,
})

describe('price tiers', () => {
  const tiers = [
    tier('10', '9.50'),
    tier('50', '8.00'),
    tier('10', '9.00', '2026-11-01'),
    tier('50', '7.00', '2026-12-01', '2026-12-24'),
  ]
  it.each([
    ['1', '2026-10-05', '10.00'],
    ['9.999', '2026-11-05', '10.00'],
    ['10', '2026-10-31', '9.50'],
    ['10', '2026-11-01', '9.00'],
    ['49', '2027-01-01', '9.00'],
    ['50', '2026-10-05', '8.00'],
    ['60', '2026-12-01', '7.00'],
    ['60', '2026-12-24', '7.00'],
    ['60', '2026-12-25', '8.00'],
  ])('%s on %s cost %s each', (quantity, day, price) => {
    expect(buyingPrice('10.00', tiers, ratio(quantity), day)).toBe(price)
  })
  it('agrees with sorting all tiers that hold (property)', () => {
    const any = fc.record({
      fromQuantity: fc.nat(20).map(String),
      price: fc.nat(99).map(String),
      fromOn: fc.constantFrom(null, '2026-01-01', '2026-06-01'),
      untilOn: fc.constantFrom(null, '2026-05-31', '2026-12-31'),
    })
    fc.assert(
      fc.property(
        fc.array(any),
        fc.nat(20),
        fc.constantFrom('2025-12-31', '2026-03-01', '2026-07-01'),
        (list, quantity, day) => {
          const held = list.filter(
            (t) => Number(t.fromQuantity) <= quantity && (t.fromOn ?? '') <= day && (t.untilOn ?? '9') >= day,
          )
          const [best] = [...held].sort(
            (a, b) => Number(b.fromQuantity) - Number(a.fromQuantity) || (b.fromOn ?? '').localeCompare(a.fromOn ?? ''),
          )
          return tierAt(list, ratio(quantity), day) === (best ?? null)
        },
      ),
      { numRuns: 1000 },
    )
  })
})

describe('selling prices', () => {
  const graph = buildUnitGraph(standardUnits, [{ unit: 'carton', per: ratio('24'), of: 'piece' }])
  if (!graph.ok) {
    throw new Error('graph')
  }
  const rule = (change: Partial<SellingRule>): SellingRule => ({
    ...tier('0', '2'),
    unit: 'piece',
    priceListId: null,
    customerId: null,
    ...change,
  })
  const rules = [
    rule({ fromQuantity: '12', price: '1.80' }),
    rule({ unit: 'carton', price: '36' }),
    rule({ priceListId: 1, price: '1.70' }),
    rule({ customerId: 7, price: '1.50', fromQuantity: '48' }),
  ]
  const ask = (
    quantity: string,
    unit: string,
    customerId: number | null = null,
    priceListId: number | null = null,
  ): string => {
    const found = sellingPrice(graph.value, { price: '2.00', unit: 'piece' }, rules, {
      unit,
      quantity: ratio(quantity),
      day: '2026-10-05',
      customerId,
      priceListId,
    })
    return found ? `${toText(found.price)} ${found.from}` : 'none'
  }
  it.each([
    ['1', 'piece', null, null, '2 item'],
    ['12', 'piece', null, null, '1.8 quantity'],
    ['1', 'carton', null, null, '36 quantity'],
    ['24', 'piece', null, null, '1.8 quantity'],
    ['1', 'piece', 7, 1, '1.7 price list'],
    ['48', 'piece', 7, 1, '1.5 customer'],
    ['2', 'carton', 7, 1, '36 customer'],
    ['2', 'dozen', null, null, '21.6 quantity'],
  ])('%s %s for customer %s on list %s: %s', (quantity, unit, customer, list, answer) => {
    expect(ask(quantity, unit, customer, list)).toBe(answer)
  })
  it('a price for a carton of 24 is divided exactly for pieces, where only that is known', () => {
    const found = sellingPrice(graph.value, { price: null, unit: 'piece' }, [rule({ unit: 'carton', price: '10' })], {
      unit: 'piece',
      quantity: ratio('24'),
      day: '2026-10-05',
      customerId: null,
      priceListId: null,
    })
    expect(found && toText(found.price)).toBe('5/12')
  })
  it('says none where nothing states a price', () => {
    expect(
      sellingPrice(graph.value, { price: null, unit: 'piece' }, [], {
        unit: 'piece',
        quantity: ratio('1'),
        day: '2026-10-05',
        customerId: null,
        priceListId: null,
      }),
    ).toBeNull()
  })
})

describe('exchange rates', () => {
  const rates = [
    { fromOn: '2026-09-01', rate: '1.16' },
    { fromOn: '2026-10-01', rate: '1.18' },
    { fromOn: '2026-01-01', rate: '1.2' },
  ]
  it.each([
    ['2025-12-31', null],
    ['2026-08-31', '1.2'],
    ['2026-09-30', '1.16'],
    ['2026-10-05', '1.18'],
  ])('on %s it is %s', (day, rate) => {
    const found = rateOn(rates, day)
    expect(found && toText(found)).toBe(rate)
  })
})
