import ExcelJS from 'exceljs'
import { describe, expect, it } from 'vitest'
import { describeChange } from '~~/server/services/catalogue/describe-change'
import { isSame } from '~~/server/services/catalogue/definitions'
import { scanned } from '~~/server/services/catalogue/definitions/item-check'
import { CellFault } from '~~/server/services/catalogue/tables/cell-fault'
import {
  day,
  named,
  number,
  plainNumber,
  unit,
  week,
  yesNo,
  type Column,
} from '~~/server/services/catalogue/tables/columns'
import type { Names } from '~~/server/services/catalogue/tables/names'
import { matchColumns, readSheet } from '~~/server/services/catalogue/tables/read-file'
import { columnsOf, TABLE } from '~~/server/services/catalogue/tables/tables'
import { TABLES } from '~~/shared/catalogue/words'
import { zipOf } from '../zip'

const names: Names = {
  numbered: () => {
    throw new Error('not asked')
  },
  idOf: (_, code) => (({ TOOLS: 4, Board: 5 }) as Record<string, number>)[code],
  codeOf: (_, id) => (({ 4: 'TOOLS' }) as Record<number, string>)[id] ?? '',
  wordFor: () => 'group',
  unitOf: (word) => (({ piece: 'piece', Pieces: 'piece', 'm²': 'm2' }) as Record<string, string>)[word],
}
const read = (column: Column, text: string, decimalSign: '.' | ',' = '.'): unknown => {
  try {
    return column.read(text, { names, decimalSign })
  } catch (error) {
    if (error instanceof CellFault) {
      return error.message
    }
    throw error
  }
}

describe('cells', () => {
  it.each([
    ['1250.5', '.', '1250.5'],
    ['1,250.5', '.', '1250.5'],
    ['1 250.5', '.', '1250.5'],
    ['1’250.5', '.', '1250.5'],
    ['1,5', '.', '1,5'],
    ['1,5', ',', '1.5'],
    ['1.250,5', ',', '1250.5'],
    ['1.250', ',', '1250'],
    ['12', ',', '12'],
    ['1/3', '.', '1/3'],
    ['-4', '.', '-4'],
    ['abc', ',', 'abc'],
  ] as const)('the number %s with a decimal %s is %s', (text, sign, plain) => {
    expect(plainNumber(text, sign)).toBe(plain)
    expect(read(number('price'), text, sign)).toBe(plain)
  })
  it.each([
    ['2026-10-05', '2026-10-05'],
    ['5.10.2026', '2026-10-05'],
    ['2026-10-05T00:00:00Z', '2026-10-05'],
    ['31.2.2026', '“31.2.2026” is no date. Write it as year-month-day, for example 2026-10-05.'],
    ['10/05/2026', '“10/05/2026” is no date. Write it as year-month-day, for example 2026-10-05.'],
  ])('the day %s is %s', (text, value) => {
    expect(read(day('on'), text)).toBe(value)
  })
  it.each([
    ['yes', true],
    ['X', true],
    ['ja', true],
    ['No', false],
    ['0', false],
    ['perhaps', '“perhaps” is neither yes nor no.'],
  ])('%s is %s', (text, value) => {
    expect(read(yesNo('retired'), text)).toBe(value)
  })
  it.each([
    ['Mon Tue', [true, true, false, false, false, false, false]],
    ['monday, FRI;sun', [true, false, false, false, true, false, true]],
    ['Mon Xyz', '“xyz” is no day of the week. Write for example Mon Tue Wed Thu Fri.'],
  ])('the week %s', (text, value) => {
    expect(read(week('weekdays'), text)).toEqual(value)
  })
  it.each([
    ['piece', 'piece'],
    ['Pieces', 'piece'],
    ['m²', 'm2'],
    ['crate', 'There is no unit “crate”. Add it to the units first.'],
  ])('the unit %s is %s', (text, value) => {
    expect(read(unit('stock_unit'), text)).toBe(value)
  })
  it.each([
    ['TOOLS', 4],
    ['NOWHERE', 'There is no group “NOWHERE”.'],
  ])('the group %s is %s', (text, value) => {
    expect(read(named('group', 'groups'), text)).toBe(value)
  })
  it('are written as they are read', () => {
    expect([
      week('w').write([true, false, true, false, false, false, false], names),
      yesNo('r').write(true, names),
      named('group', 'groups').write(4, names),
      number('p').write(null, names),
      number('p').write('12.50', names),
    ]).toEqual(['Mon Wed', 'yes', 'TOOLS', '', '12.50'])
  })
})

