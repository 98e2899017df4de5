import type { Tx } from '~~/server/database/client'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import type { FileFault } from '~~/shared/catalogue/import'
import { shapeOf } from '../definitions'
import { fieldsToBegin, type Named } from './begin-draft'
import { CellFault } from './cell-fault'
import type { Column, Reading } from './columns'
import { columnsOf, type Table } from './tables'
import type { Source, Line, Fields } from './take-in'

interface Place {
  readonly source: Source
  readonly line: Line
}

/** A definition as the files would leave it, and from which line each of its entries came. */
export interface Draft {
  readonly id: number | null
  readonly key: string
  readonly fields: Fields
  head: Place
  readonly entries: Map<string, Place>
}

export const faultAt = ({ source, line }: Place, column: string, detail: string): FileFault => {
  // A column that the file does not have is told of where the line says what it is about.
  const heading = source.mapping[column] ?? source.mapping[source.table.key] ?? column
  return { file: source.table.name, line: line.line, column: heading, text: line.cells[heading] ?? '', detail }
}

type Report = (column: string, detail: string) => void
const reporter =
  (faults: FileFault[], place: Place): Report =>
  (column, detail) => {
    faults.push(faultAt(place, column, detail))
  }
const placesOf = (sources: readonly Source[]): Place[] =>
  sources.flatMap((source) => source.sheet.lines.map((line) => ({ source, line })))

/** Reads the lines of files into the definitions that they fill; every fault is told with its line and column. */
export async function readDrafts(
  tx: Tx,
  sources: readonly Source[],
  reading: Reading,
  faults: FileFault[],
  onProgress?: (share: number) => Promise<void>,
): Promise<Draft[]> {
  const kind = sources[0]!.table.kind
  const places = placesOf(sources)
  const named = new Map<Line, Named>()
  for (const place of places) {
    const entry = nameIn(place.source, place.line, kind, reading, reporter(faults, place))
    if (entry) {
      named.set(place.line, entry)
    }
  }
  const desk = new DraftDesk(kind, reading, await loadStored(tx, kind, [...named.values()]))
  for (const [index, place] of places.entries()) {
    if ((index + 1) % 500 === 0) {
      await onProgress?.((index + 1) / places.length)
    }
    const entry = named.get(place.line)
    if (entry) {
      desk.read(place, entry, reporter(faults, place))
    }
  }
  return [...desk.drafts.values()]
}

async function loadStored(tx: Tx, kind: DefinitionKind, named: readonly Named[]): Promise<Map<number, Fields>> {
  const ids = new Set(named.flatMap((entry) => [entry.id ?? [], entry.begin?.copyOf ?? []].flat()))
  const stored = ids.size > 0 ? await shapeOf(kind).load(tx, [...ids]) : []
  return new Map(stored.map((entry) => [entry.id, entry as unknown as Fields]))
}

/** The definitions as they grow, line by line. */
class DraftDesk {
  readonly drafts = new Map<string, Draft>()
  private readonly headed = new Set<Draft>()

  constructor(
    private readonly kind: DefinitionKind,
    private readonly reading: Reading,
    private readonly stored: ReadonlyMap<number, Fields>,
  ) {}

  read(place: Place, entry: Named, report: Report): void {
    const { table } = place.source
    const { key, id } = entry
    const slot = id === null ? `new ${key}` : String(id)
    const known = this.drafts.get(slot)
    if (table.list && id === null && !known && !entry.begin) {
      report(table.key, `There is no ${this.reading.names.wordFor(this.kind)} “${key}”.`)
      return
    }
    const draft: Draft = known ?? {
      id,
      key,
      fields: fieldsToBegin(place.source, this.kind, entry, this.stored),
      head: place,
      entries: new Map(),
    }
    this.drafts.set(slot, draft)
    const read = readLine(place, this.reading, draft.fields, report)
    if (table.list) {
      fillEntry(draft, read, place, report)
    } else if (this.headed.has(draft)) {
      report(table.key, `${key} is in the file twice, first in line ${draft.head.line.line}.`)
    } else {
      this.headed.add(draft)
      draft.head = place
      fill(draft.fields, read)
    }
  }
}

/** A line of a list: what its columns say of the definition itself, and its entry. */
function fillEntry(draft: Draft, read: Fields, place: Place, report: Report): void {
  const { table } = place.source
  const ofHead = table.columns.filter((column) => column.ofHead && headField(column) in read)
  fill(draft.fields, Object.fromEntries(ofHead.map((column) => [column.field, read[headField(column)]])))
  const entry = Object.fromEntries(Object.entries(read).filter(([field]) => !field.startsWith('head ')))
  placeEntry(draft, entry, place, (detail) => report(columnsOf(table)[1]!.name, detail))
}

