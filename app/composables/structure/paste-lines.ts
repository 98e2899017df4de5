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
 * Lines of a bill out of cells of a spreadsheet: item, quantity, unit, then scrap and a note, as far as they are there.
 * A line of headings is passed over; an item that is not found keeps its line and its word.
 */
export function linesOf(
  cells: readonly (readonly string[])[],
  found: readonly Found[],
  units: readonly UnitRow[],
  unitFor: (itemId: number) => string,
): PastedLine[] {
  const known = new Map(found.map((match) => [match.word, match]))
  const byCode = new Map(units.map((row) => [row.code, unitOf(row)]))
  const unitNamed = (text: string | undefined): string | undefined =>
    text ? (byCode.get(text)?.code ?? findUnit(byCode, text)?.code) : undefined
  return cells.flatMap((line, index) => {
    const [word, ...rest] = fromFirstFilled(line)
    if (word === undefined) {
      return []
    }
    const item = known.get(word.toLowerCase())
    const quantityAt = rest.findIndex((cell) => NUMBER.test(cell))
    // Headings: the first line, where nothing is an item and nothing a number.
    if (index === 0 && !item && quantityAt < 0 && rest.some((cell) => cell !== '')) {
      return []
    }
    const after = quantityAt < 0 ? [] : rest.slice(quantityAt + 1)
    const unit = unitNamed(after[0])
    return [
      {
        ...blankLine(),
        itemId: item?.id ?? null,
        quantity: rest[quantityAt] ?? '',
        unit: unit ?? (item ? unitFor(item.id) : 'piece'),
        ...scrapAndNote(unit ? after.slice(1) : after),
        ...(item ? {} : { word }),
      },
    ]
  })
}

const fromFirstFilled = (line: readonly string[]): string[] => {
  const cells = line.map((cell) => cell.trim())
  const first = cells.findIndex((cell) => cell !== '')
  return first < 0 ? [] : cells.slice(first)
}
function scrapAndNote(cells: readonly string[]): { scrapPercent: string; note: string } {
  const scrap = cells.find((cell) => /^\d+(\.\d+)?\s*%?$/.test(cell))
  return {
    scrapPercent: scrap?.replace(/\s*%/, '') ?? '0',
    note: cells.filter((cell) => cell !== scrap && cell !== '').join(' '),
  }
}
