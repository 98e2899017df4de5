import { majorText } from '~~/core/money'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { Choice } from './choice'

/** What the cells of a column hold; it decides how they are written, aligned, filtered and exported. */
export type ColumnKind = 'text' | 'number' | 'quantity' | 'money' | 'price' | 'day'

/** One column of a list. */
export interface DataColumn {
  readonly key: string
  readonly name: string
  readonly kind?: ColumnKind
  /** The field of the row with the symbol of a quantity's unit. */
  readonly unit?: string
  /** Width in pixels at first; without one a column takes what is left. */
  readonly width?: number
  /** The pixels that a column without a width needs at least: names have to be read. */
  readonly least?: number
  /** Long text goes on in a second line instead of being cut. */
  readonly wrap?: boolean
  /** Not shown until it is chosen. */
  readonly isHidden?: boolean
  /** Cannot be taken away. */
  readonly isFixed?: boolean
  /** It holds buttons: nothing to sort, filter, copy or export. */
  readonly isAct?: boolean
  readonly isSortable?: boolean
  readonly isFilterable?: boolean
  /** The words that the column can hold, to choose from in a filter. */
  readonly choices?: readonly Choice[]
  /** It says what things cost: only whoever may see costs has it. */
  readonly isCost?: boolean
  /** Its sum stands below the list. */
  readonly hasTotal?: boolean
  /** What stands in the cell as text, where the field alone does not say it. */
  readonly text?: (row: never) => string
  /** Where it stands in a row of two lines on a phone: first on the left, first on the right, below, or not at all. */
  readonly phone?: 'lead' | 'side' | 'below' | 'off'
}

/** A document of fewer lines shows them plainly: nobody searches or filters what is seen at a glance. */
export const LINES_WITH_TOOLS = 15

export const isRightAligned = (column: DataColumn): boolean =>
  ['number', 'quantity', 'money', 'price'].includes(column.kind ?? 'text')

/** The field of a row, as text; empty where there is none. */
export function fieldOf(row: object, key: string): string {
  const value = (row as Readonly<Record<string, unknown>>)[key]
  return value === null || value === undefined ? '' : String(value)
}

/**
 * Where a column stands in a row of two lines: what the row is (the column that cannot be taken away, else the first) on
 * the left, the first figure on the right, the others below.
 */
export function placeOnPhone(column: DataColumn, shown: readonly DataColumn[]): 'lead' | 'side' | 'below' {
  const lead = shown.find((entry) => entry.isFixed) ?? shown[0]
  if (column.key === lead?.key) {
    return 'lead'
  }
  const figures = shown.filter((entry) => isRightAligned(entry))
  return column.key === figures[0]?.key ? 'side' : 'below'
}

/** The sums of some columns as they are written; a sum of quantities only where all are in one unit. */
export function totalsOf(rows: readonly object[], columns: readonly DataColumn[]): ReadonlyMap<string, string> {
  const { amount, money } = usePrint()
  return new Map(
    columns.map((column) => {
      const units = new Set(column.unit ? rows.map((row) => fieldOf(row, column.unit!)) : [''])
      const sum = rows.reduce<Ratio>((total, row) => total.add(ratio(fieldOf(row, column.key) || '0')), ZERO)
      if (column.kind === 'money') {
        return [column.key, money(toText(sum))]
      }
      return [column.key, units.size === 1 ? `${amount(toText(sum), 6)} ${[...units][0]}`.trim() : '']
    }),
  )
}

/** Writes the cells of a list as people read them. */
export function useCellText() {
  const { amount, money, price, day } = usePrint()
  function cellText(row: object, column: DataColumn): string {
    if (column.text) {
      return (column.text as (row: object) => string)(row)
    }
    const text = fieldOf(row, column.key)
    if (text === '') {
      return ''
    }
    switch (column.kind) {
      case 'number':
        return amount(text, 6)
      case 'quantity':
        return `${amount(text, 6)} ${column.unit ? fieldOf(row, column.unit) : ''}`.trim()
      case 'money':
        return money(text)
      case 'price':
        return price(text)
      case 'day':
        return day(text)
      default:
        return text
    }
  }
  return { cellText }
}

/** A cell as a spreadsheet reckons with it: plain numbers, days by ISO 8601; money in major units. */
export function plainCell(row: object, column: DataColumn): string {
  const text = fieldOf(row, column.key)
  if (column.kind === 'money') {
    return text === '' ? '' : majorText(text.split('.')[0]!)
  }
  if (['number', 'quantity', 'price', 'day'].includes(column.kind ?? 'text')) {
    return text
  }
  return column.text ? (column.text as (row: object) => string)(row) : text
}
