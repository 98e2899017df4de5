import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  buildUnitGraph,
  convert,
  describeUnitError,
  standardUnits,
  type Unit,
  type UnitGraph,
  type UnitRelation,
} from './graph'
import { grouped, parseQuantity, typedQuantity, printAmount } from './quantity'
import { ratio, toSteps, toText, type Ratio, toDecimal } from './exact'

const graphOf = (...relations: UnitRelation[]): UnitGraph => {
  const built = buildUnitGraph(standardUnits, relations)
  if (!built.ok) {
    throw new Error(describeUnitError(built.error))
  }
  return built.value
}
const relation = (unit: string, per: string, base: string): UnitRelation => ({ unit, per: ratio(per), of: base })
const converted = (graph: UnitGraph, amount: string, from: string, to: string): string => {
  const result = convert(graph, ratio(amount), from, to)
  return result.ok ? toText(result.value) : result.error.code
}
const anyRatio = fc.tuple(fc.bigInt(-(10n ** 12n), 10n ** 12n), fc.bigInt(1n, 10n ** 6n)).map(([n, d]) => ratio(n, d))
const positive = fc.tuple(fc.bigInt(1n, 10n ** 9n), fc.bigInt(1n, 10n ** 6n)).map(([n, d]) => ratio(n, d))

describe('exact ratios', () => {
  it.each([
    ['0.125', '0.125'],
    ['1/3', '1/3'],
    ['-2.50', '-2.5'],
    ['.5', '0.5'],
    ['1000', '1000'],
  ])('reads %s as %s', (text, written) => {
    expect(toText(ratio(text))).toBe(written)
  })
  it.each(['1e3', '0x10', 'ten', '', '1.2.3', '1/0'])('refuses %j', (text) => {
    expect(() => ratio(text)).toThrow()
  })
  it('refuses a float, which would be an approximation', () => {
    expect(() => ratio(0.1)).toThrow()
  })
  it.each([
    ['0.5', 0, '0'],
    ['1.5', 0, '2'],
    ['2.5', 0, '2'],
    ['-2.5', 0, '-2'],
    ['2/3', 2, '0.67'],
    ['-0.005', 2, '0.00'],
    ['12.345', 2, '12.34'],
  ])('rounds %s to %i decimals as %s, ties to even', (text, places, written) => {
    expect(toDecimal(ratio(text), places)).toBe(written)
  })
})

describe('standard units', () => {
  // NIST SP 811 (2008), appendix B.8 and B.9: factors printed in bold there are exact.
  it.each([
    ['in', 'm', '0.0254'],
    ['ft', 'm', '0.3048'],
    ['yd', 'm', '0.9144'],
    ['lb', 'kg', '0.45359237'],
    ['oz', 'kg', '0.028349523125'],
    ['gal', 'L', '3.785411784'],
    ['floz', 'ml', '29.5735295625'],
    ['ft2', 'm2', '0.09290304'],
    ['in2', 'm2', '0.00064516'],
    ['yd2', 'm2', '0.83612736'],
    ['h', 'min', '60'],
  ])('1 %s is %s %s', (from, to, factor) => {
    expect(converted(graphOf(), '1', from, to)).toBe(factor)
  })
  it('a ream is 500 sheets and a gross twelve dozen', () => {
    expect(converted(graphOf(), '1', 'ream', 'sheet')).toBe('500')
    expect(converted(graphOf(), '1', 'gross', 'dozen')).toBe('12')
  })
})

