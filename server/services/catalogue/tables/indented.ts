import { groupBy } from '~~/core/group-by'
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

type Line = Sheet['lines'][number]
interface Fault {
  readonly line: number
  readonly column: string
  readonly text: string
  readonly detail: string
}
/** A component as it stands below what it goes into; `occurrence` counts how often that has been written out so far. */
interface Component {
  readonly parent: string
  readonly occurrence: number
  readonly line: Line
}

/** Reads the cells of a file by its columns, and keeps what is wrong with them. */
class Cells {
  readonly faults: Fault[] = []
  constructor(private readonly mapping: Mapping) {}

  of(line: Line, column: string): string {
    const heading = this.mapping[column]
    return heading ? (line.cells[heading] ?? '') : ''
  }
  report(line: Line, column: string, detail: string): void {
    this.faults.push({
      line: line.line,
      column: this.mapping[column] ?? column,
      text: this.of(line, column),
      detail,
    })
  }
}

/** The level of a line below those before it; null, and told, where it is none. */
function levelOf(cells: Cells, line: Line, above: number): number | null {
  const level = cells.of(line, 'level').replace(/^[.\s]+/, '')
  if (!/^\d{1,2}$/.test(level)) {
    const said = `“${cells.of(line, 'level')}” is no level.`
    cells.report(line, 'level', `${said} Write 0 for what is made, 1 for its components, and so on.`)
    return null
  }
  if (cells.of(line, 'item') === '') {
    cells.report(line, 'item', 'The item is missing.')
    return null
  }
  if (Number(level) <= above) {
    return Number(level)
  }
  cells.report(
    line,
    'level',
    above === 0
      ? 'The first line is level 0: what is made.'
      : `Level ${Number(level)} stands below level ${above - 1}; a level is missing between.`,
  )
  return null
}

/** Which components stand below which item, and the line in which each item is first named. */
function readLevels(cells: Cells, lines: readonly Line[]): { components: Component[]; heads: Map<string, Line> } {
  const path: string[] = []
  const components: Component[] = []
  const occurrences = new Map<string, number>()
  const heads = new Map<string, Line>()
  for (const line of lines) {
    const depth = levelOf(cells, line, path.length)
    if (depth === null) {
      continue
    }
    const item = cells.of(line, 'item')
    path.length = depth
    path.push(item)
    occurrences.set(item, (occurrences.get(item) ?? 0) + 1)
    heads.set(item, heads.get(item) ?? line)
    const parent = path[depth - 1]
    if (parent !== undefined) {
      components.push({ parent, occurrence: occurrences.get(parent)!, line })
    }
  }
  return { components, heads }
}

/**
 * The lines of an item's bill, from where it is first written out; where it is written out differently below, that is
 * told.
 */
function linesOfBill(cells: Cells, all: readonly Component[]): Component[] {
  const [head] = all
  const said = (entry: Component): string =>
    JSON.stringify(['item', 'quantity', 'unit'].map((column) => cells.of(entry.line, column)))
  const own = all.filter((entry) => entry.occurrence === head!.occurrence)
  const known = new Set(own.map(said))
  for (const entry of all.filter((entry) => !known.has(said(entry)))) {
    cells.report(
      entry.line,
      'item',
      `${entry.parent} is written out differently in line ${head!.line.line} and below. An item has one bill.`,
    )
  }
  return own
}

/**
 * Bills written out by levels as bills and their lines. Each is given whole: what it held before and is not in the file
 * is not in it any more. Quantities are for the batch beside the item that is made, or for one of it. What occurs in
 * several places is taken once; where it is written out differently, the line that differs is told.
 */
export function flatten(sheet: Sheet, mapping: Mapping): { sources: Source[]; faults: readonly Fault[] } {
  const cells = new Cells(mapping)
  const { components, heads } = readLevels(cells, sheet.lines)
  const byParent = groupBy(components, (entry) => entry.parent)
  const lines = [...byParent.values()]
    .flatMap((list) => linesOfBill(cells, list))
    .map((entry) => ({ line: entry.line.line, cells: { ...entry.line.cells, [PARENT]: entry.parent } }))
  const bills = [...byParent.keys()].map((parent) => {
    const head = heads.get(parent)!
    const own = { [PARENT]: parent, [BATCH]: cells.of(head, 'batch'), [BATCH_UNIT]: cells.of(head, 'batch_unit') }
    return { line: head.line, cells: { ...head.cells, ...own } }
  })
  const none = { revision: null, position: null }
  return {
    faults: cells.faults,
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
