import { sql } from 'drizzle-orm'
import { pickOrder } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { asNumeric, type MeasuredItem } from '../catalogue/measured-items'
import type { StockedPickable } from '../stock/pickable'
import type { DraftMove, End } from '../../ledger/post'

/** So much of a component for a line of a build, from chosen goods or from wherever the picking order says; `field` is where it was typed. */
export interface Wanted {
  readonly lineId: number
  readonly item: MeasuredItem
  readonly quantity: Ratio
  readonly balanceId: number | null
  readonly entered: string
  readonly unit: string
  readonly residue: Ratio
  readonly field: string
}

interface SetAside {
  readonly id: number
  readonly lineId: number
  readonly balanceId: number
  quantity: Ratio
}

/**
 * The moves that bring components to the workshop: what is set aside for the line first, then what is free, in picking order.
 *
 * What is set aside and taken is no longer set aside. Refuses all where anything is missing, naming each.
 */
export async function issueComponents(
  tx: Tx,
  buildId: number,
  wanted: readonly Wanted[],
  stock: ReadonlyMap<number, readonly StockedPickable[]>,
  workshop: End,
  today: string,
): Promise<DraftMove[]> {
  const own = (
    await rows<{ id: number; lineId: number; balanceId: number; quantity: string }>(
      tx,
      sql`
        select a.id, a.build_line_id as "lineId", b.id as "balanceId", a.quantity
        from allocations a
        join build_lines l on l.id = a.build_line_id
        join balances b on b.item_id = a.item_id
          and b.place_id = a.place_id
          and b.lot_id is not distinct from a.lot_id
          and b.piece_id is not distinct from a.piece_id
          and b.status = 'available'
        where l.build_id = ${buildId}`,
    )
  ).map((row): SetAside => ({ ...row, quantity: ratio(row.quantity) }))
  const free = new Map([...stock.values()].flat().map((goods) => [goods.balanceId, goods.onHand.sub(goods.allocated)]))
  const short: { field: string; detail: string }[] = []
  const moves: DraftMove[] = []
  const changed = new Set<SetAside>()
  for (const cut of wanted) {
    let left = cut.quantity
    for (const goods of order(stock.get(cut.item.id) ?? [], cut, own, today)) {
      if (left.compare(ZERO) <= 0) {
        break
      }
      const mine = own.filter((a) => a.lineId === cut.lineId && a.balanceId === goods.balanceId)
      const held = mine.reduce((sum, a) => sum.add(a.quantity), ZERO)
      const there = held.add(free.get(goods.balanceId)!)
      const taken = there.compare(left) < 0 ? there : left
      if (taken.compare(ZERO) <= 0) {
        continue
      }
      const released = held.compare(taken) < 0 ? held : taken
      let rest = released
      for (const a of mine) {
        const part = a.quantity.compare(rest) < 0 ? a.quantity : rest
        a.quantity = a.quantity.sub(part)
        rest = rest.sub(part)
        changed.add(a)
      }
      free.set(goods.balanceId, free.get(goods.balanceId)!.sub(taken.sub(released)))
      left = left.sub(taken)
      const whole = taken.equals(cut.quantity)
      moves.push({
        itemId: cut.item.id,
        lotId: goods.lot === null ? null : Number(goods.lot),
        pieceId: goods.piece === null ? null : Number(goods.piece),
        quantity: taken,
        from: { placeId: Number(goods.bin), status: 'available' },
        to: workshop,
        entered: whole ? cut.entered : toText(taken),
        unit: whole ? cut.unit : cut.item.stockUnit,
        residue: whole ? cut.residue : ZERO,
        released,
        valuation: { kind: 'method' },
        lineId: cut.lineId,
      })
    }
    if (left.compare(ZERO) > 0) {
      short.push({
        field: cut.field,
        detail: `${cut.item.code} ${cut.item.name}: ${toText(cut.quantity)} ${cut.item.symbol} needed, ${toText(cut.quantity.sub(left))} ${cut.item.symbol} free${cut.balanceId === null ? '' : ' there'}; ${toText(left)} ${cut.item.symbol} missing.`,
      })
    }
  }
  if (short.length > 0) {
    throw new Refusal(
      'short',
      short.map((entry) => entry.detail).join(' '),
      Object.fromEntries(short.filter((entry) => entry.field !== '').map((entry) => [entry.field, entry.detail])),
    )
  }
  for (const a of changed) {
    if (a.quantity.compare(ZERO) > 0) {
      await tx
        .update(allocations)
        .set({ quantity: asNumeric(a.quantity) })
        .where(sql`${allocations.id} = ${a.id}`)
    } else {
      await tx.delete(allocations).where(sql`${allocations.id} = ${a.id}`)
    }
  }
  return moves
}

/** The goods that a line may take, in the order in which it does: chosen goods alone, or its own first. Closed bins and goods past their expiry only where they were set aside or chosen. */
function order(
  stock: readonly StockedPickable[],
  cut: Wanted,
  own: readonly SetAside[],
  today: string,
): readonly StockedPickable[] {
  const available = stock.filter((goods) => goods.status === 'available')
  if (cut.balanceId !== null) {
    return available.filter((goods) => goods.balanceId === cut.balanceId)
  }
  const mine = new Set(own.filter((a) => a.lineId === cut.lineId).map((a) => a.balanceId))
  const sorted = pickOrder(available)
  return [
    ...sorted.filter((goods) => mine.has(goods.balanceId)),
    ...sorted.filter(
      (goods) =>
        !mine.has(goods.balanceId) && !goods.closedToPicking && (goods.expiresOn === null || goods.expiresOn >= today),
    ),
  ]
}