describe('an item’s packs and bridges', () => {
  it('a box of 8 and a pallet of 24 boxes make 192 pieces (common practice, no source)', () => {
    expect(
      converted(graphOf(relation('pallet', '24', 'box'), relation('box', '8', 'piece')), '1', 'pallet', 'piece'),
    ).toBe('192')
  })
  it('2 000 ft² of a roll 15 ft wide is 133.33 ft with its residue kept (common practice, no source)', () => {
    const feet = convert(graphOf(relation('ft', '15', 'ft2')), ratio(2000), 'ft2', 'ft')
    if (!feet.ok) {
      throw new Error(feet.error.code)
    }
    const recorded = toSteps(feet.value, ratio('0.01'), 'recorded')
    expect(toText(recorded.quantity)).toBe('133.33')
    expect(toText(recorded.residue)).toBe('1/300')
    expect(toText(recorded.residue.mul(15))).toBe('0.05')
    expect(toText(recorded.quantity.add(recorded.residue).mul(15))).toBe('2000')
  })
  it('10 g of a 500 kg container is exactly 1/50 000 of it and is not lost (common practice, no source)', () => {
    const graph = graphOf(relation('drum', '500', 'kg'))
    expect(converted(graph, '10', 'g', 'drum')).toBe('0.00002')
    expect(ratio('0.00002').equals(ratio(1, 50000))).toBe(true)
    expect(converted(graph, '1/50000', 'drum', 'g')).toBe('10')
  })
  it('cloth 1.32 m wide: 66 m² is 50 m', () => {
    expect(converted(graphOf(relation('m', '1.32', 'm2')), '66', 'm2', 'm')).toBe('50')
  })
  it('accepts a relation that closes a loop and agrees', () => {
    expect(
      buildUnitGraph(standardUnits, [
        relation('box', '8', 'piece'),
        relation('pallet', '24', 'box'),
        relation('pallet', '192', 'piece'),
      ]).ok,
    ).toBe(true)
  })
  it('refuses one that contradicts, and shows both', () => {
    const built = buildUnitGraph(standardUnits, [
      relation('box', '8', 'piece'),
      relation('pallet', '24', 'box'),
      relation('pallet', '190', 'piece'),
    ])
    expect(built.ok).toBe(false)
    if (!built.ok) {
      expect(describeUnitError(built.error)).toBe(
        '1 pallet = 190 piece contradicts the path pallet → box → piece, by which it is 192 piece.',
      )
    }
  })
  it.each([
    ['unknown-unit', relation('crate', '2', 'piece')],
    ['not-positive', relation('box', '0', 'piece')],
    ['contradiction', relation('dozen', '13', 'piece')],
  ])('refuses with %s', (code, bad) => {
    const built = buildUnitGraph(standardUnits, [bad])
    expect(built.ok ? 'ok' : built.error.code).toBe(code)
  })
  it('names both units where nothing relates them', () => {
    const result = convert(graphOf(), ratio(1), 'kg', 'm')
    expect(result.ok ? '' : describeUnitError(result.error)).toContain('how kg relates to m')
  })
  it('there and back is the identity, and two ways agree (property)', () => {
    const graph = graphOf(
      relation('pallet', '40', 'ream'),
      relation('kg', '1/7', 'sheet'),
      relation('m', '33/25', 'm2'),
    )
    const codes = ['pallet', 'ream', 'sheet', 'g', 'kg', 'lb', 'dozen']
    fc.assert(
      fc.property(
        anyRatio,
        fc.constantFrom(...codes),
        fc.constantFrom(...codes),
        fc.constantFrom(...codes),
        (amount, a, b, c) => {
          const go = (x: Ratio, from: string, to: string): Ratio => {
            const r = convert(graph, x, from, to)
            if (!r.ok) {
              throw new Error(r.error.code)
            }
            return r.value
          }
          return go(go(amount, a, b), b, a).equals(amount) && go(go(amount, a, b), b, c).equals(go(amount, a, c))
        },
      ),
      { numRuns: 1000 },
    )
  })
})

describe('the grid of finest steps', () => {
  it.each([
    ['9.6', '1', 'required', '10', '-0.4'],
    ['9.6', '0.1', 'required', '9.6', '0'],
    ['2.5', '1', 'recorded', '2', '0.5'],
    ['3.5', '1', 'recorded', '4', '-0.5'],
  ] as const)('%s at steps of %s, %s, is %s with residue %s', (quantity, step, how, onGrid, residue) => {
    const stepped = toSteps(ratio(quantity), ratio(step), how)
    expect([toText(stepped.quantity), toText(stepped.residue)]).toEqual([onGrid, residue])
  })
  it('recorded steps and residue are the whole, and at most half a step apart (property)', () => {
    fc.assert(
      fc.property(positive, positive, (quantity, step) => {
        const { quantity: onGrid, residue } = toSteps(quantity, step, 'recorded')
        return onGrid.add(residue).equals(quantity) && residue.abs().mul(2).compare(step) <= 0
      }),
      { numRuns: 1000 },
    )
  })
})

