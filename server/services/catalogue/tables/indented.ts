import type { Mapping } from '~~/shared/import'
import { number, text } from './columns'
import { TABLE, type Table } from './tables'
import type { Sheet } from './read-file'
import type { Source } from './take-in'

const COLUMNS = [number('level', { needed: true }), text('item', { needed: true, empty: undefined, also: ['component', 'code'] }), ...TABLE['bill-lines'].columns.filter(column => column.name !== 'component' && column.name !== 'position')]
/** The columns of bills written out by levels: level 0 is what is made, level 1 its components, and so on. */
export const INDENTED: Table = { name: 'bill-lines', kind: 'bills', key: 'item', keyField: 'code', columns: COLUMNS, names: TABLE['bill-lines'].names, says: 'bills of materials, indented by level' }

const PARENT = ' parent'

/**
 * Bills written out by levels as lines of parent and component. What occurs in several places is written once; where it is
 * written out differently, the line that differs is told.
 */
export function flatten(sheet: Sheet, mapping: Mapping): { source: Source, faults: { line: number, column: string, text: string, detail: string }[] } {
  const cell = (line: Sheet['lines'][number], column: string): string => mapping[column] ? line.cells[mapping[column]] ?? '' : ''
  const faults: { line: number, column: string, text: string, detail: string }[] = []
  const tell = (line: Sheet['lines'][number], column: string, detail: string): void => { faults.push({ line: line.line, column: mapping[column] ?? column, text: cell(line, column), detail }) }
  const path: string[] = []
  const told: { parent: string, occurrence: number, line: Sheet['lines'][number] }[] = []
  const occurrences = new Map<string, number>()
  for (const line of sheet.lines) {
    const level = cell(line, 'level').replace(/^[.\s]+/, '')
    if (!/^\d{1,2}$/.test(level)) { tell(line, 'level', `“${cell(line, 'level')}” is no level. Write 0 for what is made, 1 for its components, and so on.`); continue }
    const depth = Number(level)
    const item = cell(line, 'item')
    if (item === '') { tell(line, 'item', 'The item is missing.'); continue }
    if (depth > path.length) { tell(line, 'level', path.length === 0 ? 'The first line is level 0: what is made.' : `Level ${depth} stands below level ${path.length - 1}; a level is missing between.`); continue }
    path.length = depth
    path.push(item)
    occurrences.set(item, (occurrences.get(item) ?? 0) + 1)
    if (depth > 0) told.push({ parent: path[depth - 1]!, occurrence: occurrences.get(path[depth - 1]!)!, line })
  }
  const first = new Map<string, typeof told>()
  for (const one of told) first.set(one.parent, [...first.get(one.parent) ?? [], one])
  const lines = [...first.values()].flatMap((list) => {
    const [head] = list
    const said = (one: typeof told[number]): string => JSON.stringify(['item', 'quantity', 'unit'].map(column => cell(one.line, column)))
    const own = list.filter(one => one.occurrence === head!.occurrence)
    for (const other of list) {
      if (other.occurrence === head!.occurrence) continue
      if (!own.some(one => said(one) === said(other))) tell(other.line, 'item', `${other.parent} is written out differently in line ${head!.line.line} and below. An item has one bill.`)
    }
    return own.map(one => ({ line: one.line.line, cells: { ...one.line.cells, [PARENT]: one.parent } }))
  })
  return { source: { table: TABLE['bill-lines'], sheet: { headings: sheet.headings, lines: lines.sort((a, b) => a.line - b.line) }, mapping: { ...mapping, item: PARENT, component: mapping.item ?? null, revision: null, position: null } }, faults }
}
