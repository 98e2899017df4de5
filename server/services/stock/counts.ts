import { sql, type SQL } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { lineValue } from '~~/core/costing'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf, groupsBelow } from '~~/server/database/sql'
import { countLines, stockCounts } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { AddCountLine, NewCount } from '~~/shared/stock/counts'
import { loadMeasuredItem, loadMeasuredItems } from '../catalogue/measured-items'
import { dueItems } from './counts-due'
import { requireWithinLimit } from '../../ledger/limits'
import { lotToTake, pieceToTake } from './lots'
import { externalPlace } from '../../ledger/external-places'
import { post, type DraftMove, type Posted } from '../../ledger/post'
import { lockAsSeen, requireStatus, saveDocument, lockDocument, nextNumber, noteChange } from '../../documents'

/**
 * Opens a stock count: a line for everything that the books say lies in its scope, and on request for bins where an
 * item of it once lay.
 */
export async function createCount(
  tx: Tx,
  actor: Actor,
  edit: Omit<NewCount, 'key'>,
): Promise<{ id: number; number: string; lines: number }> {
  const due = edit.kind === 'due' ? (await dueItems(tx, actor.today)).map((item) => item.id) : []
  if (edit.kind === 'due' && due.length === 0) {
    throw new Refusal('not-now', 'Nothing is due to be counted. Give groups a count interval, or count by place.', {
      kind: 'Nothing is due to be counted.',
    })
  }
  const within: Readonly<Record<NewCount['kind'], SQL>> = {
    everything: sql`true`,
    places: edit.binIds.length > 0 ? anyOf(sql`b.place_id`, edit.binIds) : sql`false`,
    groups:
      edit.groupIds.length > 0
        ? sql`
          i.group_id in ${groupsBelow(anyOf(sql`id`, edit.groupIds))}`
        : sql`false`,
    items: edit.itemIds.length > 0 ? anyOf(sql`b.item_id`, edit.itemIds) : sql`false`,
    due: due.length > 0 ? anyOf(sql`b.item_id`, due) : sql`false`,
  }
  const number = await nextNumber(tx, 'SC')
  const recountOver = edit.recountOver === '' ? null : lineValue(ratio(edit.recountOver), ratio(1))
  const [made] = await tx
    .insert(stockCounts)
    .values({
      number,
      name: edit.name,
      blind: edit.blind,
      recountOver,
      openedOn: actor.today,
      userId: actor.userId,
      scope: {
        kind: edit.kind,
        siteId: edit.siteId,
        binIds: edit.binIds,
        groupIds: edit.groupIds,
        itemIds: edit.kind === 'due' ? due : edit.itemIds,
        withNone: edit.withNone,
      },
    })
    .returning()
  const [counted] = await rows<{ lines: number }>(
    tx,
    sql`
      with made as (
        insert into count_lines (count_id, item_id, place_id, lot_id, piece_id, status)
        select ${made!.id}, b.item_id, b.place_id, b.lot_id, b.piece_id, b.status
        from balances b
        join items i on i.id = b.item_id
        join places p on p.id = b.place_id and p.kind = 'bin'
        where (b.on_hand > 0 ${edit.withNone ? sql`or (b.lot_id is null and b.piece_id is null)` : sql``})
          and (${edit.siteId}::int is null or p.site_id = ${edit.siteId})
          and ${within[edit.kind]}
        order by p.site_id, p.pick_order, p.code, i.code, b.lot_id, b.piece_id
        returning 1
      )
      select count(*)::int as lines
      from made`,
  )
  if (counted!.lines === 0) {
    throw new Refusal('not-now', 'Nothing lies there by the books. Choose other places, or include what has none.', {
      kind: 'Nothing lies there by the books.',
    })
  }
  await noteChange(tx, actor, { kind: 'stock count', id: made!.id }, null, { number, version: 1 })
  return { id: made!.id, number, lines: counted!.lines }
}

