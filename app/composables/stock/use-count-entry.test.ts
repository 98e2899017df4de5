import { describe, expect, it } from 'vitest'
import type { CountLineRow } from '~~/shared/stock/answers'
import { pastedCounts } from './use-count-entry'

const line = (id: number, code: string, lot: string | null = null): CountLineRow =>
  ({ id, code, lot, piece: null }) as CountLineRow
const LINES = [line(1, 'BONE'), line(2, 'AWL'), line(3, 'CLOTH', 'L-1'), line(4, 'CLOTH', 'L-2')]
const told = (cells: string[][], from = 0) => {
  const { figures, unread } = pastedCounts(LINES, LINES[from]!, cells)
  return { figures: [...figures].map(([{ id }, figure]) => [id, figure]), unread }
}

describe('figures pasted into a count sheet', () => {
  it('a column goes down from the line that it was pasted into', () => {
    expect(told([['4'], [' 5 ']], 1)).toEqual({
      figures: [
        [2, '4'],
        [3, '5'],
      ],
      unread: [],
    })
  })
  it('what does not fit on the sheet is told', () => {
    expect(told([['4'], ['5']], 3)).toEqual({ figures: [[4, '4']], unread: ['5'] })
  })
  it('with names, each figure finds its line, in whatever order', () => {
    expect(
      told([
        ['awl', '2'],
        ['L-2', 'dyed', '7.5'],
        ['BONE', '12'],
        ['NAIL', '1'],
      ]),
    ).toEqual({
      figures: [
        [2, '2'],
        [4, '7.5'],
        [1, '12'],
      ],
      unread: ['NAIL'],
    })
  })
  it('a code that stands twice gets its figures in the order of the sheet', () => {
    expect(
      told([
        ['CLOTH', '1'],
        ['CLOTH', '2'],
      ]).figures,
    ).toEqual([
      [3, '1'],
      [4, '2'],
    ])
  })
})
