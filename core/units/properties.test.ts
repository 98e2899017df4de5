import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buildUnitGraph, convert, standardUnits, type UnitGraph } from './graph'
import { parseQuantity, typedQuantity, printMixed, splitIntoPacks } from './quantity'
import { ratio, toSteps, toText, ZERO, type Ratio } from './exact'

const RUNS = { numRuns: 1000 }
const fraction = fc
  .tuple(fc.bigInt({ min: 1n, max: 10n ** 9n }), fc.bigInt({ min: 1n, max: 10n ** 6n }))
  .map(([n, d]) => ratio(n, d))
const exactly = (graph: UnitGraph, amount: Ratio, from: string, to: string): Ratio => {
  const found = convert(graph, amount, from, to)
  if (!found.ok) {
    throw new Error(found.error.code)
  }
  return found.value
}

/** A made-up item: packs on packs in any order, and bridges into other dimensions, without a loop. */
const PACKS = ['box', 'carton', 'case', 'pallet', 'bag', 'roll']
const anyItem = fc
  .tuple(
    fc.shuffledSubarray(PACKS, { minLength: 2 }),
    fc.array(fraction, { minLength: 9, maxLength: 9 }),
    fc.array(fc.nat(100), { minLength: 9, maxLength: 9 }),
  )
  .map(([packs, sizes, picks]) => {
    const nodes = ['piece', 'kg', 'm2', 'L', 'm']
    const bridges = ['kg', 'm2', 'L', 'm'].map((unit, index) => ({
      unit,
      per: sizes[index]!,
      of: nodes[picks[index]! % (index + 1)]!,
    }))
    const relations = packs.map((unit, index) => ({
      unit,
      per: sizes[4 + (index % 5)]!,
      of: [...nodes, ...packs.slice(0, index)][picks[4 + (index % 5)]! % (5 + index)]!,
    }))
    return { relations: [...bridges, ...relations], units: [...nodes, ...packs, 'g', 'cm', 'dozen', 'ft2', 'gal'] }
  })

describe('what must hold of any item’s units (random packs and bridges)', () => {
  it('there and back is the identity', () => {
    fc.assert(
      fc.property(anyItem, fraction, fc.nat(), fc.nat(), (item, amount, a, b) => {
        const graph = buildUnitGraph(standardUnits, item.relations)
        if (!graph.ok) {
          return false
        }
        const [from, to] = [item.units[a % item.units.length]!, item.units[b % item.units.length]!]
        return exactly(graph.value, exactly(graph.value, amount, from, to), to, from).equals(amount)
      }),
      RUNS,
    )
  })
  it('any two ways agree, and the order in which relations are stated does not matter', () => {
    fc.assert(
      fc.property(anyItem, fraction, fc.nat(), fc.nat(), fc.nat(), (item, amount, a, b, c) => {
        const [graph, second] = [
          buildUnitGraph(standardUnits, item.relations),
          buildUnitGraph(standardUnits, [...item.relations].reverse()),
        ]
        if (!graph.ok || !second.ok) {
          return false
        }
        const [from, by, to] = [a, b, c].map((n) => item.units[n % item.units.length]!) as [string, string, string]
        const direct = exactly(graph.value, amount, from, to)
        return (
          exactly(graph.value, exactly(graph.value, amount, from, by), by, to).equals(direct) &&
          exactly(second.value, amount, from, to).equals(direct)
        )
      }),
      RUNS,
    )
  })
  it('a relation that closes a loop is taken where it agrees, and refused where it does not', () => {
    fc.assert(
      fc.property(anyItem, fc.nat(), fc.nat(), fraction, (item, a, b, second) => {
        const graph = buildUnitGraph(standardUnits, item.relations)
        const [unit, base] = [item.units[a % item.units.length]!, item.units[b % item.units.length]!]
        if (!graph.ok || unit === base) {
          return true
        }
        const per = exactly(graph.value, ratio('1'), unit, base)
        const agrees = buildUnitGraph(standardUnits, [...item.relations, { unit, per, of: base }])
        const differs = buildUnitGraph(standardUnits, [...item.relations, { unit, per: per.add(second), of: base }])
        return agrees.ok && !differs.ok && differs.error.code === 'contradiction' && differs.error.existing.equals(per)
      }),
      RUNS,
    )
  })
  it('split into packs and joined again, nothing is lost; and what is printed is read as the same', () => {
    fc.assert(
      fc.property(anyItem, fraction, (item, amount) => {
        const graph = buildUnitGraph(standardUnits, item.relations)
        if (!graph.ok) {
          return false
        }
        const parts = splitIntoPacks(
          graph.value,
          amount,
          'piece',
          item.units.filter((unit) => PACKS.includes(unit)),
        )
        const joined = parts.reduce((sum, part) => sum.add(exactly(graph.value, part.amount, part.unit, 'piece')), ZERO)
        const read = parseQuantity(typedQuantity(printMixed(parts, 'piece')), { graph: graph.value, unit: 'piece' })
        const typed = read.ok ? exactly(graph.value, read.value.amount, read.value.unit, 'piece') : null
        return (
          joined.equals(amount) &&
          parts.slice(0, -1).every((part) => part.amount.d === 1n) &&
          typed?.equals(amount) === true
        )
      }),
      RUNS,
    )
  })
  it('recorded steps and residues add up to the exact total, however it is split', () => {
    fc.assert(
      fc.property(fc.array(fraction, { minLength: 1, maxLength: 20 }), fraction, (portions, step) => {
        const total = portions.reduce((sum, portion) => sum.add(portion), ZERO)
        const recorded = portions.map((portion) => toSteps(portion, step, 'recorded'))
        return (
          recorded.reduce((sum, entry) => sum.add(entry.quantity).add(entry.residue), ZERO).equals(total) &&
          recorded.every((entry) => entry.quantity.equals(step.mul(entry.steps)))
        )
      }),
      RUNS,
    )
  })
  it('a price per pack divides: what a quantity costs does not depend on the unit it is bought in', () => {
    fc.assert(
      fc.property(anyItem, fraction, fraction, fc.nat(), (item, amount, price, a) => {
        const graph = buildUnitGraph(standardUnits, item.relations)
        if (!graph.ok) {
          return false
        }
        const pack = item.units[a % item.units.length]!
        const perPiece = price.mul(exactly(graph.value, ratio('1'), 'piece', pack))
        return exactly(graph.value, amount, 'piece', pack).mul(price).equals(amount.mul(perPiece))
      }),
      RUNS,
    )
  })
})

