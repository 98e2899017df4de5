import { sql, type SQL } from 'drizzle-orm'
import { pick } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems } from '../catalogue/measured-items'
import { loadPickable, type StockedPickable } from '../stock/pickable'
import { saveDocument, lockAsSeen } from '../../documents'

/** What lies in the bins of a site, by item. */
export async function pickableAt(
  reader: Reader,
  siteId: number,
  itemIds: readonly number[],
): Promise<Map<number, StockedPickable[]>> {
  const bins = new Set(
    (await rows<{ id: number }>(reader, sql`select id from places where kind = 'bin' and site_id = ${siteId}`)).map(
      (row) => String(row.id),
    ),
  )
  return new Map(
    [...(await loadPickable(reader, itemIds))].map(([item, stock]) => [
      item,
      stock.filter((piece) => bins.has(piece.bin)),
    ]),
  )
}

export interface OpenLine {
  readonly id: number
  readonly itemId: number
  readonly need: string
  readonly covered: string
  readonly allocated: string
}
export const openLines = (reader: Reader, buildId: number): Promise<OpenLine[]> =>
  rows<OpenLine>(
    reader,
    sql`
      select
        l.id, l.item_id as "itemId", l.need, l.covered,
        coalesce((select sum(a.quantity) from allocations a where a.build_line_id = l.id), 0) as allocated
      from build_lines l
      where l.build_id = ${buildId}
      order by l.position`,
  )

/** Locks the balances of some items, in the one fixed order. */
export async function lockBalances(tx: Tx, itemIds: readonly number[]): Promise<void> {
  if (itemIds.length > 0) {
    await rows(
      tx,
      sql`
        select id
        from balances
        where ${anyOf(sql`item_id`, itemIds)}
        order by item_id, place_id, lot_id, piece_id, status
        for update`,
    )
  }
}

/**
 * Sets the components of a build aside, soonest expiry first, in the bins of its site.
 *
 * Whole: refused where something is missing, naming each, and nothing is set aside; otherwise what is there is set
 * aside and the build is ready only when nothing is missing.
 */
export async function makeReady(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; whole: boolean },
): Promise<{ version: number; status: string; missing: string[] }> {
  const build = await lockAsSeen(tx, 'build', id, edit.version, ['draft', 'started'])
  const lines = await openLines(tx, id)
  const itemIds = [...new Set(lines.map((line) => line.itemId))]
  await lockBalances(tx, itemIds)
  const items = await loadMeasuredItems(tx, itemIds)
  const stock = await pickableAt(tx, build.siteId, itemIds)
  const missing: string[] = []
  for (const line of lines) {
    const wanted = ratio(line.need).sub(ratio(line.covered)).sub(ratio(line.allocated))
    if (wanted.compare(ZERO) <= 0) {
      continue
    }
    const item = items.get(line.itemId)!
    const found = pick(stock.get(line.itemId)!, wanted, actor.today)
    if (found.missing.compare(ZERO) > 0) {
      missing.push(`${toText(found.missing)} ${item.symbol} ${item.code}`)
    }
    for (const p of found.picks) {
      await allocateTo(tx, line, p, p.quantity)
    }
  }
  if (edit.whole && missing.length > 0) {
    throw new Refusal(
      'short',
      `Not everything is there: ${missing.join(', ')} missing. Allocate what is there, or see below what can be done.`,
    )
  }
  const status = build.status === 'draft' && missing.length === 0 ? 'ready' : build.status
  return { ...(await saveDocument(tx, actor, 'build', build, { set: { status } })), status, missing }
}

async function allocateTo(tx: Tx, line: OpenLine, goods: StockedPickable, quantity: Ratio): Promise<void> {
  await rows(
    tx,
    sql`update balances set allocated = allocated + ${asNumeric(quantity)}::numeric where id = ${goods.balanceId}`,
  )
  await tx
    .insert(allocations)
    .values({
      buildLineId: line.id,
      itemId: line.itemId,
      placeId: Number(goods.bin),
      lotId: goods.lot === null ? null : Number(goods.lot),
      pieceId: goods.piece === null ? null : Number(goods.piece),
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

/**
 * Gives back to the rest what is set aside for the lines `l` of builds, or by the allocations `a`, that meet a
 * condition.
 */
export async function giveFree(tx: Tx, where: SQL): Promise<void> {
  const set = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    quantity: string
  }>(
    tx,
    sql`
      select
        a.id, a.item_id as "itemId", a.place_id as "placeId", a.lot_id as "lotId", a.piece_id as "pieceId",
        a.quantity
      from allocations a
      join build_lines l on l.id = a.build_line_id
      where ${where}
      order by a.item_id, a.place_id, a.lot_id, a.piece_id`,
  )
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
}

/** Frees what a build has set aside; a ready one is a draft again. */
export async function freeAgain(tx: Tx, actor: Actor, id: number, version: number): Promise<{ version: number }> {
  const build = await lockAsSeen(tx, 'build', id, version, ['draft', 'ready', 'started'])
  await giveFree(tx, sql`l.build_id = ${id}`)
  return saveDocument(tx, actor, 'build', build, { set: { status: build.status === 'ready' ? 'draft' : build.status } })
}
