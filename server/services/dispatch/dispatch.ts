import { sql } from 'drizzle-orm'
import { pick } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems } from '../catalogue/measured-items'
import { ALLOCATED } from '../demand/order-queries'
import { leaveTheTable, packable, packsAtTable, setAsideAtTable } from './pack-at-shipment'
import { loadPickable } from '../stock/pickable'
import { lockAsSeen, saveDocument } from '../../documents'

export interface AllocatedLine {
  code: string
  quantity: string
  missing: string
  symbol: string
}

/** Sets goods aside for an order: soonest expiry first; what is not there stays open. Refuses where nothing at all can be set aside. */
export async function allocate(tx: Tx, actor: Actor, id: number, version: number): Promise<{ lines: AllocatedLine[] }> {
  const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
  const open = await rows<{ id: number; itemId: number; open: string }>(
    tx,
    sql`
      select l.id, l.item_id as "itemId", l.quantity - l.shipped - ${ALLOCATED} as open
      from sales_lines l
      where l.order_id = ${id}
      order by l.line`,
  )
  const itemIds = [...new Set(open.map((line) => line.itemId))].sort((a, b) => a - b)
  await rows(
    tx,
    sql`
      select id
      from balances
      where ${anyOf(sql`item_id`, itemIds)}
      order by item_id, place_id, lot_id, piece_id, status
      for update`,
  )
  const items = await loadMeasuredItems(tx, itemIds)
  const done: AllocatedLine[] = []
  for (const line of open) {
    const wanted = ratio(line.open)
    if (wanted.compare(ZERO) <= 0) {
      continue
    }
    const item = items.get(line.itemId)!
    if (item.kind === 'service') {
      continue
    }
    const packed =
      packsAtTable(item) && item.kitPolicy === 'open' ? [] : (await loadPickable(tx, [line.itemId])).get(line.itemId)!
    const { picks, missing: notPacked } = pick(packed, wanted, actor.today)
    for (const p of picks) {
      const quantity = asNumeric(p.quantity)
      await rows(tx, sql`update balances set allocated = allocated + ${quantity}::numeric where id = ${p.balanceId}`)
      await tx
        .insert(allocations)
        .values({
          salesLineId: line.id,
          itemId: line.itemId,
          placeId: Number(p.bin),
          lotId: p.lot === null ? null : Number(p.lot),
          pieceId: p.piece === null ? null : Number(p.piece),
          quantity,
        })
        .onConflictDoUpdate({
          target: [
            allocations.salesLineId,
            allocations.buildLineId,
            allocations.placeId,
            allocations.lotId,
            allocations.pieceId,
          ],
          set: { quantity: sql`${allocations.quantity} + excluded.quantity` },
        })
    }
    // Open kits are packed at the table; others only what is not packed ahead.
    const fromParts =
      packsAtTable(item) && notPacked.compare(ZERO) > 0 ? await packable(tx, item, notPacked, actor.today) : ZERO
    if (fromParts.compare(ZERO) > 0) {
      await setAsideAtTable(tx, actor, { id: line.id, dueOn: order.dueOn }, item, fromParts)
    }
    const missing = notPacked.sub(fromParts)
    done.push({
      code: item.code,
      quantity: toText(wanted.sub(missing)),
      missing: toText(missing),
      symbol: item.symbol,
    })
  }
  if (done.length === 0) {
    throw new Refusal('not-now', `Everything of ${order.number} is allocated or shipped already.`)
  }
  if (done.every((line) => line.quantity === '0')) {
    throw new Refusal(
      'short',
      `Nothing of ${order.number} is free: ${done.map((line) => `${line.missing} ${line.symbol} ${line.code} missing`).join('; ')}.`,
    )
  }
  await saveDocument(tx, actor, 'sales order', order, {
    set: {},
    after: { allocated: done.map((line) => `${line.quantity} ${line.code}`) },
  })
  return { lines: done }
}

