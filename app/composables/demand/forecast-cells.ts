import { spreadTotal } from '~~/core/forecasting'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'

/** One cell of the grid: where it is, and what is to stand there. */
export interface CellEdit {
  readonly row: number
  readonly column: number
  readonly text: string
}
export interface CellRange {
  readonly top: number
  readonly left: number
  readonly bottom: number
  readonly right: number
}

export const rangeOf = (a: { row: number; column: number }, b: { row: number; column: number }): CellRange => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
})
export const isWithin = (range: CellRange, row: number, column: number): boolean =>
  row >= range.top && row <= range.bottom && column >= range.left && column <= range.right

function each(range: CellRange, text: (row: number, column: number) => string | null): CellEdit[] {
  const edits: CellEdit[] = []
  for (let row = range.top; row <= range.bottom; row++) {
    for (let column = range.left; column <= range.right; column++) {
      const said = text(row, column)
      if (said !== null) {
        edits.push({ row, column, text: said })
      }
    }
  }
  return edits
}

/** What a spreadsheet copied, from a cell on; one cell fills the whole range. Thousands separators go. */
export function pasteCells(
  text: string,
  range: CellRange,
  rows: number,
  columns: number,
  decimalSign: '.' | ',' = '.',
): CellEdit[] {
  const block = text
    .replace(/\r?\n$/, '')
    .split(/\r?\n/)
    .map((line) => line.split('\t').map((cell) => plain(cell, decimalSign)))
  if (block.length === 1 && block[0]!.length === 1) {
    return each(range, () => block[0]![0]!)
  }
  return block.flatMap((line, down) =>
    line.flatMap((cell, right) =>
      range.top + down < rows && range.left + right < columns
        ? [{ row: range.top + down, column: range.left + right, text: cell }]
        : [],
    ),
  )
}
function plain(cell: string, decimalSign: '.' | ','): string {
  const compact = cell.trim().replace(/[\s’']/g, '')
  if (decimalSign === ',') {
    return /^\d{1,3}(\.\d{3})+(,\d+)?$|^\d+,\d+$/.test(compact)
      ? compact.replaceAll('.', '').replace(',', '.')
      : cell.trim()
  }
  return /^\d{1,3}(,\d{3})+(\.\d+)?$/.test(compact) ? compact.replaceAll(',', '') : cell.trim()
}

/** Fills the range from its first column (to the right) or its first row (down). */
export const fillCells = (
  range: CellRange,
  direction: 'right' | 'down',
  shown: (row: number, column: number) => string,
): CellEdit[] =>
  each(range, (row, column) => {
    if (direction === 'right' ? column === range.left : row === range.top) {
      return null
    }
    if (direction === 'right') {
      return shown(row, range.left)
    }
    return shown(range.top, column)
  })

/** Every figure of the range by so many per cent more or less, to the item's finest step. */
export function changeByPercent(
  range: CellRange,
  percent: string,
  shown: (row: number, column: number) => string,
  step: (row: number) => string,
): CellEdit[] {
  const factor = ratio(100).add(ratio(percent)).div(100)
  return each(range, (row, column) => {
    const now = numberIn(shown(row, column))
    return now === null ? null : toText(onStep(now.mul(factor), ratio(step(row))))
  })
}

/** A total over the columns of each row of the range, by weights (the history's shape) or by what stands there. */
export function spreadOver(
  range: CellRange,
  total: string,
  weights: (row: number) => readonly number[],
  step: (row: number) => string,
): CellEdit[] {
  const edits: CellEdit[] = []
  for (let row = range.top; row <= range.bottom; row++) {
    const own = ratio(step(row))
    const steps = ratio(total).div(own)
    const parts = spreadTotal(BigInt(toText(steps.add(ratio('1/2')).floor())), weights(row))
    parts.forEach((part, index) => {
      edits.push({ row, column: range.left + index, text: toText(own.mul(ratio(part))) })
    })
  }
  return edits
}

/** The figure in a cell; null where it holds none. */
export function numberIn(text: string): Ratio | null {
  return /^\d+([.,]\d+)?$/.test(text.trim()) ? ratio(text.trim().replace(',', '.')) : null
}
function onStep(value: Ratio, step: Ratio): Ratio {
  const steps = value.div(step).add(ratio('1/2')).floor()
  return steps.compare(ZERO) < 0 ? ZERO : step.mul(steps)
}

/** The sum of figures; cells that hold none count nothing. */
export const sumOf = (texts: readonly string[]): string =>
  toText(texts.reduce((sum, text) => sum.add(numberIn(text) ?? ZERO), ZERO))
