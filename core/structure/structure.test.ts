import fc from 'fast-check'
import { alg, Graph } from '@dagrejs/graphlib'
import { describe, expect, it } from 'vitest'
import { parts, ratio, toText, ZERO, ONE, type Ratio } from '../units/exact'
import { compileStructure, type Structure, type StructureLine } from './compile'
import { explode, explodeIndented } from './explode'
import { findLoop, loopThrough } from './loops'
import { leadPath, massOf, rollUp } from './roll-ups'
import { needOf } from './lines'
import { whereUsed } from './where-used'
import { line, structureOf } from './structure-of-tests'
import { runs } from '../../tests/property-runs'

const compiled = (...lines: StructureLine[]): Structure => structureOf(lines)
const table = compiled(
  line('table', 'leg', '4'),
  line('table', 'top', '1'),
  line('leg', 'screw', '3'),
  line('top', 'screw', '2'),
)
const asTable = (rows: readonly { item: string; quantity: Ratio }[]): Record<string, string> =>
  Object.fromEntries(rows.map((row) => [row.item, toText(row.quantity)]))
const levelsOf = ({ items, level }: Structure): Record<string, number> =>
  Object.fromEntries(items.map((item, index) => [item, level[index]!]))
/**
 * Heizer and Render, Operations Management, the chapter on material requirements planning, example 1: the speaker kits
 * (from memory).
 */
const SPEAKERS = compiled(
  line('A', 'B', '2'),
  line('A', 'C', '3'),
  line('B', 'D', '2'),
  line('B', 'E', '2'),
  line('C', 'E', '2'),
  line('C', 'F', '2'),
  line('F', 'G', '1'),
  line('F', 'D', '2'),
)
const edgesOf = (nodes: number, most: number) =>
  fc.array(fc.tuple(fc.nat(nodes), fc.nat(nodes), fc.integer({ min: 1, max: 9 })), { maxLength: most })
const graphOf = (edges: readonly (readonly [number, number, number])[]): Graph => {
  const graph = new Graph({ directed: true })
  for (const [a, b] of edges) {
    graph.setEdge(`i${a}`, `i${b}`)
  }
  return graph
}

