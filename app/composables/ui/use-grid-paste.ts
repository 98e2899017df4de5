export interface GridOption {
  readonly value: string | number | null
  readonly name: string
  readonly code?: string
}
export interface GridColumn {
  readonly key: string
  readonly name: string
  readonly kind?: 'text' | 'number' | 'date' | 'check' | 'choice' | 'item'
  readonly options?: readonly GridOption[]
  readonly empty?: string
  readonly width?: string
  readonly hint?: string
}

/**
 * Reads what a spreadsheet puts on the clipboard: lines of cells with tabs between; a cell in quotes may hold either.
 */
export function readClipboard(text: string): string[][] {
  const lines: string[][] = [['']]
  let quoted = false
  for (let cell = 0; cell < text.length; cell++) {
    const character = text[cell]!
    const line = lines.at(-1)!
    if (quoted) {
      if (character === '"' && text[cell + 1] === '"') {
        line[line.length - 1] += '"'
        cell++
      } else if (character === '"') {
        quoted = false
      } else {
        line[line.length - 1] += character
      }
    } else if (character === '"' && line.at(-1) === '') {
      quoted = true
    } else if (character === '\t') {
      line.push('')
    } else if (character === '\n') {
      lines.push([''])
    } else if (character !== '\r') {
      line[line.length - 1] += character
    }
  }
  return lines.at(-1)!.every((cell) => cell === '') ? lines.slice(0, -1) : lines
}

/**
 * The value that a pasted text stands for in a column; a choice by its name, code or value. `undefined` where it is
 * none.
 */
export function pastedValue(column: GridColumn, text: string): unknown {
  const cell = text.trim()
  if (column.kind === 'check') {
    return ['yes', 'true', '1', 'x'].includes(cell.toLowerCase())
  }
  if (column.kind !== 'choice') {
    return cell
  }
  if (cell === '') {
    return column.empty ? null : undefined
  }
  const same = (word: string | number | null | undefined): boolean =>
    word !== null && word !== undefined && String(word).toLowerCase() === cell.toLowerCase()
  return column.options?.find(
    (option) =>
      same(option.value) || same(option.name) || same(option.code) || same(option.name.replace(/ \(.*\)$/, '')),
  )?.value
}

/** Lays pasted cells over rows from a place on, with new rows where they run out; answers what found no place. */
export function pasteInto<R extends Record<string, unknown>>(
  rows: R[],
  columns: readonly GridColumn[],
  cell: { row: number; column: number },
  cells: readonly (readonly string[])[],
  blank: () => R,
): string[] {
  const unread: string[] = []
  cells.forEach((line, down) => {
    while (rows.length <= cell.row + down) {
      rows.push(blank())
    }
    line.forEach((text, right) => {
      const column = columns[cell.column + right]
      const value = column && column.kind !== 'item' ? pastedValue(column, text) : undefined
      if (column && value !== undefined) {
        ;(rows[cell.row + down] as Record<string, unknown>)[column.key] = value
      } else if (text.trim() !== '') {
        unread.push(text.trim())
      }
    })
  })
  return unread
}
