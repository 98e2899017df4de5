import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { Correction, readTraits } from '~~/shared/stock/requests'
import { loadMeasuredItems } from '../catalogue/measured-items'
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
  status: 'status',
  traits: 'traits',
}

/** Takes a file of opening stock in as one act against the opening account, a line a layer in the order in which they came in: all of its lines, or none and every fault. */
export async function takeOpening(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { batchId, label, watch }: OwnHow,
): Promise<Taken> {
  const { sheet, faults } = file
  const cell = (line: Sheet['lines'][number], column: string): string => file.cell(line, column)
  requireFor(actor, 'stock', 'Files of opening stock')
  if (faults.length > 0) {
    return file.answer(0)
  }
  const names = await rows<{ kind: string; code: string; id: number }>(
    tx,
    sql`select 'item' as kind, code, id from items union all select 'bin', code, id from places where kind = 'bin'`,
  )
  const idOf = new Map(names.map((name) => [`${name.kind} ${name.code.toLowerCase()}`, name.id]))
  const items = await loadMeasuredItems(tx, [
    ...new Set(sheet.lines.flatMap((line) => idOf.get(`item ${cell(line, 'item').toLowerCase()}`) ?? [])),
  ])
  const moves: DraftMove[] = []
  for (const [index, line] of sheet.lines.entries()) {
    if (watch && index % 200 === 0) {
      await watch.report(Math.floor((index * 100) / sheet.lines.length))
    }
    const [itemId, binId] = [
      idOf.get(`item ${cell(line, 'item').toLowerCase()}`),
      idOf.get(`bin ${cell(line, 'bin').toLowerCase()}`),
    ]
    if (itemId === undefined) {
      file.fault(line, 'item', `There is no item ${cell(line, 'item') || '(empty)'}.`)
    }
    if (binId === undefined) {
      file.fault(line, 'bin', `There is no bin ${cell(line, 'bin') || '(empty)'}.`)
    }
    if (itemId === undefined || binId === undefined) {
      continue
    }
    const traits = readTraits(cell(line, 'traits'))
    if (traits === null) {
      file.fault(line, 'traits', 'Write traits as name = value, with semicolons between.')
      continue
    }
    const read = Correction.omit({ key: true }).safeParse({
      itemId,
      binId,
      lot: cell(line, 'lot'),
      piece: cell(line, 'piece'),
      status: cell(line, 'status') || 'available',
      direction: 'more',
      quantity: cell(line, 'quantity'),
      unit: cell(line, 'unit') || items.get(itemId)!.stockUnit,
      reason: 'opening stock',
      unitCost: cell(line, 'unit_cost'),
      expiresOn: cell(line, 'expires_on'),
      traits,
    })
    if (!read.success) {
      for (const issue of read.error.issues) {
        const column = FIELD_COLUMNS[String(issue.path[0])] ?? 'item'
        file.fault(line, column, issue.message)
      }
      continue
    }
    try {
      await requireTraits(tx, itemId, traits)
      moves.push((await correctionMove(tx, actor, read.data, '', items)).move)
    } catch (error) {
      if (!(error instanceof Refusal)) {
        throw error
      }
      const details = Object.entries(error.fields ?? {})
      for (const [field, detail] of details.length > 0 ? details : [['itemId', error.detail]]) {
        const column = FIELD_COLUMNS[field!.split('.')[0]!] ?? 'item'
        file.fault(line, column, detail!)
      }
    }
  }
  if (faults.length === 0) {
    await post(tx, actor, {
      kind: 'opening stock',
      label: `Opening stock, ${label}`,
      reason: 'opening stock',
      document: { kind: 'opening file', id: batchId ?? 0 },
      effectiveOn: actor.today,
      moves,
    })
  }
  return file.answer(moves.length)
}

/** Takes a file of opening stock back, as long as nothing else has moved what it brought. */
export async function takeOpeningBack(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  const [posting] = await rows<{ id: number }>(
    tx,
    sql`
      select o.id
      from postings o
      where document_kind = 'opening file'
        and document_id = ${batchId}
        and ${isLive('o')}`,
  )
  if (!posting) {
    throw new Refusal('not-now', 'This opening stock was taken back already.')
  }
  await reverse(tx, actor, posting.id)
}