describe('explosion', () => {
  it('sums an item that is reached by several paths', () => {
    expect(asTable(explode(table, 'table', ratio(2)))).toEqual({ leg: '8', top: '2', screw: '28' })
  })
  it('50 speaker kits take what the textbook says', () => {
    expect(asTable(explode(SPEAKERS, 'A', ratio(50)))).toEqual({
      B: '100',
      C: '150',
      D: '800',
      E: '500',
      F: '300',
      G: '300',
    })
  })
  it('counts yield, scrap and the fixed part: (18 ÷ 0.9) × 0.012 ÷ (1 − 0.04) + 0.05 = 0.3', () => {
    const glue = line('book', 'glue', '0.012', {
      scrap: ratio('0.04'),
      outputYield: ratio('0.9'),
      fixed: ratio('0.05'),
    })
    expect(toText(needOf(glue, ratio(18)))).toBe('0.3')
    expect(asTable(explode(compiled(glue), 'book', ratio(18)))).toEqual({ glue: '0.3' })
  })
  it('counts what is needed once a build only where there is a build', () => {
    const lines = compiled(line('a', 'b', '2'), line('b', 'c', '1', { fixed: ratio(5) }))
    expect(asTable(explode(lines, 'a', ratio(3)))).toEqual({ b: '6', c: '11' })
    expect(asTable(explode(lines, 'a', ZERO))).toEqual({ b: '0', c: '0' })
  })
  it('keeps awkward ratios exact over levels: 1/3 × 1/7 × 0.0002 of 21 is 0.0002', () => {
    expect(
      asTable(
        explode(compiled(line('a', 'b', '1/3'), line('b', 'c', '1/7'), line('c', 'd', '0.0002')), 'a', ratio(21)),
      ),
    ).toMatchObject({ d: '0.0002' })
  })
  it('six levels of awkward ratios are exact: the same in whole numbers over one common denominator', () => {
    const SHARES: readonly (readonly [string, bigint, bigint])[] = [
      ['1/3', 1n, 3n],
      ['1/7', 1n, 7n],
      ['0.0002', 1n, 5000n],
      ['22/7', 22n, 7n],
      ['1.32', 33n, 25n],
    ]
    const lines: StructureLine[] = []
    for (let level = 0; level < 6; level++) {
      for (let index = 0; index < 4; index++) {
        for (let i = 0; i < 3; i++) {
          lines.push(
            line(`${level}.${index}`, `${level + 1}.${(index + i) % 4}`, SHARES[(level * 5 + index * 3 + i) % 5]![0]),
          )
        }
      }
    }
    const found = new Map(explode(compiled(...lines), '0.0', ratio('12.34567')).map((row) => [row.item, row.quantity]))
    // Every share as so many of the least common multiple of all denominators; each level multiplies the denominator by
    // it once more.
    const COMMON = 3n * 7n * 5000n
    let row = [1234567n, 0n, 0n, 0n]
    for (let level = 0; level < 6; level++) {
      const next = [0n, 0n, 0n, 0n]
      for (let index = 0; index < 4; index++) {
        for (let i = 0; i < 3; i++) {
          const [, n, d] = SHARES[(level * 5 + index * 3 + i) % 5]!
          next[(index + i) % 4]! += row[index]! * ((n * COMMON) / d)
        }
      }
      row = next
    }
    row.forEach((numerator, index) => {
      const { n, d } = parts(found.get(`6.${index}`)!)
      expect(n * 100_000n * COMMON ** 6n).toBe(numerator * d)
    })
  })
  it('is empty below a bought item, and of an item that is nowhere', () => {
    expect([explode(table, 'screw', ONE), explode(table, 'lamp', ONE)]).toEqual([[], []])
  })
  it('equals a recursive walk over every path (property)', () => {
    fc.assert(
      fc.property(edgesOf(7, 20), (edges) => {
        const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}/3`))
        const naive = new Map<string, Ratio>()
        const walk = (item: string, quantity: Ratio): void => {
          for (const l of lines.filter((l) => l.parent === item)) {
            naive.set(l.child, (naive.get(l.child) ?? ZERO).add(l.per.mul(quantity)))
            walk(l.child, l.per.mul(quantity))
          }
        }
        walk('i0', ratio(5))
        const structure = compiled(...lines)
        expect(asTable(explode(structure, 'i0', ratio(5)))).toEqual(
          Object.fromEntries([...naive].map(([item, q]) => [item, toText(q)])),
        )
        const indented = explodeIndented(structure, 'i0', ratio(5))
        const summed = new Map<string, Ratio>()
        if (indented.ok) {
          for (const row of indented.value) {
            summed.set(row.item, (summed.get(row.item) ?? ZERO).add(row.quantity))
          }
        }
        expect(summed).toEqual(naive)
      }),
    )
  })
  it('reaches what a graph library reaches, parents before children (property)', () => {
    fc.assert(
      fc.property(edgesOf(12, 40), (edges) => {
        const forward = edges.filter(([a, b]) => a < b)
        if (forward.length === 0) {
          return
        }
        const structure = compiled(...forward.map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`)))
        const graph = graphOf(forward)
        for (const root of structure.items) {
          const rows = explode(structure, root, ONE)
          expect(new Set([root, ...rows.map((row) => row.item)])).toEqual(new Set(alg.preorder(graph, [root])))
          const place = new Map(rows.map((row, index) => [row.item, index]))
          for (const edge of graph.edges()) {
            if (place.has(edge.v)) {
              expect(place.get(edge.w)).toBeGreaterThan(place.get(edge.v)!)
            }
          }
        }
      }),
    )
  })
  it('written out, each component stands beneath its parent as often as it occurs', () => {
    const written = explodeIndented(table, 'table', ratio(2))
    expect(written.ok && written.value.map((row) => [row.depth, row.item, toText(row.quantity)])).toEqual([
      [1, 'leg', '8'],
      [2, 'screw', '24'],
      [1, 'top', '2'],
      [2, 'screw', '4'],
    ])
    const direct = explodeIndented(table, 'table', ratio(2), { deep: 1 })
    expect(direct.ok && direct.value.map((row) => row.item)).toEqual(['leg', 'top'])
    expect(explodeIndented(table, 'table', ONE, { most: 3 })).toEqual({
      ok: false,
      error: { code: 'too-long', most: 3 },
    })
  })
})

