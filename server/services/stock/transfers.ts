import { eq, sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { transferLines, transfers } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type {
  LoseTransfer,
  NewTransfer,
  ReceiveTransfer,
  ShipTransfer,
  TransferAtOnce,
} from '~~/shared/stock/transfers'
import {
  asNumeric,
  loadMeasuredItems,
  readQuantity,
  requireUsable,
  type MeasuredItem,
} from '../catalogue/measured-items'
import { requireWithinLimit } from '../../ledger/limits'
import { bin, externalPlace } from '../../ledger/external-places'
import { post, type DraftMove, type Posted } from '../../ledger/post'
import { sourcesOf, offTheWay, onTheWay } from './on-the-way'
import { lineOf, siteName, type Transfer, type Line } from './transfer-lines'
import { lockAsSeen, saveDocument, nextNumber, noteChange } from '../../documents'

/**
 * Writes down what is to go from one site to another; nothing moves yet. The day of arrival comes from the usual route
 * where it is not given.
 */
export async function createTransfer(
  tx: Tx,
  actor: Actor,
  edit: Given<Omit<NewTransfer, 'key'>>,
): Promise<{ id: number; number: string }> {
  if (edit.fromSiteId === edit.toSiteId) {
    refuseField('toSiteId', 'Choose another site than the one that the goods are at.')
  }
  const [route] = await rows<{ days: number }>(
    tx,
    sql`
      select days
      from routes
      where from_site_id = ${edit.fromSiteId} and to_site_id = ${edit.toSiteId} and not retired`,
  )
  const dueOn = edit.dueOn ?? toIso(toDay(edit.leavesOn) + (route?.days ?? 0))
  if (dueOn < edit.leavesOn) {
    refuseField('dueOn', 'It would arrive before it leaves.')
  }
  const items = await loadMeasuredItems(
    tx,
    edit.lines.map((line) => line.itemId),
  )
  const number = await nextNumber(tx, 'TR')
  const [made] = await tx
    .insert(transfers)
    .values({
      number,
      fromSiteId: edit.fromSiteId,
      toSiteId: edit.toSiteId,
      leavesOn: edit.leavesOn,
      dueOn,
      note: edit.note,
      userId: actor.userId,
    })
    .returning()
  for (const [index, line] of edit.lines.entries()) {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'There is no such item.', {
        [`lines.${index}.itemId`]: 'There is no such item.',
      })
    }
    if (item.kind === 'service') {
      refuseField(`lines.${index}.itemId`, `${item.code} is a service; nothing of it lies anywhere.`)
    }
    requireUsable(item, `lines.${index}.itemId`, 'any')
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`, 'required')
    await tx.insert(transferLines).values({
      transferId: made!.id,
      line: index + 1,
      itemId: line.itemId,
      entered: read.entered,
      unit: read.unit,
      quantity: asNumeric(read.quantity),
    })
  }
  await noteChange(tx, actor, { kind: 'transfer', id: made!.id }, null, { number, version: 1 })
  return { id: made!.id, number }
}

/** Goods leave the site, in full or in part: from the bin, lot or piece that is named, else in the order of picking. */
export async function shipTransfer(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Given<Omit<ShipTransfer, 'key'>>,
): Promise<Posted> {
  const { transfer, lines, items } = await lockTransfer(tx, id, edit.version)
  const transit = await externalPlace(tx, 'transit')
  const moves: DraftMove[] = []
  const asked = new Map<number, Ratio>()
  for (const [index, part] of edit.lines.entries()) {
    const pathOf = (field: string): string => `lines.${index}.${field}`
    const line = lineOf(lines, part.lineId)
    const item = items.get(line.itemId)!
    const read = readQuantity(item, part.quantity, part.unit, pathOf('quantity'))
    const shipped = (asked.get(line.id) ?? ratio(line.shipped)).add(read.quantity)
    asked.set(line.id, shipped)
    for (const source of await sourcesOf(
      tx,
      { transfer, today: actor.today },
      part,
      { item, quantity: read.quantity },
      pathOf,
    )) {
      moves.push({
        ...source,
        itemId: item.id,
        to: transit,
        entered: toText(source.quantity),
        unit: item.stockUnit,
        residue: ZERO,
        valuation: { kind: 'method' },
        lineId: line.id,
      })
    }
  }
  const posted = await post(tx, actor, {
    kind: 'transfer out',
    label: `${transfer.number} leaves ${await siteName(tx, transfer.fromSiteId)}`,
    document: { kind: 'transfer', id },
    effectiveOn: actor.today,
    moves,
  })
  for (const [lineId, shipped] of asked) {
    await rows(tx, sql`update transfer_lines set shipped = ${asNumeric(shipped)}::numeric where id = ${lineId}`)
  }
  await settleTransfer(tx, actor, transfer, { shipped: posted.postingId })
  return posted
}

/** Goods arrive, in full or in part; what has not arrived stays on the way. */
export async function receiveTransfer(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Given<Omit<ReceiveTransfer, 'key'>>,
): Promise<Posted> {
  const { transfer, lines, items } = await lockTransfer(tx, id, edit.version)
  const moves: DraftMove[] = []
  for (const [index, part] of edit.lines.entries()) {
    const target = await bin(tx, part.binId, `lines.${index}.binId`, 'receive')
    if (target.siteId !== transfer.toSiteId) {
      refuseField(`lines.${index}.binId`, `That bin is at another site than ${await siteName(tx, transfer.toSiteId)}.`)
    }
    moves.push(await offTheWay(tx, { id, lines, items }, part, `lines.${index}.`, target))
  }
  const posted = await post(tx, actor, {
    kind: 'transfer in',
    label: `${transfer.number} arrives at ${await siteName(tx, transfer.toSiteId)}`,
    document: { kind: 'transfer', id },
    effectiveOn: actor.today,
    moves,
  })
  for (const move of moves) {
    await rows(
      tx,
      sql`
        update transfer_lines
        set received = received + ${asNumeric(move.quantity)}::numeric
        where id = ${move.lineId}`,
    )
  }
  await settleTransfer(tx, actor, transfer, { received: posted.postingId })
  return posted
}

/** What left and never came is corrected, at its cost. */
export async function loseTransfer(tx: Tx, actor: Actor, id: number, edit: Omit<LoseTransfer, 'key'>): Promise<Posted> {
  const { transfer, lines, items } = await lockTransfer(tx, id, edit.version)
  const gone = await externalPlace(tx, 'correction')
  const moves: DraftMove[] = []
  for (const [index, part] of edit.lines.entries()) {
    moves.push(await offTheWay(tx, { id, lines, items }, part, `lines.${index}.`, gone))
  }
  const posted = await post(tx, actor, {
    kind: 'correction',
    label: `Missing from ${transfer.number}`,
    reason: edit.reason,
    document: { kind: 'transfer', id },
    effectiveOn: actor.today,
    moves,
  })
  await requireWithinLimit(
    tx,
    actor,
    posted.values.reduce((sum, value) => sum + value, 0n),
  )
  for (const move of moves) {
    await rows(
      tx,
      sql`update transfer_lines set lost = lost + ${asNumeric(move.quantity)}::numeric where id = ${move.lineId}`,
    )
  }
  await settleTransfer(tx, actor, transfer, { lost: posted.postingId })
  return posted
}

/** Goods that are carried over in one go: out of the site and into the bin in one act of the same moment. */
export async function transferAtOnce(
  tx: Tx,
  actor: Actor,
  edit: Omit<TransferAtOnce, 'key'>,
): Promise<{ id: number; number: string; postingId: number }> {
  const made = await createTransfer(tx, actor, edit)
  const lines = await tx
    .select()
    .from(transferLines)
    .where(eq(transferLines.transferId, made.id))
    .orderBy(transferLines.line)
  await shipTransfer(tx, actor, made.id, {
    version: 1,
    lines: lines.map((line) => ({
      lineId: line.id,
      quantity: ratio(line.entered),
      unit: line.unit,
      binId: null,
      lot: '',
      piece: '',
    })),
  })
  const transit = await onTheWay(tx, made.id)
  const bins = new Map(lines.map((line, index) => [line.id, edit.lines[index]!.toBinId]))
  const posted = await receiveTransfer(tx, actor, made.id, {
    version: 2,
    lines: transit.map((w) => ({
      lineId: w.lineId,
      lotId: w.lotId,
      pieceId: w.pieceId,
      quantity: ratio(w.quantity),
      unit: w.stockUnit,
      binId: bins.get(w.lineId)!,
    })),
  })
  return { ...made, postingId: posted.postingId }
}

/** Ends a transfer of which nothing is on the way: what has not left stays where it is. */
export async function endTransfer(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const { transfer } = await lockTransfer(tx, id, version)
  if ((await onTheWay(tx, id)).length > 0) {
    throw new Refusal('not-now', `Goods of ${transfer.number} are on the way. Receive them, or record them as missing.`)
  }
  const [moved] = await rows<{ moved: boolean }>(
    tx,
    sql`select bool_or(shipped > 0) as moved from transfer_lines where transfer_id = ${id}`,
  )
  const status = moved!.moved ? 'done' : 'cancelled'
  await saveDocument(tx, actor, 'transfer', transfer, { set: { status } })
  return { id }
}

async function lockTransfer(
  tx: Tx,
  id: number,
  version: number,
): Promise<{ transfer: Transfer; lines: Line[]; items: Map<number, MeasuredItem> }> {
  const transfer = await lockAsSeen(tx, 'transfer', id, version, ['open'])
  const lines = await tx
    .select()
    .from(transferLines)
    .where(eq(transferLines.transferId, id))
    .orderBy(transferLines.line)
  return {
    transfer,
    lines,
    items: await loadMeasuredItems(
      tx,
      lines.map((line) => line.itemId),
    ),
  }
}

async function settleTransfer(tx: Tx, actor: Actor, transfer: Transfer, what: object): Promise<void> {
  const [lines] = await rows<{ isOpen: boolean }>(
    tx,
    sql`
      select exists (
        select 1
        from transfer_lines l
        where l.transfer_id = ${transfer.id} and (l.received + l.lost < l.shipped or l.shipped < l.quantity)
      ) as "isOpen"`,
  )
  await saveDocument(tx, actor, 'transfer', transfer, {
    set: { status: lines!.isOpen ? 'open' : 'done' },
    after: what,
  })
}
