import { sql } from 'drizzle-orm'
import { printAmount } from '~~/core/units/quantity'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { loadMeasuredItem } from '../services/catalogue/measured-items'
import type { DraftMove } from './post'

/** Refuses a day that is closed, or has not come yet. */
export function requireOpenDay(day: string, closedThrough: string | null, today: string): void {
  const refuse = (detail: string): never => {
    throw new Refusal('invalid-input', detail, { effectiveOn: detail })
  }
  if (closedThrough !== null && day <= closedThrough) {
    refuse(`The books are closed through ${closedThrough}. Choose a later day, or have them opened again in Books.`)
  }
  if (day > today) {
    refuse('That day has not come yet. Record it when it has happened.')
  }
}

/**
 * Refuses what would have left less than nothing on a day since `day`, though there is enough today.
 *
 * Balances are walked back from now, move by move.
 */
export async function requireThereThen(tx: Tx, taken: readonly DraftMove[], day: string): Promise<void> {
  const byKey = new Map<string, { move: DraftMove; quantity: Ratio }>()
  for (const move of taken) {
    const key = [move.itemId, move.lotId, move.pieceId, move.from.placeId, move.from.status].join('|')
    byKey.set(key, { move, quantity: (byKey.get(key)?.quantity ?? ZERO).add(move.quantity) })
  }
  for (const { move, quantity } of byKey.values()) {
    const status = move.from.status ?? 'available'
    const later = await rows<{ day: string; change: string }>(
      tx,
      sql`
        select
          effective_on as day,
          (
            case when to_place_id = ${move.from.placeId}
              and coalesce(
                to_status, 'available'
              ) = ${status} then quantity else 0 end - case when from_place_id = ${move.from.placeId}
              and coalesce(from_status, 'available') = ${status} then quantity else 0 end
          )::text as change
        from moves
        where item_id = ${move.itemId}
          and lot_id is not distinct from ${move.lotId}::int
          and piece_id is not distinct from ${move.pieceId ?? null}::int
          and ${move.from.placeId} in (from_place_id, to_place_id)
          and effective_on > ${day}
        order by effective_on desc, posting_id desc, line desc`,
    )
    const [now] = await rows<{ onHand: string }>(
      tx,
      sql`
        select on_hand as "onHand"
        from balances
        where item_id = ${move.itemId}
          and place_id = ${move.from.placeId}
          and lot_id is not distinct from ${move.lotId}::int
          and piece_id is not distinct from ${move.pieceId ?? null}::int
          and status = ${status}`,
    )
    let there = ratio(now?.onHand ?? '0')
    let least = { there, day: '' }
    for (const change of later) {
      there = there.sub(ratio(change.change))
      if (there.compare(least.there) < 0) {
        least = { there, day: change.day }
      }
    }
    if (least.there.compare(quantity) >= 0) {
      continue
    }
    const item = await loadMeasuredItem(tx, move.itemId)
    const detail = `${item.code}: on ${day} only ${printAmount(least.there.compare(ZERO) < 0 ? ZERO : least.there, 6, item.writing)} ${item.symbol} could be taken from there, as what left since then needs the rest.`
    throw new Refusal('short', detail, { quantity: detail })
  }
}