/** What a line is about; null with a fault where that cannot be told. */
function nameIn(
  { table, mapping }: Source,
  line: Line,
  kind: DefinitionKind,
  { names }: Reading,
  report: (column: string, detail: string) => void,
): Named | null {
  const cell = line.cells[mapping[table.key]!] ?? ''
  if (cell === '') {
    report(table.key, `The ${table.key} is missing.`)
    return null
  }
  if (!table.numbered) {
    return { key: cell, id: names.idOf(kind, cell) ?? null, begin: null }
  }
  const heading = mapping[table.numbered]
  try {
    const begin = names.numbered(kind, cell, heading ? (line.cells[heading] ?? '') : '')
    return { key: begin.key, id: names.idOf(kind, begin.key) ?? null, begin }
  } catch (error) {
    if (!(error instanceof CellFault)) {
      throw error
    }
    report(error.message.startsWith('There is no item') ? table.key : table.numbered, error.message)
    return null
  }
}

/** A column that fills the definition may be named as one that fills the entry. */
const headField = (column: Column): string => (column.ofHead ? `head ${column.field}` : column.field)

function readLine(
  { source: { table, mapping }, line }: Place,
  reading: Reading,
  before: Fields,
  report: (column: string, detail: string) => void,
): Fields {
  const read: Fields = {}
  for (const column of table.columns) {
    const heading = mapping[column.name]
    if (!heading) {
      continue
    }
    const cell = line.cells[heading] ?? ''
    try {
      if (cell === '' && column.needed) {
        throw new CellFault(`The ${column.name.replaceAll('_', ' ')} is missing.`)
      }
      read[headField(column)] = cell === '' ? column.empty : column.read(cell, reading)
    } catch (error) {
      if (!(error instanceof CellFault)) {
        throw error
      }
      report(column.name, error.message)
      read[headField(column)] = before[column.field]
    }
  }
  return read
}

/** Sets fields by their path; what is `undefined` is left out. */
function fill(fields: Fields, read: Fields): void {
  for (const [path, value] of Object.entries(read)) {
    const steps = path.split('.')
    const last = steps.pop()!
    const index = steps.reduce<Fields>((inner, step) => (inner[step] ??= {}) as Fields, fields)
    if (value === undefined) {
      if (last in index) {
        index[last] = undefined
      }
    } else {
      index[last] = value
    }
  }
}

/**
 * Where an entry's list is: in the definition, or in an entry of another list of it. Null, and told, where that is
 * missing.
 */
function holderOf(
  draft: Draft,
  read: Fields,
  { within }: NonNullable<Table['list']>,
  refuse: (detail: string) => void,
): { fields: Fields; path: string } | null {
  if (!within) {
    return { fields: draft.fields, path: '' }
  }
  const field = within.by === 'component' ? 'itemId' : within.by
  const outer = (draft.fields[within.field] as Fields[] | undefined) ?? []
  const index = outer.findIndex((entry) => entry[field] === read[within.by])
  if (index < 0) {
    refuse(
      within.by === 'component'
        ? `${draft.key} has no such component. Bring that in first.`
        : `${draft.key} has no terms of this supplier. Bring those in first.`,
    )
    return null
  }
  return { fields: outer[index]!, path: `${within.field}.${index}.` }
}

/** Puts an entry where one with the same distinguishing fields is, or behind the others. */
function placeEntry(draft: Draft, read: Fields, place: Place, refuse: (detail: string) => void): void {
  const list = place.source.table.list!
  const holder = holderOf(draft, read, list, refuse)
  if (!holder) {
    return
  }
  const entry = Object.fromEntries(
    Object.entries(read).filter(([field, value]) => value !== undefined && field !== list.within?.by),
  )
  const textOf = (fields: Fields, name: string): string => String(fields[name] ?? DEFAULTS[name] ?? '')
  const isLoose = (name: string): boolean => (list.loose ?? []).includes(name) && entry[name] === undefined
  const entries = (holder.fields[list.field] ??= []) as Fields[]
  const index = entries.findIndex((fields) =>
    list.by.every((name) => isLoose(name) || textOf(fields, name) === textOf(entry, name)),
  )
  const pathOf = (position: number): string => `${holder.path}${list.field}.${position}`
  const earlier = index >= 0 ? draft.entries.get(pathOf(index)) : undefined
  if (earlier) {
    refuse(`This is in the file already, in line ${earlier.line.line}.`)
    return
  }
  if (index >= 0) {
    entries[index] = { ...entries[index], ...entry }
  } else {
    entries.push(entry)
  }
  draft.entries.set(pathOf(index >= 0 ? index : entries.length - 1), place)
}

const DEFAULTS: Readonly<Record<string, string>> = { kind: 'code' }
