import { describe, expect, it } from 'vitest'
import { pasteInto, pastedValue, readClipboard, type GridColumn } from './use-grid-paste'

describe('the clipboard of a spreadsheet', () => {
  it.each([
    [
      'a\tb\nc\td\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    ['one', [['one']]],
    ['a\r\nb\r\n', [['a'], ['b']]],
    ['"two\nlines"\t"say ""hm"""', [['two\nlines', 'say "hm"']]],
    ['\t\n', [['', '']]],
    ['5" pipe\tx', [['5" pipe', 'x']]],
  ])('%j', (text, cells) => {
    expect(readClipboard(text)).toEqual(cells)
  })
})

describe('pasting into a grid', () => {
  const columns: GridColumn[] = [
    {
      key: 'unit',
      name: 'Unit',
      kind: 'choice',
      options: [
        { value: 'piece', name: 'piece (pc)' },
        { value: 'carton', name: 'carton (carton)' },
      ],
    },
    { key: 'per', name: 'Holds', kind: 'number' },
    { key: 'both', name: 'Both ways', kind: 'check' },
  ]
  it.each([
    ['carton', 'carton'],
    ['Piece', 'piece'],
    ['PIECE (PC)', 'piece'],
    ['crate', undefined],
    ['', undefined],
  ])('a choice %j is %j', (text, value) => {
    expect(pastedValue(columns[0]!, text)).toBe(value)
  })
  it('fills from the cell on, adds rows, and tells what it could not read', () => {
    const rows: Record<string, unknown>[] = [{ unit: 'piece', per: '1', both: false }]
    expect(
      pasteInto(
        rows,
        columns,
        { row: 0, column: 0 },
        [
          ['carton', '24', 'yes', 'over'],
          ['crate', '6'],
        ],
        () => ({ unit: 'piece', per: '', both: false }),
      ),
    ).toEqual(['over', 'crate'])
    expect(rows).toEqual([
      { unit: 'carton', per: '24', both: true },
      { unit: 'piece', per: '6', both: false },
    ])
  })
})
