import { describe, expect, it } from 'vitest'
import { ItemEdit } from './catalogue/item'
import { measureOf } from './catalogue/measure'
import { may, RIGHTS, ROLES, rolesWith } from './company/rights'
import { Day, Decimal, Key, Money, Price } from './primitives'
import { BillEdit } from './structure/requests'
import { NewBreakDown } from './workshop/requests'

describe('who may do what', () => {
  it.each([
    [
      'owner',
      'see catalogue prices undercut demand plan buy approve receive inspect make stock ship books costs people',
    ],
    ['planner', 'see catalogue prices demand plan costs'],
    ['buyer', 'see catalogue plan buy receive books costs'],
    ['maker', 'see make'],
    ['stockkeeper', 'see receive stock ship'],
    ['viewer', 'see'],
  ] as const)('%s: %s', (role, rights) => {
    expect(RIGHTS.filter((right) => may(role, right)).join(' ')).toBe(rights)
  })
  it('everybody sees, only the owner looks after people', () => {
    expect(rolesWith('see')).toEqual(ROLES)
    expect(rolesWith('people')).toEqual(['owner'])
  })
})

describe('what a field takes', () => {
  const first = (
    schema: { safeParse(data: unknown): { success: boolean; error?: { issues: { message: string }[] } } },
    data: unknown,
  ): string => schema.safeParse(data).error?.issues[0]?.message ?? 'taken'
  it.each([
    ['2026-10-05', 'taken'],
    ['2026-13-01', '“2026-13-01” is no date. Write it as year-month-day, for example 2026-10-05.'],
    ['5.10.2026', '“5.10.2026” is no date. Write it as year-month-day, for example 2026-10-05.'],
  ])('a date %s: %s', (text, answer) => {
    expect(first(Day, text)).toBe(answer)
  })
  it.each([
    ['12.50', 'taken'],
    ['0', 'taken'],
    ['-1', '“-1” is no price. Write for example 12.50.'],
    ['12,50', '“12,50” is no price. Write for example 12.50.'],
    ['1.1234567', '“1.1234567” is no price. Write for example 12.50.'],
  ])('money %s: %s', (text, answer) => {
    expect(first(Money, text)).toBe(answer)
  })
  it.each([
    ['0.0001', 'taken'],
    ['1e3', 'Write a price such as 12.50.'],
    ['', 'Write a price such as 12.50.'],
  ])('a price %j: %s', (text, answer) => {
    expect(first(Price, text)).toBe(answer)
  })
  it.each([
    ['0.000000000001', 'taken'],
    ['1/3', '“1/3” is no number for the minimum. Write for example 2 or 0.25.'],
  ])('a decimal %s: %s', (text, answer) => {
    expect(first(Decimal('the minimum'), text)).toBe(answer)
  })
  it('a key is made by the client', () => {
    expect(first(Key, 'again')).toBe('The act has no valid key; reload the page.')
  })
  it.each([
    [{ lines: [] }, 'taken'],
    [{ batchSize: '0' }, 'Give a batch above zero.'],
    [{ lines: [{ itemId: 9, quantity: '1', unit: 'piece' }] }, 'An item cannot contain itself.'],
    [{ lines: [{ itemId: 1, quantity: '0', unit: 'piece' }] }, 'Give a quantity above zero.'],
    [
      {
        byProducts: [
          { itemId: 2, quantity: '1', unit: 'piece', sharePercent: '60' },
          { itemId: 3, quantity: '1', unit: 'piece', sharePercent: '40' },
        ],
      },
      'By-products carry less than 100 % of the cost together.',
    ],
    [{ yieldPercent: '0' }, 'The yield lies above 0 and up to 100 %.'],
    [{ yieldPercent: '101' }, 'The yield lies above 0 and up to 100 %.'],
    [{ lines: [{ itemId: 1, quantity: '1', unit: 'piece', scrapPercent: '100' }] }, 'Keep the scrap below 100 %.'],
  ])('a bill with %j', (change, answer) => {
    expect(
      first(BillEdit, {
        itemId: 9,
        batchSize: '1',
        batchUnit: 'piece',
        lines: [{ itemId: 1, quantity: '1', unit: 'piece' }],
        ...change,
      }),
    ).toBe(answer)
  })
  it.each([
    ['0', 'At least once.'],
    ['1.5', 'Give a whole number of times.'],
    ['many', 'Give how many times.'],
  ])('a break-down %s times: %s', (times, answer) => {
    expect(
      first(NewBreakDown, { key: '5b1c1f5e-52a9-4c8a-9d0b-0f4a8d8f7a11', itemId: 1, times, dueOn: '2026-10-05' }),
    ).toBe(answer)
  })
  it.each([
    [{ code: '' }, 'Give a code.'],
    [{ name: '  ' }, 'Give a name.'],
    [{ finestStep: '0' }, 'The finest step must be above zero.'],
    [{ finestStep: '0.000' }, 'The finest step must be above zero.'],
    [{ leadDays: '-1' }, 'A lead time is not below zero.'],
    [{ leadDays: '2.5' }, 'Give whole working days.'],
    [{ stockUnit: '' }, 'Choose a unit.'],
    [{ safetyStock: 'some' }, '“some” is no number for the safety stock. Write for example 2 or 0.25.'],
    [{ relations: [{ unit: 'box', per: 'twelve', ofUnit: 'piece' }] }, 'Write a number such as 24, 1.32 or 1/3.'],
  ])('an item with %j: %s', (change, answer) => {
    expect(
      first(ItemEdit, {
        code: 'A',
        name: 'A',
        groupId: 1,
        stockUnit: 'piece',
        buyingUnit: 'piece',
        sellingUnit: 'piece',
        finestStep: '1',
        ...change,
      }),
    ).toBe(answer)
  })
})

describe('how an item is measured', () => {
  const units = [
    ['piece', 'count', '1', '1'],
    ['carton', 'pack', null, null],
  ].map(([code, dimension, numerator, denominator]) => ({
    code: code!,
    name: code!,
    plural: `${code}s`,
    symbol: code!,
    dimension: dimension as 'count' | 'pack',
    numerator: numerator ?? null,
    denominator: denominator ?? null,
    decimals: 0,
    rec20: null,
    own: false,
    retired: false,
  }))
  it('joins its packs', () => {
    const measure = measureOf(units, {
      stockUnit: 'piece',
      finestStep: '1',
      relations: [{ unit: 'carton', ofUnit: 'piece', numerator: '24', denominator: '1' }],
    })
    expect(measure.ok && [...(measure.value.graph.edges.get('carton') ?? [])].map((e) => e.to)).toEqual(['piece'])
  })
  it('tells a contradiction', () => {
    const measure = measureOf(units, {
      stockUnit: 'piece',
      finestStep: '1',
      relations: [
        { unit: 'carton', ofUnit: 'piece', numerator: '24', denominator: '1' },
        { unit: 'piece', ofUnit: 'carton', numerator: '1', denominator: '25' },
      ],
    })
    expect(measure.ok ? 'ok' : measure.error.code).toBe('contradiction')
  })
})
