import type { Tx } from '~~/server/database/client'
import type { DefinitionKind } from '~~/shared/catalogue/definitions'
import type { FileFault } from '~~/shared/catalogue/import'
import { shapeOf } from '../definitions'
import { CellFault } from './cell-fault'
import type { Column, Reading } from './columns'
import { type Numbered } from './names'
import { columnsOf } from './tables'
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

export async function readDrafts(
  tx: Tx,
  sources: readonly Source[],
  reading: Reading,
  faults: FileFault[],
  onProgress?: (share: number) => Promise<void>,
): Promise<Draft[]> {
  const kind = sources[0]!.table.kind
  const ids = new Set<number>()
  const named = new Map<Line, Named>()
  for (const source of sources) {
    for (const line of source.sheet.lines) {
      const entry = nameIn(source, line, kind, reading, (column, detail) => {
        faults.push(faultAt({ source, line }, column, detail))
      })
      if (!entry) {
        continue
      }
      named.set(line, entry)
      for (const id of [entry.id, entry.begin?.copyOf ?? null]) {
        if (id !== null) {
          ids.add(id)
        }
      }
    }
  }
  const stored = new Map(
    (ids.size > 0 ? await shapeOf(kind).load(tx, [...ids]) : []).map((entry) => [entry.id, entry as unknown as Fields]),
  )
  const drafts = new Map<string, Draft>()
  const headed = new Set<Draft>()
  let done = 0
  for (const source of sources) {
    const { table } = source
    for (const line of source.sheet.lines) {
      if (++done % 500 === 0) {
        await onProgress?.(done / sources.reduce((sum, { sheet }) => sum + sheet.lines.length, 0))
      }
      const entry = named.get(line)
      if (!entry) {
        continue
      }
      const { key, id } = entry
      const slot = id === null ? `new ${key}` : String(id)
      const known = drafts.get(slot)
      const place: Place = { source, line }
      const report = (column: string, detail: string): void => {
        faults.push(faultAt(place, column, detail))
      }
      if (table.list && id === null && !known && !entry.begin) {
        report(table.key, `There is no ${reading.names.wordFor(kind)} “${key}”.`)
        continue
      }
      const draft: Draft = known ?? {
        id,
        key,
        fields: fieldsToBegin(source, kind, entry, stored),
        head: place,
        entries: new Map(),
      }
      drafts.set(slot, draft)
      const read = readLine(place, reading, draft.fields, report)
      if (table.list) {
        const own = Object.fromEntries(
          table.columns
            .filter((column) => column.ofHead && headField(column) in read)
            .map((column) => [column.field, read[headField(column)]]),
        )
        fill(draft.fields, own)
        placeEntry(
          draft,
          Object.fromEntries(Object.entries(read).filter(([field]) => !field.startsWith('head '))),
          place,
          (detail) => report(columnsOf(table)[1]!.name, detail),
        )
      } else if (headed.has(draft)) {
        report(table.key, `${key} is in the file twice, first in line ${draft.head.line.line}.`)
      } else {
        headed.add(draft)
        draft.head = place
        fill(draft.fields, read)
      }
    }
  }
  return [...drafts.values()]
}

interface Named {
  readonly key: string
  readonly id: number | null
  readonly begin: Numbered | null
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

/** A bill that a file gives whole: without the lines that it had, for one. */
const beginWhole = ({ itemId, number, makingUnit }: Numbered, stored: Fields | undefined): Fields => ({
  ...begin(stored, 'bills'),
  itemId,
  revision: number,
  fromOn: stored?.fromOn ?? null,
  batchSize: '1',
  batchUnit: makingUnit,
  lines: [],
})

/** A new bill or break-down of an item: as the one before it, or blank. */
/** The fields that a line's draft begins with: a copy, a numbered revision, what is stored, or what every new one begins with. */
function fieldsToBegin(
  source: Source,
  kind: DefinitionKind,
  entry: Named,
  stored: ReadonlyMap<number, Fields>,
): Fields {
  const own = entry.id === null ? undefined : stored.get(entry.id)
  if (source.fresh && entry.begin) {
    return beginWhole(entry.begin, own)
  }
  return entry.begin && entry.id === null ? beginNumbered(kind, entry.begin, stored) : begin(own, kind)
}

function beginNumbered(
  kind: DefinitionKind,
  { itemId, number, copyOf, makingUnit }: Numbered,
  stored: ReadonlyMap<number, Fields>,
): Fields {
  const before = copyOf === null ? {} : begin(stored.get(copyOf), kind)
  return kind === 'bills'
    ? {
        batchUnit: makingUnit,
        lines: [],
        byProducts: [],
        steps: [],
        ...before,
        itemId,
        revision: number,
        fromOn: null,
        name: '',
      }
    : { outputs: [], ...before, itemId, rank: number, name: '' }
}

/** A definition to begin with: a copy of what is there, or a blank one. */
function begin(stored: Fields | undefined, kind: DefinitionKind): Fields {
  if (stored) {
    const { id, version, ...fields } = structuredClone(stored)
    void [id, version]
    return fields
  }
  if (kind === 'items') {
    return { inherited: [] }
  }
  if (kind === 'groups') {
    return { defaults: {} }
  }
  return {}
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

/** Puts an entry where one with the same distinguishing fields is, or behind the others. */
function placeEntry(draft: Draft, read: Fields, place: Place, refuse: (detail: string) => void): void {
  const { field, by, within, loose = [] } = place.source.table.list!
  let holder = draft.fields
  let path = ''
  let entry = Object.fromEntries(Object.entries(read).filter(([, value]) => value !== undefined))
  if (within) {
    const outer = ((draft.fields[within.field] as Fields[] | undefined) ?? []).findIndex(
      (entry) => entry[within.by === 'component' ? 'itemId' : within.by] === read[within.by],
    )
    if (outer < 0) {
      refuse(
        within.by === 'component'
          ? `${draft.key} has no such component. Bring that in first.`
          : `${draft.key} has no terms of this supplier. Bring those in first.`,
      )
      return
    }
    holder = (draft.fields[within.field] as Fields[])[outer]!
    path = `${within.field}.${outer}.`
    const { [within.by]: named, ...rest } = entry
    void named
    entry = rest
  }
  const entries = (holder[field] ??= []) as Fields[]
  const same = (fields: Fields): boolean =>
    by.every(
      (name) =>
        (loose.includes(name) && entry[name] === undefined) ||
        String(fields[name] ?? DEFAULTS[name] ?? '') === String(entry[name] ?? DEFAULTS[name] ?? ''),
    )
  const index = entries.findIndex(same)
  const earlier = index >= 0 ? draft.entries.get(`${path}${field}.${index}`) : undefined
  if (earlier) {
    refuse(`This is in the file already, in line ${earlier.line.line}.`)
    return
  }
  if (index >= 0) {
    entries[index] = { ...entries[index], ...entry }
  } else {
    entries.push(entry)
  }
  draft.entries.set(`${path}${field}.${index >= 0 ? index : entries.length - 1}`, place)
}

const DEFAULTS: Readonly<Record<string, string>> = { kind: 'code' }