describe('typing a quantity', () => {
  const graph = graphOf(relation('carton', '24', 'piece'))
  const read = (text: string, decimalSign: '.' | ',' = '.', unit = 'piece'): string => {
    const result = parseQuantity(typedQuantity(text), { graph, unit, decimalSign })
    return result.ok ? `${toText(result.value.amount)} ${result.value.unit}` : result.error.code
  }
  it.each([
    ['2.5', '2.5 piece'],
    ['2.5 kg', '2.5 kg'],
    ['1/3 ream', '1/3 ream'],
    ['3*12', '36 piece'],
    ['2 carton + 5', '53 piece'],
    ['1 1/2 in', '1.5 in'],
    ['1,250.5', '1250.5 piece'],
    ['1 250', '1250 piece'],
    ['2 Cartons', '2 carton'],
    ['3 m²', '3 m2'],
    ['10 − 4', '6 piece'],
    ['2kg', '2 kg'],
    ['1 carton - 4', '20 piece'],
  ])('reads %s as %s', (text, expected) => {
    expect(read(text)).toBe(expected)
  })
  it.each([
    ['1 250,5', '1250.5 piece'],
    ['1.250,5', '1250.5 piece'],
    ['0,4 kg', '0.4 kg'],
  ])('reads %s with a decimal comma as %s', (text, expected) => {
    expect(read(text, ',')).toBe(expected)
  })
  it.each([
    ['', 'empty'],
    ['abc', 'unreadable'],
    ['0', 'not-above-zero'],
    ['-3', 'unreadable'],
    ['3 - 5', 'not-above-zero'],
    ['2 wheelbarrow', 'unknown-word'],
    ['1/0', 'divide-by-zero'],
    ['2 kg + 1 m', 'no-path'],
    ['3*', 'unreadable'],
    ['2..5', 'unknown-word'],
    ['0,5', 'other-sign'],
    ['1.250,5 kg', 'other-sign'],
    ['2 m of', 'unknown-word'],
  ])('refuses %j with %s', (text, code) => {
    expect(read(text)).toBe(code === 'unreadable' && text === '-3' ? 'not-above-zero' : code)
  })
  it('a unit whose name has a sign or begins with a number is read by its whole name', () => {
    const own = (code: string): Unit => ({
      ...graph.units.get('carton')!,
      code,
      name: code,
      plural: `${code}s`,
      symbol: code,
    })
    const units = new Map([
      ...graph.units,
      ...['6-pack', '500-pack', 'pack-a', 'pack'].map((code) => [code, own(code)] as const),
    ])
    const readWith = (text: string): string => {
      const result = parseQuantity(typedQuantity(text), { graph: { ...graph, units }, unit: 'piece', anySign: true })
      return result.ok ? `${toText(result.value.amount)} ${result.value.unit}` : result.error.code
    }
    expect(['2 6-pack', '2 500-pack', '3 pack-a', '1 6-packs', '5 6-PACK', '2 pack - 1 pack'].map(readWith)).toEqual([
      '2 6-pack',
      '2 500-pack',
      '3 pack-a',
      '1 6-pack',
      '5 6-pack',
      '1 pack',
    ])
  })
  it.each([
    ['1 carton + 5', 'carton', '29 piece'],
    ['1 carton + 5', 'piece', '29 piece'],
    ['2 + 3', 'carton', '5 carton'],
    ['5', 'carton', '5 carton'],
    ['1 dozen - 2', 'carton', '10 piece'],
  ])('%s in a field of %s: what stands bare beside a unit is loose (%s)', (text, unit, expected) => {
    const result = parseQuantity(typedQuantity(text), { graph, unit, loose: 'piece' })
    expect(result.ok ? `${toText(result.value.amount)} ${result.value.unit}` : result.error.code).toBe(expected)
  })
  it('reads back what was printed (property)', () => {
    fc.assert(
      fc.property(positive, (value) => read(toText(value)) === `${toText(value)} piece`),
      { numRuns: 1000 },
    )
  })
})

describe('printing', () => {
  it.each([
    ['1250', 0, '1 250'],
    ['133333/1000', 2, '≈ 133.33'],
    ['-4.5', 1, '−4.5'],
    ['1/3', 3, '≈ 0.333'],
    ['2', 3, '2'],
  ])('%s with %i decimals is %s', (value, decimals, printed) => {
    expect(printAmount(ratio(value), decimals, { decimalSign: '.', grouping: 'space' })).toBe(printed)
  })
  // Grouping and decimal sign as CLDR has them for en-GB, de-DE, fr-FR (from memory); none as many write codes.
  it.each([
    ['1234567.891', '.', 'sign', '1,234,567.891'],
    ['1234567.891', ',', 'sign', '1.234.567,891'],
    ['1234567.891', ',', 'space', '1 234 567,891'],
    ['-1234.50', '.', 'none', '−1234.50'],
    ['12345678901234567890.123456789012', '.', 'space', '12 345 678 901 234 567 890.123456789012'],
  ] as const)('%s with the sign %s, grouped by %s, is %s', (decimal, decimalSign, grouping, printed) => {
    expect(grouped(decimal, { decimalSign, grouping })).toBe(printed)
  })
  it('whatever is printed is read again as the same number (property)', () => {
    const graph = graphOf()
    fc.assert(
      fc.property(
        fc.bigInt(1n, 10n ** 12n),
        fc.integer({ min: 0, max: 6 }),
        fc.constantFrom('.' as const, ',' as const),
        fc.constantFrom('space' as const, 'sign' as const, 'none' as const),
        (steps, decimals, decimalSign, grouping) => {
          const amount = ratio(steps, 10n ** BigInt(decimals))
          const text = printAmount(amount, 6, { decimalSign, grouping })
          const read = parseQuantity(typedQuantity(text), { graph, unit: 'piece', decimalSign })
          expect(read.ok && toText(read.value.amount)).toBe(toText(amount))
        },
      ),
    )
  })
})