describe('where used', () => {
  it('names direct and indirect parents with what one of them takes', () => {
    expect(whereUsed(table, 'screw').map((row) => [row.item, toText(row.quantity), row.level])).toEqual([
      ['leg', '3', 1],
      ['top', '2', 1],
      ['table', '14', 2],
    ])
  })
  it('is empty for a finished item, and for one that is nowhere', () => {
    expect([whereUsed(table, 'table'), whereUsed(table, 'lamp')]).toEqual([[], []])
  })
})

describe('levels and loops', () => {
  it('the low-level code is the longest path from the top', () => {
    expect(levelsOf(compiled(line('a', 'c', '1'), line('a', 'b', '1'), line('b', 'c', '1')))).toEqual({
      a: 0,
      b: 1,
      c: 2,
    })
    expect(levelsOf(SPEAKERS)).toEqual({ A: 0, B: 1, C: 1, E: 2, F: 2, D: 3, G: 3 })
  })
  it('names a loop, its first item repeated last', () => {
    const lines = [
      line('case', 'cloth', '1'),
      line('book', 'block', '1'),
      line('block', 'quire', '8'),
      line('quire', 'book', '1'),
    ]
    const result = compileStructure(lines)
    expect(result.ok ? null : result.error).toEqual({ code: 'cycle', path: ['book', 'block', 'quire', 'book'] })
    expect(findLoop(lines)).toEqual(['book', 'block', 'quire', 'book'])
  })
  it('an item that contains itself is a loop of one', () => {
    expect(findLoop([line('x', 'x', '1')])).toEqual(['x', 'x'])
  })
  it('says which loop new lines would close, or that they close none', () => {
    expect(loopThrough(table, 'screw', ['leg', 'table'])).toEqual(['screw', 'leg', 'screw'])
    expect(loopThrough(table, 'leg', ['leg'])).toEqual(['leg', 'leg'])
    expect([
      loopThrough(table, 'table', ['screw', 'lamp']),
      loopThrough(table, 'lamp', ['table']),
      loopThrough(table, 'leg', ['top']),
    ]).toEqual([null, null, null])
  })
  it('finds a loop exactly where a graph library finds one, and levels that agree with its order (property)', () => {
    fc.assert(
      fc.property(edgesOf(8, 14), (edges) => {
        const graph = graphOf(edges)
        const lines = edges.map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`))
        const result = compileStructure(lines)
        expect(result.ok).toBe(alg.isAcyclic(graph))
        expect(findLoop(lines) === null).toBe(result.ok)
        if (!result.ok) {
          const { path } = result.error
          expect(
            path.slice(1).every((item, index) => graph.hasEdge(path[index]!, item)) && path[0] === path.at(-1),
          ).toBe(true)
          return
        }
        const longest = new Map<string, number>()
        for (const item of alg.topsort(graph)) {
          longest.set(item, Math.max(0, ...(graph.predecessors(item) ?? []).map((above) => longest.get(above)! + 1)))
        }
        expect(levelsOf(result.value)).toEqual(Object.fromEntries(longest))
      }),
      { numRuns: runs(300) },
    )
  })
  it('the check of one edit agrees with the check of everything (property)', () => {
    fc.assert(
      fc.property(
        edgesOf(7, 14),
        fc.nat(7),
        fc.array(fc.nat(7), { minLength: 1, maxLength: 3 }),
        (edges, parent, children) => {
          const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`))
          const path = loopThrough(
            compiled(...lines),
            `i${parent}`,
            children.map((child) => `i${child}`),
          )
          const all = [...lines, ...children.map((child) => line(`i${parent}`, `i${child}`, '1'))]
          expect(path !== null).toBe(findLoop(all) !== null)
          if (path) {
            expect(
              path.slice(1).every((item, index) => all.some((l) => l.parent === path[index] && l.child === item)) &&
                path[0] === path.at(-1),
            ).toBe(true)
          }
        },
      ),
      { numRuns: runs(300) },
    )
  })
})

