import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ONE, ratio, toText, ZERO, type Ratio } from '../../units/exact'
import { buildNeeds, useForPart, type Handing } from './build-needs'
import { line, structureOf } from '../structure-of-tests'
import type { StructureLine } from '..'

const needs = (
  lines: readonly StructureLine[],
  quantity: number,
  free: Record<string, number> = {},
  kits: Record<string, Handing> = {},
): Record<string, string> =>
  Object.fromEntries(
    buildNeeds(structureOf(lines), 'book', ratio(quantity), {
      handing: (item, phantom) => kits[item] ?? (phantom ? 'take what is there' : 'take'),
      free: (item) => ratio(free[item] ?? 0),
      finestStep: () => ratio('0.001'),
    }).map((buildNeed) => [buildNeed.item, toText(buildNeed.need)]),
  )

describe('what a build takes', () => {
  const lining = [
    line('book', 'block', '1'),
    line('book', 'lining', '1', { phantom: true }),
    line('book', 'glue', '0.012'),
    line('lining', 'sheet', '2'),
    line('lining', 'glue', '0.002'),
  ]
  it.each([
    [
      'sub-assemblies are taken, not gone into',
      [line('book', 'block', '1'), line('block', 'sheet', '40')],
      3,
      {},
      { block: '3' },
    ],
    ['a phantom that is not there hands everything on', lining, 10, {}, { block: '10', sheet: '20', glue: '0.14' }],
    [
      'a phantom that is there is taken first: 4 of 10',
      lining,
      10,
      { lining: 4 },
      { block: '10', lining: '4', sheet: '12', glue: '0.132' },
    ],
    [
      'one that is there in plenty is all that is taken',
      lining,
      10,
      { lining: 50 },
      { block: '10', lining: '10', glue: '0.12' },
    ],
    [
      'scrap, yield and what a build needs once count',
      [
        line('book', 'sheet', '4', { scrap: ratio('1/5'), outputYield: ratio('1/2') }),
        line('book', 'thread', '0', { fixed: ratio(3) }),
      ],
      10,
      {},
      { sheet: '100', thread: '3' },
    ],
    [
      'a bought phantom is taken whatever the bill says',
      [line('book', 'board', '2', { phantom: true })],
      5,
      {},
      { board: '10' },
    ],
  ] as const)('%s', (_, lines, quantity, free, expected) => {
    expect(needs(lines, quantity, free)).toEqual(expected)
  })

  it('what is there of a phantom on two lines is taken once', () => {
    expect(
      needs(
        [
          line('book', 'lining', '1', { phantom: true }),
          line('book', 'case', '1', { phantom: true }),
          line('case', 'lining', '1', { phantom: true }),
          line('lining', 'sheet', '2'),
        ],
        10,
        { lining: 15 },
      ),
    ).toEqual({ lining: '15', sheet: '10' })
  })
  it('an open kit hands everything through, whatever is there of it', () => {
    expect(
      needs([line('book', 'tools', '1'), line('tools', 'needle', '2')], 3, { tools: 9 }, { tools: 'hand through' }),
    ).toEqual({ needle: '6' })
  })
  it('what is handed on is rounded up once to the finest step of what hands it on', () => {
    // 1/3 of a lining set a book, 10 books: 3.334 sets
    expect(needs([line('book', 'lining', '1/3', { phantom: true }), line('lining', 'sheet', '3')], 10)).toEqual({
      sheet: '10.002',
    })
  })
})

describe('what a part uses by the bill', () => {
  type Case = readonly [need: string, rest: string, quantity: number, left: number, part: number, step?: string]
  const use = ([need, rest, quantity, left, part, step = '0.001']: Case): string =>
    toText(
      useForPart(
        { need: ratio(need), rest: ratio(rest), finestStep: ratio(step) },
        { quantity: ratio(quantity), left: ratio(left) },
        ratio(part),
      ),
    )
  it.each([
    ['the first 10 of 24', ['0.3', '0.3', 24, 24, 10], '0.125'],
    ['the other 14', ['0.3', '0.175', 24, 14, 14], '0.175'],
    ['nothing, where all was taken before', ['0.3', '0', 24, 14, 14], '0'],
    ['more than was planned', ['24', '4', 24, 4, 10], '10'],
    ['more, when all that was planned is made', ['24', '0', 24, 0, 6], '6'],
    ['a whole piece, not a part of one', ['5', '5', 3, 3, 1, '1'], '2'],
    ['nothing for nothing', ['5', '5', 3, 3, 0, '1'], '0'],
  ] as const)('%s', (_, args, expected) => {
    expect(use(args)).toBe(expected)
  })

  it('the parts of a build add up to its need on a finest step, however it is divided (500 builds)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9999 }),
        fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 1, maxLength: 8 }),
        (need, parts) => {
          const quantity = ratio(parts.reduce((a, b) => a + b, 0))
          let [rest, left, used]: [Ratio, Ratio, Ratio] = [ratio(need), quantity, ZERO]
          for (const part of parts) {
            const now = useForPart({ need: ratio(need), rest, finestStep: ONE }, { quantity, left }, ratio(part))
            ;[rest, left, used] = [rest.sub(now), left.sub(ratio(part)), used.add(now)]
            expect(rest.compare(ZERO)).toBeGreaterThanOrEqual(0)
          }
          expect(toText(used)).toBe(String(need))
        },
      ),
      { numRuns: 500 },
    )
  })
})
