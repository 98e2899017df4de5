import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { FileFault, Mapping } from '~~/shared/import'
import { may, rolesWith } from '~~/shared/people'
import { Correction, readTraits } from '~~/shared/stock'
import { loadFrames } from '../catalogue/frames'
import type { Sheet } from '../catalogue/tables/read-file'
import { correctionMove } from './correct'
import { requireTraits } from './pieces'
import { post, type DraftMove } from './post'
import { reverse } from './reverse'

/** The columns of a file of opening stock: a line is a layer, in the order in which layers came in. */
export const OPENING_COLUMNS = ['item', 'bin', 'lot', 'piece', 'quantity', 'unit', 'unit_cost', 'expires_on', 'status', 'traits'] as const
type Column = (typeof OPENING_COLUMNS)[number]
const NEEDED: readonly Column[] = ['item', 'bin', 'quantity']
const FIELD_COLUMNS: Readonly<Record<string, Column>> = { itemId: 'item', binId: 'bin', lot: 'lot', piece: 'piece', quantity: 'quantity', unit: 'unit', unitCost: 'unit_cost', expiresOn: 'expires_on', status: 'status', traits: 'traits' }

export const openingColumns = OPENING_COLUMNS.map(name => ({ name, needed: NEEDED.includes(name) }))
export const matchOpening = (headings: readonly string[]): Mapping => Object.fromEntries(OPENING_COLUMNS.map(name => [name, headings.find(h => h.trim().toLowerCase().replace(/[\s-]+/g, '_') === name) ?? null]))

export interface TakenOpening { readonly rows: number, readonly made: number, readonly changed: number, readonly faults: readonly FileFault[] }

/** Takes a file of opening stock in as one act against the opening account: all of its lines, or none and every fault. */
export async function takeOpening(tx: Tx, actor: Actor, sheet: Sheet, mapping: Mapping, batchId: number, label: string, watch?: { report(percent: number): Promise<void> }): Promise<TakenOpening> {
  const faults: FileFault[] = []
  const fault = (line: number, column: Column, text: string, detail: string): void => { faults.push({ file: 'opening-stock', line, column, text, detail }) }
  if (!may(actor.role, 'stock')) throw new Refusal('missing-right', `You are signed in as ${actor.role}. Opening stock needs one of: ${rolesWith('stock').join(', ')}.`)
  for (const column of NEEDED) if (!mapping[column]) fault(1, column, '', `No column of the file is matched with “${column}”, which is needed.`)
  if (faults.length > 0) return { rows: sheet.lines.length, made: 0, changed: 0, faults }
  const names = await rows<{ kind: string, code: string, id: number }>(tx, sql`select 'item' as kind, code, id from items union all select 'bin', code, id from places where kind = 'bin'`)
  const idOf = new Map(names.map(name => [`${name.kind} ${name.code.toLowerCase()}`, name.id]))
  const cell = (line: Sheet['lines'][number], column: Column): string => (mapping[column] ? line.cells[mapping[column]] ?? '' : '').trim()
  const frames = await loadFrames(tx, [...new Set(sheet.lines.flatMap(line => idOf.get(`item ${cell(line, 'item').toLowerCase()}`) ?? []))])
  const moves: DraftMove[] = []
  for (const [at, line] of sheet.lines.entries()) {
    if (watch && at % 200 === 0) await watch.report(Math.floor(at * 100 / sheet.lines.length))
    const [itemId, binId] = [idOf.get(`item ${cell(line, 'item').toLowerCase()}`), idOf.get(`bin ${cell(line, 'bin').toLowerCase()}`)]
    if (itemId === undefined) fault(line.line, 'item', cell(line, 'item'), `There is no item ${cell(line, 'item') || '(empty)'}.`)
    if (binId === undefined) fault(line.line, 'bin', cell(line, 'bin'), `There is no bin ${cell(line, 'bin') || '(empty)'}.`)
    if (itemId === undefined || binId === undefined) continue
    const traits = readTraits(cell(line, 'traits'))
    if (traits === null) { fault(line.line, 'traits', cell(line, 'traits'), 'Write traits as name = value, with semicolons between.'); continue }
    const read = Correction.omit({ key: true }).safeParse({
      itemId, binId, lot: cell(line, 'lot'), piece: cell(line, 'piece'), status: cell(line, 'status') || 'available', direction: 'more', quantity: cell(line, 'quantity'), unit: cell(line, 'unit') || frames.get(itemId)!.stockUnit,
      reason: 'opening stock', unitCost: cell(line, 'unit_cost'), expiresOn: cell(line, 'expires_on'), traits,
    })
    if (!read.success) { for (const issue of read.error.issues) { const column = FIELD_COLUMNS[String(issue.path[0])] ?? 'item'; fault(line.line, column, cell(line, column), issue.message) } continue }
    try {
      await requireTraits(tx, itemId, traits)
      moves.push((await correctionMove(tx, actor, read.data, '', frames)).move)
    }
    catch (error) {
      if (!(error instanceof Refusal)) throw error
      const told = Object.entries(error.fields ?? {})
      for (const [field, detail] of told.length > 0 ? told : [['itemId', error.detail]]) { const column = FIELD_COLUMNS[field!.split('.')[0]!] ?? 'item'; fault(line.line, column, cell(line, column), detail!) }
    }
  }
  if (sheet.lines.length === 0) fault(1, 'item', '', 'The file has no lines below its headings.')
  if (faults.length === 0) await post(tx, actor, { kind: 'opening stock', label: `Opening stock, ${label}`, reason: 'opening stock', document: { kind: 'opening file', id: batchId }, effectiveOn: actor.today, moves })
  return { rows: sheet.lines.length, made: faults.length > 0 ? 0 : moves.length, changed: 0, faults }
}

/** Takes a file of opening stock back, as long as nothing else has moved what it brought. */
export async function takeOpeningBack(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  const [posting] = await rows<{ id: number }>(tx, sql`select o.id from postings o where document_kind = 'opening file' and document_id = ${batchId} and reverses_id is null and not exists (select 1 from postings r where r.reverses_id = o.id)`)
  if (!posting) throw new Refusal('not-now', 'This opening stock was taken back already.')
  await reverse(tx, actor, posting.id)
}
