import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columns, columnsWithTexts, db, readNumbers } from '~~/server/database/client'

describe('columns of numbers', () => {
  it.each<[string, number[]]>([
    ['', []],
    ['7', [7]],
    ['0,10,200', [0, 10, 200]],
    ['-3,1.5,1e3', [-3, 1.5, 1000]],
    ['null,4', [NaN, 4]],
    ['9007199254740991,123456789012345678', [9007199254740991, 123456789012345680]],
  ])('“%s”', (text, numbers) => {
    expect(readNumbers(text)).toEqual(numbers)
  })
  it('any list reads as Number reads each of it (1 000)', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(fc.maxSafeInteger(), fc.double({ noNaN: true, noDefaultInfinity: true })).map((entry) => entry + 0),
          { maxLength: 20 },
        ),
        (numbers) => {
          const text = numbers.join(',')
          expect(readNumbers(text)).toEqual(text === '' ? [] : text.split(',').map(Number))
        },
      ),
      { numRuns: 1000 },
    )
  })
  it('come from the database in the order of its rows; nothing gives empty ones', async () => {
    expect(
      await columns(
        db,
        2,
        sql`select n, case when n = 2 then null else n * 0.5 end from generate_series(3, 1, -1) n order by n desc`,
      ),
    ).toEqual([
      [3, 2, 1],
      [1.5, NaN, 0.5],
    ])
    expect(await columns(db, 2, sql`select n, n from generate_series(1, 0) n`)).toEqual([[], []])
    expect(
      await columnsWithTexts(
        db,
        1,
        2,
        sql`
          select
            n, case n when 1 then 'a "b", \\c' when 2 then e'two\nlines' end,
            case when n > 1 then date '2026-10-05' end
          from generate_series(1, 3) n`,
      ),
    ).toEqual({
      numbers: [[1, 2, 3]],
      texts: [
        ['a "b", \\c', 'two\nlines', ''],
        ['', '2026-10-05', '2026-10-05'],
      ],
    })
    expect(await columnsWithTexts(db, 0, 1, sql`select 'x' where false`)).toEqual({ numbers: [], texts: [[]] })
  })
})
