import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO, ONE, type Ratio } from '../units'
import { compileStructure, explode, findLoop, needOf, rollUp, whereUsed, type Structure, type StructureLine } from '.'

const line = (parent: string, child: string, per: string, more: Partial<StructureLine> = {}): StructureLine => ({ parent, child, per: ratio(per), fixed: ZERO, scrap: ZERO, outputYield: ONE, ...more })
const compiled = (...lines: StructureLine[]): Structure => {
  const result = compileStructure(lines)
  if (!result.ok) throw new Error(result.error.path.join(' → '))
  return result.value
}
const table = compiled(line('table', 'leg', '4'), line('table', 'top', '1'), line('leg', 'screw', '3'), line('top', 'screw', '2'))
const asTable = (rows: readonly { item: string, quantity: Ratio }[]): Record<string, string> => Object.fromEntries(rows.map(row => [row.item, toText(row.quantity)]))

describe('explosion', () => {
  it('sums an item that is reached by several paths', () => { expect(asTable(explode(table, 'table', ratio(2)))).toEqual({ leg: '8', top: '2', screw: '28' }) })
  it('counts yield, scrap and the fixed part: (18 ÷ 0.9) × 0.012 ÷ (1 − 0.04) + 0.05 = 0.3', () => {
    expect(toText(needOf(line('book', 'glue', '0.012', { scrap: ratio('0.04'), outputYield: ratio('0.9'), fixed: ratio('0.05') }), ratio(18)))).toBe('0.3')
  })
  it('keeps awkward ratios exact over levels: 1/3 × 1/7 × 0.0002 of 21 is 0.0002', () => {
    expect(asTable(explode(compiled(line('a', 'b', '1/3'), line('b', 'c', '1/7'), line('c', 'd', '0.0002')), 'a', ratio(21)))).toMatchObject({ d: '0.0002' })
  })
  it('is empty below a bought item', () => { expect(explode(table, 'screw', ONE)).toEqual([]) })
  it('equals a recursive walk over every path (property)', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.nat(7), fc.nat(7), fc.integer({ min: 1, max: 9 })), { maxLength: 20 }), (edges) => {
      const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}/3`))
      const naive = new Map<string, Ratio>()
      const walk = (item: string, quantity: Ratio): void => {
        for (const l of lines.filter(l => l.parent === item)) {
          naive.set(l.child, (naive.get(l.child) ?? ZERO).add(l.per.mul(quantity)))
          walk(l.child, l.per.mul(quantity))
        }
      }
      walk('i0', ratio(5))
      expect(asTable(explode(compiled(...lines), 'i0', ratio(5)))).toEqual(Object.fromEntries([...naive].map(([item, q]) => [item, toText(q)])))
    }))
  })
})

describe('where used', () => {
  it('names direct and indirect parents with what one of them takes', () => {
    expect(whereUsed(table, 'screw').map(row => [row.item, toText(row.quantity), row.level])).toEqual([['leg', '3', 1], ['top', '2', 1], ['table', '14', 2]])
  })
  it('is empty for a finished item', () => { expect(whereUsed(table, 'table')).toEqual([]) })
})

describe('levels and loops', () => {
  it('the low-level code is the longest path from the top', () => {
    const { level } = compiled(line('a', 'c', '1'), line('a', 'b', '1'), line('b', 'c', '1'))
    expect(Object.fromEntries(level)).toEqual({ a: 0, b: 1, c: 2 })
  })
  it('names a loop, its first item repeated last', () => {
    const lines = [line('case', 'cloth', '1'), line('book', 'block', '1'), line('block', 'quire', '8'), line('quire', 'book', '1')]
    const result = compileStructure(lines)
    expect(result.ok ? null : result.error).toEqual({ code: 'cycle', path: ['book', 'block', 'quire', 'book'] })
    expect(findLoop(lines)).toEqual(['book', 'block', 'quire', 'book'])
  })
  it('an item that contains itself is a loop of one', () => { expect(findLoop([line('x', 'x', '1')])).toEqual(['x', 'x']) })
  it('finds a loop exactly where one node reaches itself (property)', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { maxLength: 10 }), (edges) => {
      const reach = new Set(edges.map(([a, b]) => `${a}>${b}`))
      for (let k = 0; k < 6; k++) for (let a = 0; a < 6; a++) for (let b = 0; b < 6; b++) if (reach.has(`${a}>${k}`) && reach.has(`${k}>${b}`)) reach.add(`${a}>${b}`)
      const loops = [0, 1, 2, 3, 4, 5].some(a => reach.has(`${a}>${a}`))
      return (findLoop(edges.map(([a, b]) => ({ parent: `${a}`, child: `${b}` }))) !== null) === loops
    }))
  })
})

describe('roll-up', () => {
  it('adds components and work at every level: table = 4 legs of (3 screws at 2 + 5 work) + top of (2 screws + 10) + 1 = 4 × 11 + 14 + 1 = 59', () => {
    const work: Record<string, string> = { leg: '5', top: '10', table: '1' }
    const costs = rollUp(table, () => ratio(2), item => ratio(work[item]!))
    expect(Object.fromEntries([...costs].map(([item, cost]) => [item, toText(cost)]))).toEqual({ screw: '2', leg: '11', top: '14', table: '59' })
  })
})

describe('explosion and where-used are two sides of one thing', () => {
  it('what one of a root needs of an item is what where-used says that the root takes (property)', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.nat(6), fc.nat(6), fc.integer({ min: 1, max: 5 })), { maxLength: 16 }), (edges) => {
      const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`, { outputYield: ratio('0.9'), scrap: ratio('0.1') }))
      if (lines.length === 0) return
      const structure = compiled(...lines)
      for (const root of structure.order) {
        for (const row of explode(structure, root, ONE)) {
          const up = whereUsed(structure, row.item).find(use => use.item === root)
          expect(up && [toText(up.quantity), up.level]).toEqual([toText(row.quantity), row.level])
        }
      }
    }))
  })
  it('a roll-up is the explosion priced: cost = Σ quantity × price of what is bought (property)', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.nat(6), fc.nat(6), fc.integer({ min: 1, max: 5 })), { minLength: 1, maxLength: 16 }), (edges) => {
      const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}/2`))
      if (lines.length === 0) return
      const structure = compiled(...lines)
      const price = (item: string): Ratio => ratio(Number(item.slice(1)) + 1)
      const costs = rollUp(structure, price, () => ZERO)
      for (const root of structure.order.filter(item => structure.children.has(item))) {
        const priced = explode(structure, root, ONE).filter(row => !structure.children.has(row.item)).reduce((sum, row) => sum.add(row.quantity.mul(price(row.item))), ZERO)
        expect(toText(costs.get(root)!)).toBe(toText(priced))
      }
    }))
  })
})
