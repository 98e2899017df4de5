import Qty from 'js-quantities'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from './quantity'
import { buildUnitGraph, convert, describeUnitError, reachableUnits, standardUnits } from './graph'
import { findUnit, grouped, readStockQuantity, type ItemMeasure, type ParseError } from './quantity'
import { ratio, toText } from './exact'

const built = buildUnitGraph(standardUnits, [])
if (!built.ok) {
  throw new Error(built.error.code)
}
const graph = built.value

/** Names of the same units in js-quantities, a general-purpose library from the registry. */
const THEIRS: Readonly<Record<string, string>> = {
  mg: 'mg',
  g: 'g',
  kg: 'kg',
  t: 'tonne',
  oz: 'oz',
  lb: 'lb',
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  km: 'km',
  in: 'in',
  ft: 'ft',
  yd: 'yd',
  cm2: 'cm2',
  m2: 'm2',
  in2: 'in2',
  ft2: 'ft2',
  yd2: 'yd2',
  ml: 'ml',
  L: 'l',
  m3: 'm3',
  floz: 'floz',
  gal: 'gal',
  s: 's',
  min: 'min',
  h: 'h',
}

describe('conversions against a general-purpose units library (js-quantities)', () => {
  const pairs = Object.keys(THEIRS).flatMap((from) =>
    Object.keys(THEIRS)
      .filter(
        (target) => target !== from && standardUnits.get(target)!.dimension === standardUnits.get(from)!.dimension,
      )
      .map((target) => [from, target] as const),
  )
  it.each(pairs)('%s to %s', (from, to) => {
    const ours = convert(graph, ratio(1), from, to)
    const theirs = Qty(1, THEIRS[from]!).to(THEIRS[to]!).scalar
    // Theirs is floating point, and some of its factors have seven digits: the two agree to one part in 100 000.
    expect(ours.ok && Math.abs(ours.value.valueOf() / theirs - 1)).toBeLessThan(1e-5)
  })
})

describe('finding a unit by what people write', () => {
  it.each([
    ['kg', 'kg'],
    ['Kilograms', 'kg'],
    ['m²', 'm2'],
    ['square feet', 'ft2'],
    ['pc', 'piece'],
    ['Pieces', 'piece'],
    ['doz', 'dozen'],
    ['L', 'L'],
    ['fl oz', 'floz'],
    ['CARTONS', 'carton'],
    ['t', 't'],
    ['T', 't'],
    ['M', 'm'],
  ])('%s is %s', (word, code) => {
    expect(findUnit(standardUnits, word)?.code).toBe(code)
  })
  it('knows nothing of a wheelbarrow', () => {
    expect(findUnit(standardUnits, 'wheelbarrow')).toBeNull()
  })
  it('no two units share a code, a name or a symbol', () => {
    const all = [...standardUnits.values()]
    for (const key of ['code', 'name', 'symbol'] as const) {
      expect(new Set(all.map((unit) => unit[key])).size).toBe(all.length)
    }
  })
  it('offers what an item can be expressed in: mass alone, until a bridge joins a volume', () => {
    const codes = (g: typeof graph): string[] => reachableUnits(g, 'kg').map((unit) => unit.code)
    expect(codes(graph).sort()).toEqual(['g', 'kg', 'lb', 'mg', 'oz', 't'])
    const bridged = buildUnitGraph(standardUnits, [{ unit: 'L', per: ratio('1.06'), of: 'kg' }])
    expect(bridged.ok && codes(bridged.value)).toEqual(expect.arrayContaining(['kg', 'L', 'ml', 'gal']))
  })
})

describe('reading a quantity onto the ledger', () => {
  const cloth = buildUnitGraph(standardUnits, [{ unit: 'm', per: ratio('1.32'), of: 'm2' }])
  if (!cloth.ok) {
    throw new Error(cloth.error.code)
  }
  const item: ItemMeasure = { graph: cloth.value, stockUnit: 'm', finestStep: ratio('0.01') }
  it.each([
    ['66', 'm2', 'recorded', '50', '66'],
    ['10', 'm2', 'recorded', '7.58', '10'],
    ['10', 'm2', 'required', '7.58', '10'],
    ['1', 'in', 'required', '0.03', '1'],
    ['1', 'in', 'recorded', '0.03', '1'],
  ] as const)('%s %s %s is %s m', (text, unit, how, quantity, entered) => {
    const read = readStockQuantity(typedQuantity(text), unit, item, how)
    if (!read.ok) {
      throw new Error(read.error.code)
    }
    expect([toText(read.value.quantity), read.value.entered]).toEqual([quantity, entered])
    expect(read.value.quantity.add(read.value.residue).equals(read.value.exact)).toBe(true)
  })
  it('the residue is told in the unit that was typed', () => {
    const read = readStockQuantity(typedQuantity('10'), 'm2', item)
    // 10 ÷ 1.32 = 7.575 757… m, recorded as 7.58 m; 7.58 × 1.32 = 10.0056 m², so the residue is −0.0056 m².
    expect(read.ok && toText(read.value.residueEntered)).toBe('-0.0056')
  })
  it('a unit of another dimension is refused', () => {
    const read = readStockQuantity(typedQuantity('3'), 'kg', item)
    expect(read.ok ? '' : read.error.code).toBe('no-path')
  })
})

describe('the sentence of every refusal', () => {
  it.each<[ParseError, string]>([
    [{ code: 'empty' }, 'Type a quantity.'],
    [{ code: 'unreadable', text: 'x' }, '“x” is no number. Write for example 2.5, 1/3, 3*12 or 2 carton + 5.'],
    [{ code: 'divide-by-zero' }, 'A quantity cannot be divided by zero.'],
    [{ code: 'not-above-zero', text: '-1' }, '-1 is not above zero. Type a quantity greater than zero.'],
    [{ code: 'unknown-word', word: 'crate' }, '“crate” is not a unit of this item.'],
    [
      { code: 'other-sign', text: '0,5', sign: '.', meant: '0.5' },
      '“0,5” is written with a decimal comma; here it is a point: 0.5.',
    ],
    [
      { code: 'other-sign', text: '1,250.5', sign: ',', meant: '1250,5' },
      '“1,250.5” is written with a decimal point; here it is a comma: 1250,5.',
    ],
    [{ code: 'unknown-unit', unit: 'crate' }, 'There is no unit “crate”.'],
    [
      { code: 'no-path', from: 'kg', to: 'm' },
      'Nothing says how kg relates to m. Add a pack or a bridge between them on the item.',
    ],
    [{ code: 'not-positive', unit: 'box', of: 'piece' }, 'The content of one box in piece must be greater than zero.'],
  ])('%j', (error, sentence) => {
    expect(describeUnitError(error)).toBe(sentence)
  })
})

describe('printing', () => {
  it.each([
    ['1234567.5', '1 234 567.5'],
    ['-1000', '−1 000'],
    ['999', '999'],
    ['0', '0'],
    ['-0.5', '−0.5'],
  ])('%s is written %s', (value, written) => {
    expect(grouped(value, { decimalSign: '.', grouping: 'space' })).toBe(written)
  })
})
