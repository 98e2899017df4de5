import type * as z from 'zod'
import type { Tx } from '~~/server/database/client'
import { units } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import { INHERITABLE } from '~~/shared/catalogue/words'
import type { Definition } from '~~/shared/catalogue/definitions'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import type { FileFault, Mapping } from '~~/shared/catalogue/import'
import { beginningStep } from '~~/shared/catalogue/measure'
import { loadGroupDefaults, saveAll, schemaOf, shapeOf, type Edit, type SaveHow } from '../definitions'
import { loadNames } from './names'
import type { Sheet } from './read-file'
import { columnsOf, type Table } from './tables'
import { readDrafts, type Draft, faultAt } from './drafts'

export type Fields = Record<string, unknown>

export type Line = Sheet['lines'][number]

/** A file, the table that it fills, and how its columns are matched. */
export interface Source {
  readonly table: Table
  readonly sheet: Sheet
  readonly mapping: Mapping
  /** The file says all of each bill that it names. */
  readonly fresh?: boolean
}

export interface Taken {
  readonly rows: number
  readonly made: number
  readonly changed: number
  readonly faults: readonly FileFault[]
  /** What it would change elsewhere, a sentence each. */
  readonly effects?: readonly string[]
}

export interface Watch {
  report(percent: number): Promise<void>
}

export interface TakeHow extends SaveHow {
  readonly decimalSign: '.' | ','
  readonly watch?: Watch
}

/**
 * Takes the lines of files into definitions of one kind: cells read by their columns, definitions checked as if typed,
 * all saved or none.
 *
 * A line adds or changes what it names and leaves everything else; a column that is not matched leaves its field alone.
 * Every fault is told with its file, line and column; with any fault nothing is saved.
 */
export async function takeIn(tx: Tx, actor: Actor, sources: readonly Source[], how: TakeHow): Promise<Taken> {
  const [first] = sources
  return first!.table.name === 'groups' ? takeInTree(tx, actor, first!, how) : takeInTogether(tx, actor, sources, how)
}

/** Groups that lie within others of the same file come after them, level by level. */
async function takeInTree(tx: Tx, actor: Actor, source: Source, how: TakeHow): Promise<Taken> {
  const { table, sheet, mapping } = source
  const cell = (line: Line, column: string): string => (mapping[column] ? (line.cells[mapping[column]] ?? '') : '')
  let left = sheet.lines
  let all: Taken = { rows: 0, made: 0, changed: 0, faults: [] }
  while (left.length > 0 || all.rows === 0) {
    const later = new Set(left.map((line) => cell(line, table.key)))
    const level = left.filter(
      (line) => !later.has(cell(line, 'parent')) || cell(line, 'parent') === cell(line, table.key),
    )
    const taking = level.length > 0 ? level : left
    const taken = await takeInTogether(tx, actor, [{ ...source, sheet: { ...sheet, lines: taking } }], how)
    all = {
      rows: sheet.lines.length,
      made: all.made + taken.made,
      changed: all.changed + taken.changed,
      faults: [...all.faults, ...taken.faults],
    }
    if (taken.faults.length > 0 || sheet.lines.length === 0) {
      break
    }
    left = left.filter((line) => !taking.includes(line))
  }
  return all
}

async function takeInTogether(tx: Tx, actor: Actor, sources: readonly Source[], how: TakeHow): Promise<Taken> {
  const kind = sources[0]!.table.kind
  const faults: FileFault[] = []
  const rows = sources.reduce((sum, source) => sum + source.sheet.lines.length, 0)
  const unmatched = unmatchedColumns(sources)
  if (unmatched.length > 0) {
    return { rows, made: 0, changed: 0, faults: sortFaults(unmatched) }
  }

  const names = await loadNames(
    tx,
    sources.flatMap((source) => source.table.names),
  )
  const drafts = await readDrafts(
    tx,
    sources,
    { names, decimalSign: how.decimalSign },
    faults,
    how.watch && ((share) => how.watch!.report(Math.round(share * 30))),
  )
  const checked = await checkDrafts(tx, kind, drafts, faults, how)
  const saved = await saveAll(
    tx,
    actor,
    shapeOf(kind),
    checked.map(({ edit }) => edit),
    { batchId: how.batchId, dry: how.dry || faults.length > 0 },
  )
  if (!saved.ok) {
    faults.push(...saved.error.map((fault) => place(checked[fault.edit]!.draft, fault.field, fault.detail)))
  }
  const { made, changed, effects } = saved.ok ? saved.value : { made: 0, changed: 0, effects: [] }
  return { rows, made, changed, faults: sortFaults(faults), effects }
}

