import { eq, sql } from 'drizzle-orm'
import { pickOrder } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { asNumeric, type MeasuredItem } from '../catalogue/measured-items'
import type { StockedPickable } from '../stock/pickable'
import type { DraftMove, End } from '../../ledger/post'

/**
 * So much of a component for a line of a build, from chosen goods or from wherever the picking order says; `field` is
 * where it was typed.
 */
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

/** Where components come from and go to. */
interface IssuedFrom {
  readonly stock: ReadonlyMap<number, readonly StockedPickable[]>
  readonly workshop: End
  readonly today: string
}

interface AllocatedGoods {
  readonly id: number
  readonly lineId: number
  readonly balanceId: number
  quantity: Ratio
}

/**
 * The moves that bring components to the workshop: what is set aside for the line first, then what is free, in picking
 * order.
 *
 * What is set aside and taken is no longer set aside. Refuses all where anything is missing, naming each.
 */
export async function issueComponents(
  tx: Tx,
  buildId: number,
  wanted: readonly Wanted[],
  around: IssuedFrom,
): Promise<DraftMove[]> {
  const { stock, workshop, today } = around
  const own = await loadAllocated(tx, buildId)
  const free = new Map([...stock.values()].flat().map((goods) => [goods.balanceId, goods.onHand.sub(goods.allocated)]))
  const short: { field: string; detail: string }[] = []
  const moves: DraftMove[] = []
  const changed = new Set<AllocatedGoods>()
  /** Takes what is there of some goods for a line, what is set aside for it first. */
  const takeFrom = (cut: Wanted, goods: StockedPickable, left: Ratio): { taken: Ratio; released: Ratio } => {
    const mine = own.filter(
      (allocation) => allocation.lineId === cut.lineId && allocation.balanceId === goods.balanceId,
    )
    const held = mine.reduce((sum, allocation) => sum.add(allocation.quantity), ZERO)
    const taken = lesser(held.add(free.get(goods.balanceId)!), left)
    const released = lesser(held, taken)
    if (taken.compare(ZERO) > 0) {
      releaseFrom(mine, released).forEach((allocation) => changed.add(allocation))
      free.set(goods.balanceId, free.get(goods.balanceId)!.sub(taken.sub(released)))
    }
    return { taken, released }
  }
  for (const cut of wanted) {
    let left = cut.quantity
    for (const goods of order(stock.get(cut.item.id) ?? [], cut, own, today)) {
      if (left.compare(ZERO) <= 0) {
        break
      }
      const { taken, released } = takeFrom(cut, goods, left)
      if (taken.compare(ZERO) > 0) {
        left = left.sub(taken)
        moves.push(issueOf(cut, goods, workshop, { taken, released }))
      }
    }
    if (left.compare(ZERO) > 0) {
      short.push(shortOf(cut, left))
    }
  }
  requireAll(short)
  await saveAllocated(tx, changed)
  return moves
}

const lesser = (a: Ratio, b: Ratio): Ratio => (a.compare(b) < 0 ? a : b)

async function loadAllocated(tx: Tx, buildId: number): Promise<AllocatedGoods[]> {
  const found = await rows<{ id: number; lineId: number; balanceId: number; quantity: string }>(
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
  return found.map((row) => ({ ...row, quantity: ratio(row.quantity) }))
}

/** Takes a quantity out of what is set aside, in its order; answers what is less for it. */
function releaseFrom(mine: readonly AllocatedGoods[], released: Ratio): readonly AllocatedGoods[] {
  let rest = released
  for (const allocation of mine) {
    const part = lesser(allocation.quantity, rest)
    allocation.quantity = allocation.quantity.sub(part)
    rest = rest.sub(part)
  }
  return mine
}

function issueOf(
  cut: Wanted,
  goods: StockedPickable,
  workshop: End,
  { taken, released }: { readonly taken: Ratio; readonly released: Ratio },
): DraftMove {
  const isWhole = taken.equals(cut.quantity)
  return {
    itemId: cut.item.id,
    lotId: goods.lot === null ? null : Number(goods.lot),
    pieceId: goods.piece === null ? null : Number(goods.piece),
    quantity: taken,
    from: { placeId: Number(goods.bin), status: 'available' },
    to: workshop,
    entered: isWhole ? cut.entered : toText(taken),
    unit: isWhole ? cut.unit : cut.item.stockUnit,
    residue: isWhole ? cut.residue : ZERO,
    released,
    valuation: { kind: 'method' },
    lineId: cut.lineId,
  }
}

function shortOf(cut: Wanted, missing: Ratio): { field: string; detail: string } {
  const { code, name, symbol } = cut.item
  const free = `${toText(cut.quantity.sub(missing))} ${symbol} free${cut.balanceId === null ? '' : ' there'}`
  return {
    field: cut.field,
    detail: `${code} ${name}: ${toText(cut.quantity)} ${symbol} needed, ${free}; ${toText(missing)} ${symbol} missing.`,
  }
}

function requireAll(short: readonly { readonly field: string; readonly detail: string }[]): void {
  if (short.length > 0) {
    throw new Refusal(
      'short',
      short.map((entry) => entry.detail).join(' '),
      Object.fromEntries(short.filter((entry) => entry.field !== '').map((entry) => [entry.field, entry.detail])),
    )
  }
}

async function saveAllocated(tx: Tx, changed: Iterable<AllocatedGoods>): Promise<void> {
  for (const { id, quantity } of changed) {
    if (quantity.compare(ZERO) > 0) {
      await tx
        .update(allocations)
        .set({ quantity: asNumeric(quantity) })
        .where(eq(allocations.id, id))
    } else {
      await tx.delete(allocations).where(eq(allocations.id, id))
    }
  }
}

/**
 * The goods that a line may take, in the order in which it does: chosen goods alone, or its own first. Closed bins and
 * goods past their expiry only where they were set aside or chosen.
 */
function order(
  stock: readonly StockedPickable[],
  cut: Wanted,
  own: readonly AllocatedGoods[],
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