describe('files', () => {
  it.each([
    ['comma', 'code,name\nA,"x, y"\n'],
    ['semicolon', 'code;name\nA;x, y\n'],
    ['tab', 'code\tname\nA\tx, y\n'],
    ['a byte-order mark', '\uFEFFcode,name\nA,"x, y"\n'],
    ['lines of Windows', 'code,name\r\nA,"x, y"\r\n'],
  ])('with %s', async (_, text) => {
    expect(await readSheet('a.csv', Buffer.from(text))).toEqual({
      headings: ['code', 'name'],
      lines: [{ line: 2, cells: { code: 'A', name: 'x, y' } }],
    })
  })
  it('count lines as a spreadsheet does, and pass over empty ones', async () => {
    expect(
      (await readSheet('a.csv', Buffer.from('code,name\n\nA,x\n,\nB,y\n'))).lines.map((line) => line.line),
    ).toEqual([3, 5])
  })
  it('a guarding apostrophe goes, another stays', async () => {
    expect((await readSheet('a.csv', Buffer.from("code,name\n'=A1,'quoted'\n"))).lines[0]!.cells).toEqual({
      code: '=A1',
      name: "'quoted'",
    })
  })
  it('the cells of a workbook: text, rich text, numbers, formulas, dates, ticks', async () => {
    const book = new ExcelJS.Workbook()
    book.addWorksheet('x').addRows([
      ['text', 'rich', 'number', 'formula', 'date', 'tick'],
      [
        'a',
        { richText: [{ text: 'b' }, { text: 'c' }] },
        0.1,
        { formula: '1+1', result: 2 },
        new Date('2026-10-05'),
        true,
      ],
    ])
    expect((await readSheet('a.XLSX', Buffer.from(await book.xlsx.writeBuffer()))).lines[0]!.cells).toEqual({
      text: 'a',
      rich: 'bc',
      number: '0.1',
      formula: '2',
      date: '2026-10-05',
      tick: 'yes',
    })
  })
  it('that are too wide, or too large once unpacked, are refused, whatever they say of themselves', async () => {
    const refusal = (name: string, content: Buffer): Promise<string> =>
      readSheet(name, content).then(
        () => 'taken',
        (error: { detail?: string }) => error.detail ?? String(error),
      )
    expect(await refusal('a.csv', Buffer.from(`${'x,'.repeat(200_000)}x\n`))).toBe(
      'The file has 200001 columns; at most 500 are read.',
    )
    const zeros = Buffer.alloc(200 * 1024 * 1024)
    expect(await refusal('a.xlsx', zipOf('xl/worksheets/sheet1.xml', zeros, zeros.length))).toMatch(/more than 150 MB/)
    expect(await refusal('a.xlsx', zipOf('xl/worksheets/sheet1.xml', zeros, 1000))).toMatch(
      /could not be read as a workbook|too large to be read/,
    )
    expect(await refusal('a.xlsx', Buffer.from('no archive at all'))).toMatch(/could not be read as a workbook/)
  })
  it('columns are matched by name, whatever case and strokes', () => {
    expect(matchColumns(TABLE['supplier-terms'], ['Item', 'SUPPLIER', 'Supplier code', 'Lead-Days', 'Colour'])).toEqual(
      {
        item: 'Item',
        supplier: 'SUPPLIER',
        supplier_code: 'Supplier code',
        lead_days: 'Lead-Days',
        rank: null,
        unit: null,
        price: null,
        minimum: null,
        multiple: null,
      },
    )
  })
  it.each(TABLES)('%s: no two columns would be matched with the same heading', (table) => {
    const headings = columnsOf(TABLE[table]).map((column) => column.name)
    const matched = Object.values(matchColumns(TABLE[table], headings))
    expect([new Set(matched).size, matched.includes(null)]).toEqual([headings.length, false])
  })
})

describe('what a change says', () => {
  const known = new Map([
    ['item_groups 4', 'TOOLS'],
    ['suppliers 2', 'Tully'],
  ])
  it.each([
    [{ name: 'A', version: 1 }, { name: 'B', version: 2 }, [{ field: 'name', before: 'A', after: 'B' }]],
    [{ groupId: null }, { groupId: 4 }, [{ field: 'group', before: 'nothing', after: 'TOOLS' }]],
    [
      { weekdays: [true, true, false, false, false, false, false] },
      { weekdays: [true, false, false, false, false, false, false] },
      [{ field: 'weekdays', before: 'Mon Tue', after: 'Mon' }],
    ],
    [
      { terms: [{ supplierId: 2, price: '1', tiers: [], rank: 1 }] },
      { terms: [] },
      [{ field: 'suppliers’ terms', before: 'supplier Tully, price 1, rank 1', after: 'nothing' }],
    ],
    [{ a: 1 }, { a: 1 }, []],
    [null, { a: 1 }, []],
    [{ groupId: 9 }, { groupId: 4 }, [{ field: 'group', before: 'no. 9', after: 'TOOLS' }]],
  ])('%j → %j', (before, after, lines) => {
    expect(describeChange({ before, after }, known)).toEqual(lines)
  })
})

describe('what is the same', () => {
  it.each([
    [[{ a: 1 }, { b: 2 }], [{ b: 2 }, { a: 1 }], true],
    [['x', 'y'], ['y', 'x'], false],
    [{ a: null }, {}, false],
    [{ a: undefined }, {}, true],
    [{ id: 1, version: 3, a: 'x' }, { version: 4, a: 'x' }, true],
    [{ a: '1' }, { a: 1 }, false],
  ])('%j and %j: %s', (a, b, same) => {
    expect(isSame(a, b)).toBe(same)
  })
  it.each([
    ['9520000000011', '09520000000011'],
    ['09520000000011', '09520000000011'],
    ['SHELF-1', 'shelf-1'],
  ])('a scanner gives %s as %s', (code, given) => {
    expect(scanned(code)).toBe(given)
  })
})
