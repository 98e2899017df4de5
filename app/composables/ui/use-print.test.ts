import { computed, reactive } from 'vue'
import { beforeAll, describe, expect, it } from 'vitest'
import { ratio } from '~~/core/units/exact'
import { usePrint } from './use-print'

const company = reactive({ currency: 'EUR', decimalSign: '.' as '.' | ',', grouping: 'space', dateFormat: 'day month' })

// What Nuxt would import by itself.
beforeAll(() => Object.assign(globalThis, { computed, useSession: () => ({ company, today: '2026-10-05' }) }))

describe.each(['.', ','] as const)('in a company that writes “%s”', (sign) => {
  const written = (text: string): string => text.replace('.', sign)
  beforeAll(() => {
    company.decimalSign = sign
  })

  it.each([
    ['1250.5', '1 250.5'],
    ['-0.125', '−0.125'],
    ['1000000', '1 000 000'],
  ])('an amount of %s', (text, shown) => expect(usePrint().amount(text, 6)).toBe(written(shown)))

  it.each([
    ['125050', '€1 250.50'],
    ['-310', '−€3.10'],
    ['0', '€0.00'],
  ])('%s cents, the minus before the sign of the currency', (minor, shown) =>
    expect(usePrint().money(minor)).toBe(written(shown)),
  )

  it.each([
    ['0.0042', '€0.0042'],
    ['12.5', '€12.50'],
    ['-1', '−€1.00'],
    ['1/3', '€0.333333'],
  ])('a price of %s', (major, shown) => expect(usePrint().price(major)).toBe(written(shown)))

  it('so many finest steps', () => expect(usePrint().ofSteps(12_505, '0.1')).toBe(written('1 250.5')))

  it('a rounded figure is marked', () => expect(usePrint().printed(ratio('1/3'), 2)).toBe(`≈ ${written('0.33')}`))

  it.each([
    ['1250.5', `1250${sign}5`],
    ['-0.125', `-0${sign}125`],
    ['2.5 m', `2${sign}5 m`],
    ['2 carton + 5', '2 carton + 5'],
    ['no. 5', 'no. 5'],
  ])('%s in a field is what a person would type', (stored, typed) => expect(usePrint().asTyped(stored)).toBe(typed))
})
