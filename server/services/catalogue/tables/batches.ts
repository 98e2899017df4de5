import { eq, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { db, type Tx } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ImportName, TableName } from '~~/shared/catalogue/words'
import type { ImportPreview, Mapping } from '~~/shared/catalogue/import'
import { loadCompany } from '../../company/company'
import { rehearse } from '../../../database/transactions'
import { undoBatch } from '../changes'
import { sheetOfOrders } from '../../demand/order-file'
import { sheetOfDespatch } from '../../purchasing/ubl/despatch'
import { sheetsOfJson } from '../../structure/structures-json'
import { FileReader, isOwnFile, matchOwn, ownColumns } from './file-reader'
import { flatten, INDENTED } from './indented'
import { OWN_FILES } from './own-files'
import { matchColumns, readSheet, type Sheet } from './read-file'
import { columnsOf, TABLE, type Table } from './tables'
import { takeIn, type Source, type Taken, type TakeHow } from './take-in'

/** Keeps a file, matches its columns, and says what it would do. Nothing of the catalogue is changed. */
export async function openImport(
  actor: Actor,
  file: { table: ImportName; fileName: string; content: string },
): Promise<ImportPreview> {
  const content = Buffer.from(file.content, 'base64')
  const sheet = await sheetOf(file.table, file.fileName, content)
  const table = tableOf(file.table)
  let mapping
  if (isOwnFile(file.table)) {
    mapping = matchOwn(file.table, sheet.headings)
  } else if (table) {
    mapping = matchColumns(table, sheet.headings)
  } else {
    mapping = {}
  }
  const [made] = await db
    .insert(batches)
    .values({
      kind: 'file',
      table: file.table,
      label: file.fileName,
      userId: actor.userId,
      content,
      mapping,
      rows: sheet.lines.length,
    })
    .returning({ id: batches.id })
  return previewImport(actor, made!.id)
}

/** The table whose columns a file is matched with; none for structures as JSON, whose fields have their names. */
const tableOf = (name: ImportName): Table | null => {
  if (name === 'structures' || isOwnFile(name)) {
    return null
  }
  if (name === 'indented-bills') {
    return INDENTED
  }
  return TABLE[name]
}

const sheetOf = async (name: ImportName, fileName: string, content: Buffer): Promise<Sheet> => {
  if (name === 'structures') {
    return { headings: [], lines: [...sheetsOfJson(content.toString('utf8')).values()].flatMap((sheet) => sheet.lines) }
  }
  if (name === 'sales-orders' && /\.json$/i.test(fileName)) {
    return sheetOfOrders(content.toString('utf8'))
  }
  if (name === 'goods-received' && /\.xml$/i.test(fileName)) {
    return sheetOfDespatch(content.toString('utf8'))
  }
  return readSheet(fileName, content)
}

/** A kept file, read, with its columns matched. */
interface KeptFile {
  readonly name: ImportName
  readonly sheet: Sheet
  readonly content: Buffer
  readonly mapping: Mapping
}
type FileHow = TakeHow & { readonly label: string }

/** Takes a file in by the tables that it fills, kind by kind. */
async function takeFile(tx: Tx, actor: Actor, file: KeptFile, how: FileHow): Promise<Taken> {
  const { name, sheet, mapping } = file
  if (isOwnFile(name)) {
    const reader = new FileReader(name, sheet, mapping)
    return OWN_FILES[name].take(tx, actor, reader, { ...how, batchId: how.batchId ?? null })
  }
  if (name === 'structures') {
    return takeStructures(tx, actor, file.content, how)
  }
  if (name === 'indented-bills') {
    return takeIndented(tx, actor, file, how)
  }
  return takeIn(tx, actor, [{ table: TABLE[name], sheet, mapping }], how)
}

async function takeStructures(tx: Tx, actor: Actor, content: Buffer, how: FileHow): Promise<Taken> {
  const named = (table: Table, own: Sheet): Source => ({
    table,
    sheet: own,
    mapping: Object.fromEntries(
      columnsOf(table).map((column) => [column.name, own.headings.includes(column.name) ? column.name : null]),
    ),
  })
  const sources = [...sheetsOfJson(content.toString('utf8'))].map(([table, own]) => named(TABLE[table], own))
  let all: Taken = { rows: 0, made: 0, changed: 0, faults: [] }
  for (const [, own] of groupBy(sources, (source) => source.table.kind)) {
    const taken = await takeIn(tx, actor, own, how)
    all = {
      rows: all.rows + taken.rows,
      made: all.made + taken.made,
      changed: all.changed + taken.changed,
      faults: [...all.faults, ...taken.faults],
      effects: [...(all.effects ?? []), ...(taken.effects ?? [])],
    }
  }
  return all
}

async function takeIndented(tx: Tx, actor: Actor, { sheet, mapping }: KeptFile, how: FileHow): Promise<Taken> {
  const rows = sheet.lines.length
  const headFault = (column: string, detail: string) => ({
    file: 'bill-lines' as TableName,
    line: 1,
    column,
    text: '',
    detail,
  })
  const missing = INDENTED.columns.filter((column) => column.needed && !mapping[column.name])
  if (missing.length > 0) {
    const faults = missing.map(({ name }) =>
      headFault(name, `No column of the file is matched with “${name}”, which is needed.`),
    )
    return { rows, made: 0, changed: 0, faults }
  }
  const { sources, faults } = flatten(sheet, mapping)
  const taken = await takeIn(tx, actor, sources, { ...how, dry: how.dry || faults.length > 0 })
  const isEmpty = sources.every((source) => source.sheet.lines.length === 0) && faults.length === 0
  const nothing = isEmpty ? [headFault('level', 'No item of the file has components: level 1 and deeper.')] : []
  const all = [...nothing, ...faults.map((fault) => ({ file: 'bill-lines' as TableName, ...fault })), ...taken.faults]
  return { ...taken, rows, faults: all.sort((a, b) => a.line - b.line) }
}