describe('mixed form', () => {
  const graph = buildUnitGraph(standardUnits, [
    { unit: 'carton', per: ratio('24'), of: 'piece' },
    { unit: 'pallet', per: ratio('8'), of: 'carton' },
  ])
  if (!graph.ok) {
    throw new Error('graph')
  }
  it.each([
    ['292', '1 pallet + 4 carton + 4 piece'],
    ['24', '1 carton'],
    ['23.5', '23.5 piece'],
    ['0', '0 piece'],
    ['193', '1 pallet + 1 piece'],
  ])('%s pieces are %s', (amount, written) => {
    expect(printMixed(splitIntoPacks(graph.value, ratio(amount), 'piece', ['carton', 'pallet', 'drum']), 'piece')).toBe(
      written,
    )
  })
})

describe('common practice, no source', () => {
  const base = (relations: readonly (readonly [string, string, string])[]): UnitGraph => {
    const built = buildUnitGraph(
      standardUnits,
      relations.map(([unit, per, base]) => ({ unit, per: ratio(per), of: base })),
    )
    if (!built.ok) {
      throw new Error(built.error.code)
    }
    return built.value
  }
  it('a case of 24 and a pack of 6 of one bottle: four packs are a case', () => {
    const graph = base([
      ['case', '24', 'bottle'],
      ['pack', '6', 'bottle'],
    ])
    expect(toText(exactly(graph, ratio('1'), 'case', 'pack'))).toBe('4')
    expect(printMixed(splitIntoPacks(graph, ratio('35'), 'bottle', ['pack', 'case']), 'bottle')).toBe(
      '1 case + 1 pack + 5 bottle',
    )
  })
  it('a pallet of 12 pieces: 30 pieces are two pallets and a half', () => {
    expect(toText(exactly(base([['pallet', '12', 'piece']]), ratio('30'), 'piece', 'pallet'))).toBe('2.5')
  })
  it('bought in metres, held and sold in centimetres: 3 m at 4.20 a metre are 300 cm at 0.042', () => {
    const graph = base([])
    expect(toText(exactly(graph, ratio('3'), 'm', 'cm'))).toBe('300')
    expect(toText(ratio('4.20').mul(exactly(graph, ratio('1'), 'cm', 'm')))).toBe('0.042')
  })
})

describe('codes of UN/ECE Recommendation 20 (rev. 17) and 21, from memory', () => {
  it.each([
    ['piece', 'H87'],
    ['sheet', 'ST'],
    ['pair', 'PR'],
    ['dozen', 'DZN'],
    ['gross', 'GRO'],
    ['ream', 'RM'],
    ['mg', 'MGM'],
    ['g', 'GRM'],
    ['kg', 'KGM'],
    ['t', 'TNE'],
    ['oz', 'ONZ'],
    ['lb', 'LBR'],
    ['mm', 'MMT'],
    ['cm', 'CMT'],
    ['m', 'MTR'],
    ['km', 'KMT'],
    ['in', 'INH'],
    ['ft', 'FOT'],
    ['yd', 'YRD'],
    ['cm2', 'CMK'],
    ['m2', 'MTK'],
    ['in2', 'INK'],
    ['ft2', 'FTK'],
    ['yd2', 'YDK'],
    ['ml', 'MLT'],
    ['L', 'LTR'],
    ['m3', 'MTQ'],
    ['floz', 'OZA'],
    ['gal', 'GLL'],
    ['s', 'SEC'],
    ['min', 'MIN'],
    ['h', 'HUR'],
    ['box', 'BX'],
    ['carton', 'CT'],
    ['case', 'CS'],
    ['bag', 'BG'],
    ['drum', 'DR'],
    ['roll', 'RO'],
  ])('%s is %s', (unit, code) => {
    expect(standardUnits.get(unit)!.rec20).toBe(code)
  })
  it('no code is used twice', () => {
    const codes = [...standardUnits.values()].map((unit) => unit.rec20)
    expect(new Set(codes).size).toBe(codes.length)
  })
})
