import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { INSPECTION_DECISIONS } from '~~/shared/inspection/words'
import { InspectionPlanEdit } from '~~/shared/inspection/requests'
import { readTraits } from '~~/shared/stock/requests'
import { exactIfPlain } from '../catalogue/measured-items'
import { decide } from '../inspection/decide'
import { createPlan } from '../inspection/plans'
import { recordResults } from '../inspection/record-results'
import { receive } from '../purchasing/goods-in'
import type { Row } from './import-stock'

interface Find {
  readonly item: (code: string | undefined) => Promise<number>
  readonly bin: (code: string | undefined) => Promise<number>
  readonly group: (code: string | undefined) => Promise<number>
}

/** An inspection plan with what is looked at, line by line. Errors: `invalid-input`. */
export async function importInspectionPlan(
  tx: Tx,
  actor: Actor,
  code: string,
  lines: readonly Row[],
  find: Find,
): Promise<void> {
  const head = lines[0]!
  const read = InspectionPlanEdit.safeParse({
    code,
    name: head.name,
    itemId: head.item ? await find.item(head.item) : null,
    groupId: head.group ? await find.group(head.group) : null,
    rule: head.sample === 'all' ? { kind: 'all' } : { kind: 'number', number: Number(head.sample) },
    characteristics: lines.map((line) => ({
      name: line.looked_at,
      kind: line.recorded_as,
      unit: line.unit,
      low: line.at_least,
      high: line.at_most,
    })),
  })
  if (!read.success) {
    throw new Refusal('invalid-input', read.error.issues[0]!.message)
  }
  await createPlan(tx, actor, read.data)
}

/**
 * What came of an order on a day: a lot of an item, whole or as the pieces that it has (measures with semicolons
 * between).
 */
export async function importReceipt(tx: Tx, actor: Actor, row: Row, find: Find): Promise<void> {
  const [line] = await rows<{ orderId: number; version: number; lineId: number; unit: string }>(
    tx,
    sql`
      select o.id as "orderId", o.version, l.id as "lineId", l.unit
      from purchase_orders o
      join purchase_lines l on l.order_id = o.id
      where o.number = ${row.order ?? ''} and l.item_id = ${await find.item(row.item)}`,
  )
  if (!line) {
    throw new Refusal('invalid-input', `There is no order “${row.order}” of ${row.item}.`)
  }
  const traits = readTraits(row.traits ?? '') ?? {}
  const pieces = (row.pieces ?? '').split(';').filter((measure) => measure.trim() !== '')
  await receive(tx, { ...actor, today: row.on! }, line.orderId, {
    version: line.version,
    packingList: row.packing_list ?? '',
    lines: [
      {
        lineId: line.lineId,
        quantity: exactIfPlain(row.quantity!) as never,
        unit: line.unit,
        binId: await find.bin(row.bin),
        lot: row.lot ?? '',
        expiresOn: row.expires_on || null,
        traits,
        pieces: pieces.map((measure) => ({
          quantity: exactIfPlain(measure.trim()) as never,
          unit: line.unit,
          label: '',
          lot: row.lot ?? '',
          traits,
        })),
      },
    ],
  })
}

/**
 * What was found of a lot that came in: a line for each of its sample, with semicolons between what was looked at; and
 * what was decided, where it was.
 */
export async function importInspection(
  tx: Tx,
  actor: Actor,
  lot: string,
  lines: readonly Row[],
  find: Find,
): Promise<void> {
  const head = lines[0]!
  const [open] = await rows<{ id: number; version: number }>(
    tx,
    sql`
      select n.id, n.version
      from inspections n
      join inspection_goods g on g.inspection_id = n.id
      join lots l on l.id = g.lot_id and l.number = ${lot}
      where n.item_id = ${await find.item(head.item)} and n.status = 'open'`,
  )
  if (!open) {
    throw new Refusal('invalid-input', `Nothing of lot “${lot}” of ${head.item} waits for inspection.`)
  }
  const then = { ...actor, today: head.on || actor.today }
  const { version } = await recordResults(tx, then, open.id, {
    version: open.version,
    samples: lines.map((line) => (line.found ?? '').split(';').map((value) => value.trim())),
    instrument: head.instrument ?? '',
    pictureId: null,
  })
  if (head.decision) {
    const decision = INSPECTION_DECISIONS.find((known) => known === head.decision)
    if (!decision) {
      throw new Refusal('invalid-input', `“${head.decision}” is no decision: ${INSPECTION_DECISIONS.join(', ')}.`)
    }
    await decide(tx, then, open.id, {
      version,
      decision,
      reason: head.reason ?? '',
      pieceIds: await piecesLabelled(tx, head.accepted_pieces ?? ''),
    })
  }
}

async function piecesLabelled(tx: Tx, labels: string): Promise<number[]> {
  const found = await rows<{ id: number }>(
    tx,
    sql`select id from pieces where label = any(string_to_array(replace(${labels}, ' ', ''), ';'))`,
  )
  return found.map(({ id }) => id)
}
