import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { Correction, readTraits } from '~~/shared/stock/requests'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import type { Sheet } from '../catalogue/tables/read-file'
import type { Taken } from '../catalogue/tables/take-in'
import { correctionMove } from './correct'
import { requireTraits } from './pieces'
import { post, type DraftMove } from '../../ledger/post'
import { reverse } from '../../ledger/reverse'

const FIELD_COLUMNS: Readonly<Record<string, string>> = {
  itemId: 'item',
  binId: 'bin',
  lot: 'lot',
  piece: 'piece',
  quantity: 'quantity',
  unit: 'unit',
  unitCost: 'unit_cost',
  expiresOn: 'expires_on',
  effectiveOn: 'on',
  status: 'status',
  traits: 'traits',
}

type Line = Sheet['lines'][number]

/**
 * Takes a file of opening stock in against the opening account, an act for each of its days, a line a layer in the
 * order in which they came in: all of its lines, or none and every fault. A line without a day is of today.
 */
export async function takeOpening(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { batchId, label, watch }: OwnHow,
): Promise<Taken> {
  const { sheet, faults } = file
  requireFor(actor, 'stock', 'Files of opening stock')
  if (faults.length > 0) {
    return file.answer(0)
  }
  const ids = await loadIds(tx)
  const items = await loadMeasuredItems(tx, [
    ...new Set(sheet.lines.flatMap((line) => ids.get(`item ${file.cell(line, 'item').toLowerCase()}`) ?? [])),
  ])
  const days = new Map<string, DraftMove[]>()
  const own = await openDays(tx, actor)
  for (const [index, line] of sheet.lines.entries()) {
    if (watch && index % 200 === 0) {
      await watch.report(Math.floor((index * 100) / sheet.lines.length))
    }
    const read = readLine(file, ids, items, line)
    if (read && isOpen(file, line, read, own)) {
      const day = read.effectiveOn ?? actor.today
      days.set(day, [...(days.get(day) ?? []), ...(await openingMove(tx, actor, { file, items, line }, read))])
    }
  }
  if (faults.length === 0) {
    for (const day of [...days.keys()].sort()) {
      await post(tx, actor, {
        kind: 'opening stock',
        label: `Opening stock, ${label}`,
        reason: 'opening stock',
        document: { kind: 'opening file', id: batchId ?? 0 },
        effectiveOn: day,
        moves: days.get(day)!,
      })
    }
  }
  return file.answer([...days.values()].reduce((sum, moves) => sum + moves.length, 0))
}

/** The days that may still be entered: after those that are closed, up to today. */
async function openDays(tx: Tx, actor: Actor): Promise<{ readonly closed: string | null; readonly last: string }> {
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  return { closed: own!.closed, last: actor.today }
}

/** Whether the day of a line may be entered; told where it may not. */
function isOpen(
  file: FileReader,
  line: Line,
  { effectiveOn }: OpeningLine,
  { closed, last }: { readonly closed: string | null; readonly last: string },
): boolean {
  if (effectiveOn === null) {
    return true
  }
  if (effectiveOn > last) {
    file.fault(line, 'on', `${effectiveOn} is still to come.`)
  } else if (closed !== null && effectiveOn <= closed) {
    file.fault(line, 'on', `The books are closed through ${closed}. Give a later day.`)
  } else {
    return true
  }
  return false
}

/** Items and bins by kind and code: `item nb-a5`, `bin shelf-a`. */
async function loadIds(tx: Tx): Promise<ReadonlyMap<string, number>> {
  const names = await rows<{ kind: string; code: string; id: number }>(
    tx,
    sql`select 'item' as kind, code, id from items union all select 'bin', code, id from places where kind = 'bin'`,
  )
  return new Map(names.map((name) => [`${name.kind} ${name.code.toLowerCase()}`, name.id]))
}

type OpeningLine = Omit<z.output<typeof Correction>, 'key'>

/** What a line says; null where it cannot be read, with its faults told. */
function readLine(
  file: FileReader,
  ids: ReadonlyMap<string, number>,
  items: ReadonlyMap<number, MeasuredItem>,
  line: Line,
): OpeningLine | null {
  const cell = (column: string): string => file.cell(line, column)
  const [itemId, binId] = (['item', 'bin'] as const).map((kind) => {
    const id = ids.get(`${kind} ${cell(kind).toLowerCase()}`)
    if (id === undefined) {
      file.fault(line, kind, `There is no ${kind} ${cell(kind) || '(empty)'}.`)
    }
    return id
  })
  if (itemId === undefined || binId === undefined) {
    return null
  }
  const traits = readTraits(cell('traits'))
  if (traits === null) {
    file.fault(line, 'traits', 'Write traits as name = value, with semicolons between.')
    return null
  }
  const read = Correction.omit({ key: true }).safeParse({
    itemId,
    binId,
    lot: cell('lot'),
    piece: cell('piece'),
    status: cell('status') || 'available',
    direction: 'more',
    quantity: cell('quantity'),
    unit: cell('unit') || items.get(itemId)!.stockUnit,
    reason: 'opening stock',
    unitCost: cell('unit_cost'),
    expiresOn: cell('expires_on'),
    effectiveOn: cell('on'),
    traits,
  })
  for (const issue of read.error?.issues ?? []) {
    file.fault(line, FIELD_COLUMNS[String(issue.path[0])] ?? 'item', issue.message)
  }
  return read.success ? read.data : null
}

/** The move of a line, or none and its faults. */
async function openingMove(
  tx: Tx,
  actor: Actor,
  { file, items, line }: { file: FileReader; items: ReadonlyMap<number, MeasuredItem>; line: Line },
  read: OpeningLine,
): Promise<DraftMove[]> {
  try {
    await requireTraits(tx, read.itemId, read.traits)
    return [(await correctionMove(tx, actor, read, '', items)).move]
  } catch (error) {
    if (!(error instanceof Refusal)) {
      throw error
    }
    const details = Object.entries(error.fields ?? {})
    for (const [field, detail] of details.length > 0 ? details : [['itemId', error.detail]]) {
      file.fault(line, FIELD_COLUMNS[field!.split('.')[0]!] ?? 'item', detail!)
    }
    return []
  }
}

/** Takes a file of opening stock back, as long as nothing else has moved what it brought. */
export async function takeOpeningBack(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  const postings = await rows<{ id: number }>(
    tx,
    sql`
      select o.id
      from postings o
      where document_kind = 'opening file'
        and document_id = ${batchId}
        and ${isLive('o')}
      order by o.effective_on desc, o.id desc`,
  )
  if (postings.length === 0) {
    throw new Refusal('not-now', 'This opening stock was taken back already.')
  }
  for (const posting of postings) {
    await reverse(tx, actor, posting.id)
  }
}