/** Something found that is not on the sheet. */
export async function addCountLine(tx: Tx, actor: Actor, id: number, edit: AddCountLine): Promise<{ lineId: number }> {
  requireStatus(await lockDocument(tx, 'stock count', id), ['open'])
  const item = await loadMeasuredItem(tx, edit.itemId)
  const piece = await pieceToTake(tx, item, edit.piece, 'piece')
  const lotId = piece ? piece.lotId : await lotToTake(tx, item, edit.lot, 'lot')
  const [made] = await tx
    .insert(countLines)
    .values({ countId: id, itemId: edit.itemId, placeId: edit.binId, lotId, pieceId: piece?.id ?? null })
    .onConflictDoNothing()
    .returning({ id: countLines.id })
  if (!made) {
    throw new Refusal('taken', `${item.code} is on the sheet there already.`, {
      itemId: `${item.code} is on the sheet there already.`,
    })
  }
  return { lineId: made.id }
}

/** Records all differences of a count as one act; lines that nobody counted stop it, or stay as they are. */
export async function approveCount(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; uncounted: 'refuse' | 'leave' },
): Promise<{ postingId: number | null; differences: number; value: string }> {
  const count = await lockAsSeen(tx, 'stock count', id, edit.version, ['open'])
  const lines = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    status: string
    booked: string
    counted: string | null
  }>(
    tx,
    sql`
      select
        id, item_id as "itemId", place_id as "placeId", lot_id as "lotId", piece_id as "pieceId", status,
        booked::text, counted::text
      from count_lines
      where count_id = ${id}
      order by item_id, place_id, lot_id, piece_id`,
  )
  const left = lines.filter((line) => line.counted === null).length
  if (left > 0 && edit.uncounted === 'refuse') {
    throw new Refusal(
      'not-now',
      `${left} of ${lines.length} lines are not counted yet. Count them, or say that they stay as the books have them.`,
    )
  }
  if (left === lines.length) {
    throw new Refusal('not-now', 'Nothing is counted yet.')
  }
  const items = await loadMeasuredItems(tx, [...new Set(lines.map((line) => line.itemId))])
  const gone = await externalPlace(tx, 'correction')
  const moves = lines.flatMap((line): DraftMove[] => {
    if (line.counted === null) {
      return []
    }
    const difference = ratio(line.counted).sub(ratio(line.booked))
    if (difference.equals(ZERO)) {
      return []
    }
    const here = { placeId: line.placeId, status: line.status as 'available' }
    const quantity = difference.abs()
    const more = difference.compare(ZERO) > 0
    return [
      {
        itemId: line.itemId,
        lotId: line.lotId,
        pieceId: line.pieceId,
        quantity,
        from: more ? gone : here,
        to: more ? here : gone,
        entered: toText(quantity),
        unit: items.get(line.itemId)!.stockUnit,
        residue: ZERO,
        valuation: { kind: 'method' },
        lineId: line.id,
      },
    ]
  })
  const posted: Posted | null =
    moves.length === 0
      ? null
      : await post(tx, actor, {
          kind: 'stock count',
          label: `Stock count ${count.number}`,
          reason: 'count difference',
          document: { kind: 'stock count', id },
          effectiveOn: actor.today,
          moves,
        })
  const value = (posted?.values ?? []).reduce((sum, value) => sum + value, 0n)
  if (posted) {
    await requireWithinLimit(tx, actor, value)
  }
  await saveDocument(tx, actor, 'stock count', count, {
    set: {
      status: 'recorded',
      approvedBy: actor.userId,
      approvedOn: actor.today,
      postingId: posted?.postingId ?? null,
    },
  })
  for (const [index, move] of moves.entries()) {
    await rows(
      tx,
      sql`
        update count_lines
        set worth = ${(move.to === gone ? -posted!.values[index]! : posted!.values[index]!).toString()}::bigint
        where id = ${move.lineId}`,
    )
  }
  return { postingId: posted?.postingId ?? null, differences: moves.length, value: value.toString() }
}

export async function cancelCount(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const count = await lockAsSeen(tx, 'stock count', id, version, ['open'])
  await saveDocument(tx, actor, 'stock count', count, { set: { status: 'cancelled' } })
  return { id }
}
