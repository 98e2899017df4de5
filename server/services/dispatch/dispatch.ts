import { sql } from 'drizzle-orm'
import { pick } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { ALLOCATED, DIRECT, servingSites } from './serving'
import { releaseParts, packable, isPackedAtShipment, allocateParts } from './pack-at-shipment'
import { loadPickable } from '../stock/pickable'
import { lockBalances } from '../workshop/allocate-build'
import { lockAsSeen, saveDocument } from '../../documents'

export interface AllocatedLine {
  code: string
  quantity: string
  missing: string
  symbol: string
}

/**
 * Allocates goods to an order, soonest expiry first, from the sites that it is served from; what is not there stays
 * open: a plan moves it there from elsewhere. Refuses where nothing at all can be allocated.
 */
export async function allocate(tx: Tx, actor: Actor, id: number, version: number): Promise<{ lines: AllocatedLine[] }> {
  const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
  const open = await loadOpenLines(tx, id)
  const itemIds = [...new Set(open.map((line) => line.itemId))].sort((a, b) => a - b)
  await lockBalances(tx, itemIds)
  const items = await loadMeasuredItems(tx, itemIds)
  const sites = await servingSites(tx, id)
  const done: AllocatedLine[] = []
  for (const line of open) {
    const item = items.get(line.itemId)!
    if (line.open.compare(ZERO) > 0 && item.kind !== 'service') {
      done.push(await allocateLine(tx, actor, { id: line.id, dueOn: order.dueOn, sites }, item, line.open))
    }
  }
  if (done.length === 0) {
    throw new Refusal('not-now', `Everything of ${order.number} is allocated or shipped already.`)
  }
  if (done.every((line) => line.quantity === '0')) {
    const missing = done.map((line) => `${line.missing} ${line.symbol} ${line.code} missing`)
    throw new Refusal('short', `Nothing of ${order.number} is free: ${missing.join('; ')}.`)
  }
  await saveDocument(tx, actor, 'sales order', order, {
    set: {},
    after: { allocated: done.map((line) => `${line.quantity} ${line.code}`) },
  })
  return { lines: done }
}

interface OpenLine {
  readonly id: number
  readonly itemId: number
  /** What is neither shipped nor allocated. */
  readonly open: Ratio
}

async function loadOpenLines(tx: Tx, orderId: number): Promise<readonly OpenLine[]> {
  const found = await rows<{ id: number; itemId: number; open: string }>(
    tx,
    sql`
      select l.id, l.item_id as "itemId", l.quantity - l.shipped - ${ALLOCATED} - ${DIRECT} as open
      from sales_lines l
      where l.order_id = ${orderId}
      order by l.line`,
  )
  return found.map((line) => ({ ...line, open: ratio(line.open) }))
}

/**
 * Goods that are packed ahead come first; open kits, and what is not packed ahead of others, are packed when they are
 * shipped.
 */
async function allocateLine(
  tx: Tx,
  actor: Actor,
  line: { readonly id: number; readonly dueOn: string; readonly sites: ReadonlySet<number> },
  item: MeasuredItem,
  wanted: Ratio,
): Promise<AllocatedLine> {
  const isPacked = isPackedAtShipment(item)
  const packedAhead =
    isPacked && item.kitPolicy === 'open'
      ? []
      : (await loadPickable(tx, [item.id])).get(item.id)!.filter((goods) => line.sites.has(goods.siteId))
  const { picks, missing: notPacked } = pick(packedAhead, wanted, actor.today)
  for (const goods of picks) {
    await writeAllocation(tx, line.id, goods.quantity, {
      balanceId: goods.balanceId,
      itemId: item.id,
      placeId: Number(goods.bin),
      lotId: goods.lot === null ? null : Number(goods.lot),
      pieceId: goods.piece === null ? null : Number(goods.piece),
    })
  }
  const fromParts = isPacked && notPacked.compare(ZERO) > 0 ? await packable(tx, item, notPacked, actor.today) : ZERO
  if (fromParts.compare(ZERO) > 0) {
    await allocateParts(tx, actor, line, item, fromParts)
  }
  const missing = notPacked.sub(fromParts)
  return {
    code: item.code,
    quantity: toText(wanted.sub(missing)),
    missing: toText(missing),
    symbol: item.symbol,
  }
}

interface AllocatedGoods {
  readonly balanceId: number
  readonly itemId: number
  readonly placeId: number
  readonly lotId: number | null
  readonly pieceId: number | null
}

/** Allocates goods to a line; more of goods that are allocated to it already is added to them. */
async function writeAllocation(tx: Tx, salesLineId: number, amount: Ratio, goods: AllocatedGoods): Promise<void> {
  const { balanceId, itemId, placeId, lotId, pieceId } = goods
  const quantity = asNumeric(amount)
  await rows(tx, sql`update balances set allocated = allocated + ${quantity}::numeric where id = ${balanceId}`)
  await tx
    .insert(allocations)
    .values({ salesLineId, itemId, placeId, lotId, pieceId, quantity })
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

/** Allocates exactly these goods: a lot, a piece, a bin that somebody chose. */
export async function allocatePicks(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; picks: readonly { lineId: number; balanceId: number; quantity: string }[] },
): Promise<{ lines: AllocatedLine[] }> {
  const order = await lockAsSeen(tx, 'sales order', id, edit.version, ['open'])
  const open = await loadOpenLines(tx, id)
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
    if (taken.add(quantity).compare(line.open) > 0) {
      refuse(
        `The order wants ${toText(line.open)} ${item.symbol} more of ${item.code}, not ${toText(taken.add(quantity))}.`,
      )
    }
    goods.free = toText(ratio(goods.free).sub(quantity))
    done.set(line.id, taken.add(quantity))
    await writeAllocation(tx, line.id, quantity, { ...goods, balanceId: goods.id })
  }
  const lines = [...done].map(([lineId, quantity]): AllocatedLine => {
    const line = open.find((entry) => entry.id === lineId)!
    const item = items.get(line.itemId)!
    return {
      code: item.code,
      quantity: toText(quantity),
      missing: toText(line.open.sub(quantity)),
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
  const left = await releaseParts(tx, actor, id)
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
