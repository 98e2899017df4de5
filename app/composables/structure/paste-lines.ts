import { findUnit } from '~~/core/units/quantity'
import { unitOf, type UnitRow } from '~~/shared/catalogue/measure'
import { blankLine, type LineForm } from './use-bill-form'

export interface Found {
  readonly word: string
  readonly id: number
  readonly code: string
  readonly name: string
}
/** A pasted line; `word` is what it was called by where no item was found. */
export type PastedLine = LineForm & { word?: string }

const NUMBER = /^[\d(]/

/** Which of pasted cells are codes or names of items: the first that is filled and no number, in each line. */
export const wordsOf = (cells: readonly (readonly string[])[]): string[] =>
  cells.map((line) => line.find((cell) => cell.trim() !== '')?.trim() ?? '')

/**
 * Lines of a bill out of cells of a spreadsheet: item, quantity, unit, then scrap and a note, as far as they are there. A line of
 * headings is passed over; an item that is not found keeps its line and its word.
 */
export function linesOf(
  cells: readonly (readonly string[])[],
  found: readonly Found[],
  units: readonly UnitRow[],
  unitFor: (itemId: number) => string,
): PastedLine[] {
  const known = new Map(found.map((match) => [match.word, match]))
  const byCode = new Map(units.map((row) => [row.code, unitOf(row)]))
  return cells.flatMap((line, index) => {
    const filled = line.map((cell) => cell.trim())
    const first = filled.findIndex((cell) => cell !== '')
    if (first < 0) {
      return []
    }
    const item = known.get(filled[first]!.toLowerCase())
    const rest = filled.slice(first + 1)
    const quantityAt = rest.findIndex((cell) => NUMBER.test(cell))
    // Headings: the first line, where nothing is an item and nothing a number.
    if (index === 0 && !item && quantityAt < 0 && rest.some((cell) => cell !== '')) {
      return []
    }
    const quantity = quantityAt < 0 ? '' : rest[quantityAt]!
    const after = quantityAt < 0 ? [] : rest.slice(quantityAt + 1)
    const unit = after[0] ? (byCode.get(after[0])?.code ?? findUnit(byCode, after[0])?.code) : undefined
    const more = unit ? after.slice(1) : after
    const scrap = more.find((cell) => /^\d+(\.\d+)?\s*%?$/.test(cell))
    const note = more.filter((cell) => cell !== scrap && cell !== '').join(' ')
    return [
      {
        ...blankLine(),
        itemId: item?.id ?? null,
        quantity,
        unit: unit ?? (item ? unitFor(item.id) : 'piece'),
        scrapPercent: scrap?.replace(/\s*%/, '') ?? '0',
        note,
        ...(item ? {} : { word: filled[first]! }),
      },
    ]
  })
}
