import type { Mapping } from '~~/shared/catalogue/import'
import { number, text } from './columns'
import { TABLE, type Table } from './tables'
import type { Sheet } from './read-file'
import type { Source } from './take-in'

const COLUMNS = [
  number('level', { needed: true }),
  text('item', { needed: true, empty: undefined, also: ['component', 'code'] }),
  number('batch'),
  text('batch_unit'),
  ...TABLE['bill-lines'].columns.filter((column) => column.name !== 'component' && column.name !== 'position'),
]
/** The columns of bills written out by levels: level 0 is what is made, level 1 its components, and so on. */
export const INDENTED: Table = {
  name: 'bill-lines',
  kind: 'bills',
  key: 'item',
  keyField: 'code',
  columns: COLUMNS,
  names: TABLE['bill-lines'].names,
  summary: 'bills of materials, indented by level',
}

// Headings that no file has: a heading is read without spaces around it.
const [PARENT, BATCH, BATCH_UNIT] = [' parent', ' batch', ' batch unit']

/**
 * Bills written out by levels as bills and their lines. Each is given whole: what it held before and is not in the file is not in
 * it any more. Quantities are for the batch beside the item that is made, or for one of it. What occurs in several places is
 * taken once; where it is written out differently, the line that differs is told.
 */
export function flatten(
  sheet: Sheet,
  mapping: Mapping,
): { sources: Source[]; faults: { line: number; column: string; text: string; detail: string }[] } {
  const cell = (line: Sheet['lines'][number], column: string): string =>
    mapping[column] ? (line.cells[mapping[column]] ?? '') : ''
  const faults: { line: number; column: string; text: string; detail: string }[] = []
  const report = (line: Sheet['lines'][number], column: string, detail: string): void => {
    faults.push({ line: line.line, column: mapping[column] ?? column, text: cell(line, column), detail })
  }
  const path: string[] = []
  const found: { parent: string; occurrence: number; line: Sheet['lines'][number] }[] = []
  const occurrences = new Map<string, number>()
  const heads = new Map<string, Sheet['lines'][number]>()
  for (const line of sheet.lines) {
    const level = cell(line, 'level').replace(/^[.\s]+/, '')
    if (!/^\d{1,2}$/.test(level)) {
      report(
        line,
        'level',
        `“${cell(line, 'level')}” is no level. Write 0 for what is made, 1 for its components, and so on.`,
      )
      continue
    }
    const depth = Number(level)
    const item = cell(line, 'item')
    if (item === '') {
      report(line, 'item', 'The item is missing.')
      continue
    }
    if (depth > path.length) {
      report(
        line,
        'level',
        path.length === 0
          ? 'The first line is level 0: what is made.'
          : `Level ${depth} stands below level ${path.length - 1}; a level is missing between.`,
      )
      continue
    }
    path.length = depth
    path.push(item)
    occurrences.set(item, (occurrences.get(item) ?? 0) + 1)
    if (!heads.has(item)) {
      heads.set(item, line)
    }
    if (depth > 0) {
      found.push({ parent: path[depth - 1]!, occurrence: occurrences.get(path[depth - 1]!)!, line })
    }
  }
  const first = new Map<string, typeof found>()
  for (const entry of found) {
    first.set(entry.parent, [...(first.get(entry.parent) ?? []), entry])
  }
  const lines = [...first.values()].flatMap((list) => {
    const [head] = list
    const said = (entry: (typeof found)[number]): string =>
      JSON.stringify(['item', 'quantity', 'unit'].map((column) => cell(entry.line, column)))
    const own = list.filter((entry) => entry.occurrence === head!.occurrence)
    for (const entry of list) {
      if (entry.occurrence === head!.occurrence) {
        continue
      }
      if (!own.some((candidate) => said(candidate) === said(entry))) {
        report(
          entry.line,
          'item',
          `${entry.parent} is written out differently in line ${head!.line.line} and below. An item has one bill.`,
        )
      }
    }
    return own.map((entry) => ({ line: entry.line.line, cells: { ...entry.line.cells, [PARENT]: entry.parent } }))
  })
  const bills = [...first.keys()].map((parent) => ({
    line: heads.get(parent)!.line,
    cells: {
      ...heads.get(parent)!.cells,
      [PARENT]: parent,
      [BATCH]: cell(heads.get(parent)!, 'batch'),
      [BATCH_UNIT]: cell(heads.get(parent)!, 'batch_unit'),
    },
  }))
  const none = { revision: null, position: null }
  return {
    faults,
    sources: [
      // An empty unit of a batch is the one in which the item is made.
      ...[true, false].map((isSaid) => ({
        table: TABLE.bills,
        fresh: true,
        sheet: { headings: sheet.headings, lines: bills.filter((bill) => (bill.cells[BATCH_UNIT] !== '') === isSaid) },
        mapping: { item: PARENT, batch: BATCH, unit: isSaid ? BATCH_UNIT : null, ...none },
      })),
      {
        table: TABLE['bill-lines'],
        fresh: true,
        sheet: { headings: sheet.headings, lines: lines.sort((a, b) => a.line - b.line) },
        mapping: { ...mapping, item: PARENT, component: mapping.item ?? null, ...none },
      },
    ],
  }
}
