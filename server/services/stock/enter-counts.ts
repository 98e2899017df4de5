import { eq, sql } from 'drizzle-orm'
import { ratio, ZERO } from '~~/core/units/exact'
import { lineValue } from '~~/core/costing'
import { givenText, type Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf, minorOf } from '~~/server/database/sql'
import { countLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { EnterCounts } from '~~/shared/stock/counts'
import { asNumeric, loadMeasuredItems, readQuantity } from '../catalogue/measured-items'
import { lockDocument, requireStatus } from '../../documents'

/**
 * Notes what was counted.
 *
 * The books are read in the same moment, so that goods that move before or after the counting of a line make no
 * difference. A difference that is worth more than the count's threshold is not taken at once: the line is to be
 * counted again.
 */
export async function enterCounts(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Given<EnterCounts>,
): Promise<{ entered: number; again: number[] }> {
  const count = await lockDocument(tx, 'stock count', id)
  requireStatus(count, ['open'])
  const lines = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    status: string
    first: string | null
    counted: string | null
    recount: boolean
  }>(
    tx,
    sql`
      select
        id, item_id as "itemId", place_id as "placeId", lot_id as "lotId", piece_id as "pieceId", status,
        first::text, counted::text, recount
      from count_lines
      where count_id = ${id}
        and ${anyOf(
          sql`id`,
          edit.lines.map((line) => line.lineId),
        )}
      order by id
      for update`,
  )
  const items = await loadMeasuredItems(tx, [...new Set(lines.map((line) => line.itemId))])
  const again: number[] = []
  for (const [index, entry] of edit.lines.entries()) {
    const line = lines.find((line) => line.id === entry.lineId)
    if (!line) {
      throw new Refusal('not-found', 'That line is not on this sheet. Reload the page.')
    }
    if (givenText(entry.quantity) === '') {
      await tx
        .update(countLines)
        .set({
          counted: null,
          booked: null,
          worth: null,
          entered: '',
          first: null,
          recount: false,
          countedAt: null,
          countedBy: null,
        })
        .where(eq(countLines.id, line.id))
      continue
    }
    const item = items.get(line.itemId)!
    const counted = /^0+([.,]0*)?$/.test(givenText(entry.quantity))
      ? ZERO
      : readQuantity(item, entry.quantity, entry.unit, `lines.${index}.quantity`).quantity
    const [there] = await rows<{ booked: string; worth: string | null }>(
      tx,
      sql`
        select
          coalesce(
            (
              select on_hand
              from balances b
              where b.item_id = ${line.itemId}
                and b.place_id = ${line.placeId}
                and b.lot_id is not distinct from ${line.lotId}::int
                and b.piece_id is not distinct from ${line.pieceId}::int
                and b.status = ${line.status}
            ),
            0
          )::text as booked,
          (
            select coalesce((h.value / nullif(h.quantity, 0)), ${minorOf(sql`i.standard_cost`)}, 0)::text
            from items i
            left join places p on p.id = ${line.placeId}
            left join holdings h on h.item_id = i.id and h.site_id = p.site_id and h.line_id = 0
            where i.id = ${line.itemId}
          ) as worth`,
    )
    const booked = ratio(there!.booked)
    const worth = lineValue(counted.sub(booked), ratio(there!.worth ?? '0'), 0)
    const toRepeat = count.recountOver !== null && !line.recount && (worth < 0n ? -worth : worth) > count.recountOver
    if (toRepeat) {
      again.push(line.id)
    }
    await tx
      .update(countLines)
      .set({
        booked: asNumeric(booked),
        counted: toRepeat ? null : asNumeric(counted),
        entered: toRepeat ? '' : givenText(entry.quantity),
        unit: entry.unit,
        worth,
        note: entry.note,
        countedBy: actor.userId,
        countedAt: sql`now()`,
        first: toRepeat ? asNumeric(counted) : line.first,
        recount: line.recount || toRepeat,
      })
      .where(eq(countLines.id, line.id))
  }
  return { entered: edit.lines.length, again }
}