/** What the file would do with its columns matched so: a dry run with every fault. */
export async function previewImport(actor: Actor, id: number, mapping?: Mapping): Promise<ImportPreview> {
  const { batch, sheet, table } = await readBatch(id)
  const used = mapping ?? batch.mapping!
  if (mapping) {
    await db.update(batches).set({ mapping }).where(eq(batches.id, id))
  }
  const taken = await rehearse((tx) =>
    takeFile(
      tx,
      actor,
      { name: table, sheet, content: batch.content, mapping: used },
      {
        decimalSign: batch.decimalSign,
        dry: tableOf(table)?.kind !== 'groups',
        label: batch.label,
        watch: watching(id),
      },
    ),
  )
  return {
    ...taken,
    effects: taken.effects ?? [],
    id,
    table,
    fileName: batch.label,
    headings: sheet.headings,
    mapping: used,
    same:
      taken.faults.length > 0 || isOwnFile(table)
        ? 0
        : Math.max(0, namedIn(tableOf(table), sheet, used) - taken.made - taken.changed),
    columns: isOwnFile(table) ? ownColumns(table) : shown(tableOf(table)).map(({ name, needed }) => ({ name, needed })),
    sample: sheet.lines.slice(0, 5).map((line) => line.cells),
  }
}

/**
 * Takes the file in, all of it or nothing, by the columns that were looked at: looks that overlap may be stored in
 * another order than they were asked for.
 */
export async function applyImport(tx: Tx, actor: Actor, id: number, seen?: Mapping): Promise<Taken> {
  // Not by the row itself: how far the work is, is written to it from outside this transaction.
  await tx.execute(sql`select pg_advisory_xact_lock(7858, ${id})`)
  const { batch, sheet, table } = await readBatch(id)
  if (batch.state !== 'open') {
    throw new Refusal('not-now', 'This file was taken in already.')
  }
  const file = { name: table, sheet, content: batch.content, mapping: seen ?? batch.mapping! }
  const taken = await takeFile(tx, actor, file, {
    decimalSign: batch.decimalSign,
    batchId: id,
    label: batch.label,
    watch: watching(id),
  })
  const [fault] = taken.faults
  if (fault) {
    throw new Refusal('invalid-input', `Line ${fault.line}, ${fault.column}: ${fault.detail}`)
  }
  await tx.update(batches).set({ state: 'done', made: taken.made, changed: taken.changed }).where(eq(batches.id, id))
  return taken
}

/** Takes back all that a batch did. */
export async function takeBack(tx: Tx, actor: Actor, id: number): Promise<{ label: string }> {
  const [batch] = await tx
    .select({ state: batches.state, label: batches.label, table: batches.table })
    .from(batches)
    .where(eq(batches.id, id))
    .for('update')
  if (!batch) {
    throw new Refusal('not-found', 'There is no such file.')
  }
  if (batch.state !== 'done') {
    throw new Refusal('not-now', 'There is nothing to take back.')
  }
  if (isOwnFile(batch.table)) {
    await OWN_FILES[batch.table].takeBack(tx, actor, id)
  } else {
    await undoBatch(tx, actor, id)
  }
  await tx.update(batches).set({ state: 'undone' }).where(eq(batches.id, id))
  return { label: batch.label }
}

async function readBatch(id: number) {
  const [batch] = await db.select().from(batches).where(eq(batches.id, id))
  if (!batch?.content) {
    throw new Refusal('not-found', 'There is no such file.')
  }
  await db.update(batches).set({ progress: 0, stopped: false }).where(eq(batches.id, id))
  const decimalSign = (await loadCompany())?.decimalSign ?? ('.' as const)
  return {
    batch: { ...batch, content: batch.content, decimalSign },
    sheet: await sheetOf(batch.table as ImportName, batch.label, batch.content),
    table: batch.table as ImportName,
  }
}

const shown = (table: Table | null) => (table ? columnsOf(table) : [])

/** How many definitions a file speaks of, as far as its lines tell. */
function namedIn(table: Table | null, sheet: Sheet, mapping: Mapping): number {
  if (!table) {
    return new Set(sheet.lines.map((line) => `${line.cells.item} ${line.cells.revision ?? line.cells.rank}`)).size
  }
  const keys = [mapping[table.key] ?? '', ...(table.numbered ? [mapping[table.numbered] ?? ''] : [])]
  return new Set(sheet.lines.map((line) => keys.map((key) => line.cells[key]).join(' '))).size
}

/**
 * Writes how far it is where everybody can read it, lets others in between, and ends the work where its owner wants
 * that.
 */
function watching(id: number): { report(percent: number): Promise<void> } {
  return {
    async report(percent) {
      await new Promise(setImmediate)
      const [batch] = await db
        .update(batches)
        .set({ progress: percent })
        .where(eq(batches.id, id))
        .returning({ stopped: batches.stopped })
      if (batch?.stopped) {
        throw new Refusal('not-now', 'Stopped. Nothing was changed.')
      }
    },
  }
}
