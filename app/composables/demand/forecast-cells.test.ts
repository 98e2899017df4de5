import { describe, expect, it } from 'vitest'
import { changeByPercent, fillCells, isWithin, pasteCells, rangeOf, spreadOver, sumOf } from './forecast-cells'

const cell = (row: number, column: number) => ({ row, column })
const grid = [
  ['10', '20', ''],
  ['1.5', '', '7'],
]
const shown = (row: number, column: number): string => grid[row]![column]!

describe('a grid of figures', () => {
  it('takes a block from a spreadsheet from a cell on, and leaves what would stand outside', () => {
    expect(pasteCells('1\t2\n3\t4\t5\n6\n', rangeOf(cell(0, 1), cell(0, 1)), 2, 3)).toEqual([
      { row: 0, column: 1, text: '1' },
      { row: 0, column: 2, text: '2' },
      { row: 1, column: 1, text: '3' },
      { row: 1, column: 2, text: '4' },
    ])
  })
  it('fills a whole range with one figure', () => {
    expect(pasteCells('8\n', rangeOf(cell(0, 0), cell(1, 1)), 2, 3)).toHaveLength(4)
  })
  it.each([
    ['1,250', '.', '1250'],
    ['1,250.5', '.', '1250.5'],
    ['1.250,5', ',', '1250.5'],
    ['12,5', ',', '12.5'],
    ['12 dozen', '.', '12 dozen'],
  ] as const)('reads %s as written with “%s”', (text, sign, plain) => {
    expect(pasteCells(text, rangeOf(cell(0, 0), cell(0, 0)), 1, 1, sign)[0]!.text).toBe(plain)
  })
  it('fills to the right and down', () => {
    expect(fillCells(rangeOf(cell(0, 0), cell(1, 2)), 'right', shown)).toEqual([
      { row: 0, column: 1, text: '10' },
      { row: 0, column: 2, text: '10' },
      { row: 1, column: 1, text: '1.5' },
      { row: 1, column: 2, text: '1.5' },
    ])
    expect(fillCells(rangeOf(cell(1, 1), cell(0, 0)), 'down', shown)).toEqual([
      { row: 1, column: 0, text: '10' },
      { row: 1, column: 1, text: '20' },
    ])
  })
  it('changes by per cent to the finest step, and leaves empty cells empty', () => {
    expect(
      changeByPercent(rangeOf(cell(0, 0), cell(1, 2)), '15', shown, (row) => (row === 0 ? '1' : '0.1')).map(
        (edit) => edit.text,
      ),
    ).toEqual(['12', '23', '1.7', '8.1'])
    expect(changeByPercent(rangeOf(cell(0, 0), cell(0, 0)), '-100', shown, () => '1')[0]!.text).toBe('0')
  })
  it('spreads a total so that it adds up', () => {
    const edits = spreadOver(
      rangeOf(cell(0, 0), cell(0, 2)),
      '100',
      () => [1, 1, 1],
      () => '1',
    )
    expect(edits.map((edit) => edit.text)).toEqual(['34', '33', '33'])
    expect(
      spreadOver(
        rangeOf(cell(0, 0), cell(0, 1)),
        '1',
        () => [3, 1],
        () => '0.1',
      ).map((edit) => edit.text),
    ).toEqual(['0.8', '0.2'])
  })
  it('sums figures and knows a range', () => {
    expect(sumOf(['1.5', '', 'x', '2'])).toBe('3.5')
    expect([isWithin(rangeOf(cell(2, 2), cell(0, 1)), 1, 2), isWithin(rangeOf(cell(2, 2), cell(0, 1)), 1, 0)]).toEqual([
      true,
      false,
    ])
  })
})