const unmatchedColumns = (sources: readonly Source[]): FileFault[] =>
  sources.flatMap(({ table, mapping }) =>
    columnsOf(table)
      .filter((column) => column.needed && !mapping[column.name] && (table.list || column.name === table.key))
      .map((column) => ({
        file: table.name,
        line: 1,
        column: column.name,
        text: '',
        detail: `No column of the file is matched with “${column.name}”, which is needed.`,
      })),
  )

/** In the order of the files and their lines; of a cell the first that was found. */
function sortFaults(faults: readonly FileFault[]): FileFault[] {
  const byCell = new Map([...faults].reverse().map((fault) => [`${fault.file} ${fault.line} ${fault.column}`, fault]))
  return [...byCell.values()].sort((a, b) => compareTexts(a.file, b.file) || a.line - b.line)
}

const compareTexts = (a: string, b: string): number => Number(a > b) - Number(a < b)

/** Checks what was read as if it had been typed; what is not right is told, and left out. */
async function checkDrafts(
  tx: Tx,
  kind: DefinitionKind,
  drafts: readonly Draft[],
  faults: FileFault[],
  how: TakeHow,
): Promise<{ draft: Draft; edit: Edit<DefinitionKind> }[]> {
  const groupDefaults = kind === 'items' ? await loadGroupDefaults(tx) : null
  const steps = kind === 'items' ? await loadBeginningSteps(tx) : new Map<string, string>()
  const schema = schemaOf(kind) as z.ZodType
  const checked: { draft: Draft; edit: Edit<DefinitionKind> }[] = []
  for (const [index, draft] of drafts.entries()) {
    if (groupDefaults) {
      fillDefaults(draft.fields, (groupDefaults.get(draft.fields.groupId as number) as Fields | undefined) ?? {}, steps)
    }
    const parsed = schema.safeParse(draft.fields)
    if (parsed.success) {
      const definition = parsed.data as Definition<DefinitionKind>
      checked.push({ draft, edit: { id: draft.id, version: null, definition } })
    } else {
      faults.push(...parsed.error.issues.map((issue) => place(draft, issue.path.join('.'), issue.message)))
    }
    if (index % 500 === 499) {
      await how.watch?.report(30 + Math.round((index / drafts.length) * 30))
    }
  }
  return checked
}

/** The finest step that an item begins with, by the code of its stock unit. */
const loadBeginningSteps = async (tx: Tx): Promise<ReadonlyMap<string, string>> =>
  new Map(
    (await tx.select({ code: units.code, decimals: units.decimals }).from(units)).map((unit) => [
      unit.code,
      beginningStep(unit),
    ]),
  )

/** Fields of an item that the file leaves empty: what the group says, else what every item begins with. */
function fillDefaults(fields: Fields, summary: Fields, steps: ReadonlyMap<string, string>): void {
  const base: Fields = {
    source: 'bought',
    stockUnit: 'piece',
    tracking: 'none',
    costing: 'moving average',
    shelfLifeDays: null,
    leadDays: 0,
  }
  const inherited = new Set(fields.inherited as string[])
  for (const field of INHERITABLE) {
    // The stock unit stands before the finest step, so it is settled when that is asked for.
    base.finestStep = steps.get(String(fields.stockUnit)) ?? '1'
    if (fields[field] !== undefined) {
      if (inherited.has(field) && String(fields[field]) !== String(summary[field])) {
        inherited.delete(field)
      }
      continue
    }
    if (summary[field] !== undefined) {
      fields[field] = summary[field]
      inherited.add(field)
    } else {
      fields[field] = field in base ? base[field] : fields.stockUnit
      inherited.delete(field)
    }
  }
  fields.inherited = [...inherited]
}

/** Finds the line and the column of a fault by the path of its field. */
export function place(draft: Draft, path: string, detail: string): FileFault {
  const prefix = [...draft.entries.keys()]
    .filter((entry) => path === entry || path.startsWith(`${entry}.`))
    .sort((a, b) => b.length - a.length)[0]
  const index = prefix === undefined ? draft.head : draft.entries.get(prefix)!
  const field = prefix === undefined ? path : path.slice(prefix.length + 1)
  return faultAt(
    index,
    index.source.table.columns.find((column) => column.field === field)?.name ?? index.source.table.key,
    detail,
  )
}