describe('roll-up', () => {
  const priced = (structure: Structure, bought: (item: string) => Ratio, work: (item: string) => Ratio = () => ZERO) =>
    Object.fromEntries([...rollUp(structure, { bought, work })].map(([item, cost]) => [item, toText(cost.total)]))
  it('adds components and work at every level: table = 4 legs of (3 screws at 2 + 5 work) + top of (2 screws + 10) + 1 = 4 × 11 + 14 + 1 = 59', () => {
    const work: Record<string, string> = { leg: '5', top: '10', table: '1' }
    expect(
      priced(
        table,
        () => ratio(2),
        (item) => ratio(work[item]!),
      ),
    ).toEqual({ screw: '2', leg: '11', top: '14', table: '59' })
    const {
      material,
      work: done,
      other: otherCost,
    } = rollUp(table, {
      bought: () => ratio(2),
      work: (item) => ratio(work[item]!),
      other: (item) => (item === 'leg' ? ONE : ZERO),
    }).get('table')!
    // 14 screws at 2; 4 × 5 + 10 + 1; four legs at 1
    expect([material, done, otherCost].map(toText)).toEqual(['28', '31', '4'])
  })
  it('spreads what is needed once a build over the build: 2 + 6 ÷ 12', () => {
    const structure = compiled(line('a', 'b', '2', { fixed: ratio(6) }))
    expect(toText(rollUp(structure, { bought: () => ONE, build: () => ratio(12) }).get('a')!.total)).toBe('2.5')
    expect(toText(rollUp(structure, { bought: () => ONE }).get('a')!.total)).toBe('8')
  })
  it('leaves by-products their share: 80 % of (2 × 5 + 4)', () => {
    expect(
      toText(
        rollUp(compiled(line('a', 'b', '2')), {
          bought: () => ratio(5),
          work: () => ratio(4),
          keeps: () => ratio('0.8'),
        }).get('a')!.total,
      ),
    ).toBe('11.2')
  })
  it('tells only what is below where a root is given', () => {
    expect([...rollUp(table, { bought: () => ONE }, 'leg').keys()].sort()).toEqual(['leg', 'screw'])
  })
  it('is the explosion priced: cost = Σ quantity × price of what is bought (property)', () => {
    fc.assert(
      fc.property(edgesOf(6, 16), (edges) => {
        const lines = edges
          .filter(([a, b]) => a < b)
          .map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}/2`, { outputYield: ratio('0.9'), scrap: ratio('0.07') }))
        const structure = compiled(...lines)
        const price = (item: string): Ratio => ratio(Number(item.slice(1)) + 1)
        const costs = rollUp(structure, { bought: price })
        for (const root of structure.items.filter((item) => lines.some((l) => l.parent === item))) {
          const sum = explode(structure, root, ONE)
            .filter((row) => !lines.some((l) => l.parent === row.item))
            .reduce((total, row) => total.add(row.quantity.mul(price(row.item))), ZERO)
          expect(toText(costs.get(root)!.total)).toBe(toText(sum))
        }
      }),
    )
  })
})

describe('lead time', () => {
  const WEEKS: Record<string, number> = { A: 1, B: 2, C: 1, D: 1, E: 2, F: 3, G: 2 }
  it('of a speaker kit is seven weeks, through C, F and G (the same textbook, from memory)', () => {
    expect(leadPath(SPEAKERS, 'A', (item) => WEEKS[item]!)).toEqual([
      { item: 'A', leadDays: 1, begins: 1, ends: 0 },
      { item: 'C', leadDays: 1, begins: 2, ends: 1 },
      { item: 'F', leadDays: 3, begins: 5, ends: 2 },
      { item: 'G', leadDays: 2, begins: 7, ends: 5 },
    ])
  })
  it('a component that is wanted later begins later, and a phantom takes no time', () => {
    expect(leadPath(compiled(line('a', 'b', '1', { offsetDays: 3 }), line('b', 'c', '1')), 'a', () => 4)).toEqual([
      { item: 'a', leadDays: 4, begins: 4, ends: 0 },
      { item: 'b', leadDays: 4, begins: 5, ends: 1 },
      { item: 'c', leadDays: 4, begins: 9, ends: 5 },
    ])
    expect(
      leadPath(compiled(line('a', 'b', '1', { phantom: true }), line('b', 'c', '1')), 'a', () => 4).map(
        (step) => step.begins,
      ),
    ).toEqual([4, 4, 8])
  })
  it('of a bought item is its own', () => {
    expect(leadPath(table, 'lamp', () => 9)).toEqual([{ item: 'lamp', leadDays: 9, begins: 9, ends: 0 }])
  })
  it('is the longest of all ways down (property)', () => {
    fc.assert(
      fc.property(edgesOf(7, 16), (edges) => {
        const lines = edges.filter(([a, b]) => a < b).map(([a, b]) => line(`i${a}`, `i${b}`, '1'))
        const days = (item: string): number => Number(item.slice(1)) * 3 + 1
        const longest = (item: string): number =>
          days(item) + Math.max(0, ...lines.filter((l) => l.parent === item).map((l) => longest(l.child)))
        const structure = compiled(...lines)
        for (const root of structure.items) {
          expect(leadPath(structure, root, days).at(-1)!.begins).toBe(longest(root))
        }
      }),
    )
  })
})

describe('mass', () => {
  it('adds what the components weigh, without scrap: 4 legs of 3 screws at 0.01 kg and a top of 5 kg', () => {
    const stated: Record<string, string> = { screw: '0.01', top: '5' }
    const found = massOf(compiled(...table.lines.map((l) => ({ ...l, scrap: ratio('0.1') }))), 'table', (item) =>
      stated[item] ? ratio(stated[item]) : null,
    )
    expect([toText(found.known), found.unknown]).toEqual(['5.12', []])
  })
  it('names what has no weight', () => {
    expect(massOf(table, 'table', () => null).unknown).toEqual(['screw'])
  })
  it('of an item that is nowhere is its own, or unknown', () => {
    expect([massOf(table, 'lamp', () => ONE).known.toString(), massOf(table, 'lamp', () => null).unknown]).toEqual([
      '1',
      ['lamp'],
    ])
  })
})

describe('explosion and where-used are two sides of one thing', () => {
  it('what one of a root needs of an item is what where-used says that the root takes (property)', () => {
    fc.assert(
      fc.property(edgesOf(6, 16), (edges) => {
        const lines = edges
          .filter(([a, b]) => a < b)
          .map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`, { outputYield: ratio('0.9'), scrap: ratio('0.1') }))
        const structure = compiled(...lines)
        for (const root of structure.items) {
          for (const row of explode(structure, root, ONE)) {
            const up = whereUsed(structure, row.item).find((use) => use.item === root)
            expect(up && [toText(up.quantity), up.level]).toEqual([toText(row.quantity), row.level])
          }
        }
      }),
    )
  })
})