/** Sets exactly these goods aside: a lot, a piece, a bin that somebody chose. */
export async function allocatePicks(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; picks: readonly { lineId: number; balanceId: number; quantity: string }[] },
): Promise<{ lines: AllocatedLine[] }> {
  const order = await lockAsSeen(tx, 'sales order', id, edit.version, ['open'])
  const open = await rows<{ id: number; itemId: number; open: string }>(
    tx,
    sql`
      select l.id, l.item_id as "itemId", l.quantity - l.shipped - ${ALLOCATED} as open
      from sales_lines l
      where l.order_id = ${id}
      order by l.line`,
  )
  const items = await loadMeasuredItems(
    tx,
    open.map((line) => line.itemId),
  )
  const there = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    free: string
  }>(
    tx,
    sql`
      select
        id, item_id as "itemId", place_id as "placeId", lot_id as "lotId", piece_id as "pieceId",
        on_hand - allocated as free
      from balances
      where status = 'available'
        and ${anyOf(
          sql`id`,
          edit.picks.map((p) => p.balanceId),
        )}
      order by item_id, place_id, lot_id, piece_id
      for update`,
  )
  const done = new Map<number, Ratio>()
  for (const [index, wanted] of edit.picks.entries()) {
    const [line, goods] = [
      open.find((entry) => entry.id === wanted.lineId),
      there.find((entry) => entry.id === wanted.balanceId),
    ]
    const refuse = (detail: string): never => {
      throw new Refusal('short', detail, { [`picks.${index}.quantity`]: detail })
    }
    if (!line || goods?.itemId !== line.itemId) {
      return refuse('These goods are not there any more. Reload the page.')
    }
    const quantity = ratio(wanted.quantity)
    const item = items.get(line.itemId)!
    const taken = done.get(line.id) ?? ZERO
    if (quantity.compare(ZERO) <= 0) {
      refuse('Give a quantity above zero.')
    }
    if (quantity.compare(ratio(goods.free)) > 0) {
      refuse(`Only ${toText(ratio(goods.free))} ${item.symbol} of it are free.`)
    }
    if (taken.add(quantity).compare(ratio(line.open)) > 0) {
      refuse(
        `The order wants ${toText(ratio(line.open))} ${item.symbol} more of ${item.code}, not ${toText(taken.add(quantity))}.`,
      )
    }
    goods.free = toText(ratio(goods.free).sub(quantity))
    done.set(line.id, taken.add(quantity))
    await rows(
      tx,
      sql`update balances set allocated = allocated + ${asNumeric(quantity)}::numeric where id = ${goods.id}`,
    )
    await tx
      .insert(allocations)
      .values({
        salesLineId: line.id,
        itemId: line.itemId,
        placeId: goods.placeId,
        lotId: goods.lotId,
        pieceId: goods.pieceId,
        quantity: asNumeric(quantity),
      })
      .onConflictDoUpdate({
        target: [
          allocations.salesLineId,
          allocations.buildLineId,
          allocations.placeId,
          allocations.lotId,
          allocations.pieceId,
        ],
        set: { quantity: sql`${allocations.quantity} + excluded.quantity` },
      })
  }
  const lines = [...done].map(([lineId, quantity]): AllocatedLine => {
    const line = open.find((entry) => entry.id === lineId)!
    const item = items.get(line.itemId)!
    return {
      code: item.code,
      quantity: toText(quantity),
      missing: toText(ratio(line.open).sub(quantity)),
      symbol: item.symbol,
    }
  })
  await saveDocument(tx, actor, 'sales order', order, {
    set: {},
    after: { allocated: lines.map((line) => `${line.quantity} ${line.code}`) },
  })
  return { lines }
}

/** Gives what is set aside for an order back to the rest. */
export async function deallocate(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
  const left = await leaveTheTable(tx, actor, id)
  const set = await ofOrder(tx, id)
  if (set.length + left === 0) {
    throw new Refusal('not-now', `Nothing is allocated to ${order.number}.`)
  }
  for (const a of set) {
    await rows(
      tx,
      sql`
        update balances
        set allocated = allocated - ${a.quantity}::numeric
        where item_id = ${a.itemId}
          and place_id = ${a.placeId}
          and lot_id is not distinct from ${a.lotId}::int
          and piece_id is not distinct from ${a.pieceId}::int
          and status = 'available'`,
    )
  }
  if (set.length > 0) {
    await tx.delete(allocations).where(
      anyOf(
        allocations.id,
        set.map((a) => a.id),
      ),
    )
  }
  await saveDocument(tx, actor, 'sales order', order, { set: {}, after: { allocated: 'given back' } })
  return { id }
}

export const ofOrder = (tx: Tx, id: number) =>
  rows<{
    id: number
    salesLineId: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    quantity: string
  }>(
    tx,
    sql`
      select
        a.id, a.sales_line_id as "salesLineId", a.item_id as "itemId", a.place_id as "placeId",
        a.lot_id as "lotId", a.piece_id as "pieceId", a.quantity
      from allocations a
      join sales_lines l on l.id = a.sales_line_id
      where l.order_id = ${id}
      order by a.item_id, a.place_id, a.lot_id, a.piece_id`,
  )
