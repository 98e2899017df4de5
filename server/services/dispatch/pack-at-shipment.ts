import { sql } from 'drizzle-orm'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { PackingJob } from '~~/shared/dispatch/requests'
import { asNumeric, type MeasuredItem } from '../catalogue/measured-items'
import { billInUse } from '../structure/bills'
import { needsByBill } from '../workshop/bill-needs'
import { cancelBuild, createBuild, firstSite } from '../workshop/builds'
import { completeBuild } from '../workshop/record-build'
import { makeReady, pickableAt } from '../workshop/allocate-build'

/** Whether a kit is packed at the packing table where none is packed ahead, or always. */
export const isPackedAtShipment = (item: Pick<MeasuredItem, 'source' | 'kitPolicy'>): boolean =>
  item.source === 'kit' && item.kitPolicy !== 'sealed'

/** How many whole kits the parts that are free allow, up to a quantity. */
export async function packable(reader: Reader, item: MeasuredItem, wanted: Ratio, today: string): Promise<Ratio> {
  const bomId = await billInUse(reader as Tx, item.id, today)
  if (bomId === null) {
    return ZERO
  }
  const siteId = await firstSite(reader)
  for (let count = wanted.n / wanted.d; count > 0n;) {
    const { needs } = await needsByBill(reader, { itemId: item.id, bomId, quantity: ratio(count) }, today)
    const stock = await pickableAt(
      reader,
      siteId,
      needs.map((need) => need.itemId),
    )
    const allowed = needs
      .map((need) => {
        const free = stock
          .get(need.itemId)!
          .filter(
            (piece) =>
              piece.status === 'available' &&
              !piece.closedToPicking &&
              (piece.expiresOn === null || piece.expiresOn >= today),
          )
          .reduce((sum, piece) => sum.add(piece.onHand).sub(piece.allocated), ZERO)
        const share = free.mul(ratio(count)).div(need.quantity)
        return share.n / share.d
      })
      .reduce((a, b) => (a < b ? a : b), count)
    if (allowed >= count) {
      return ratio(count)
    }
    count = allowed
  }
  return ZERO
}

/**
 * Sets the parts of kits aside for a line of an order: a packing job of its own, which is packed when the order is
 * shipped.
 */
export async function allocateParts(
  tx: Tx,
  actor: Actor,
  line: { readonly id: number; readonly dueOn: string },
  item: MeasuredItem,
  quantity: Ratio,
): Promise<void> {
  const { id } = await createBuild(tx, actor, {
    itemId: item.id,
    quantity,
    unit: item.stockUnit,
    dueOn: line.dueOn,
    salesLineId: line.id,
  })
  await makeReady(tx, actor, id, { version: 1, whole: true })
}

export const jobsOf = (reader: Reader, orderId: number) =>
  rows<{
    id: number
    number: string
    lineId: number
    itemId: number
    code: string
    quantity: string
    symbol: string
    version: number
    siteId: number
  }>(
    reader,
    sql`
      select
        b.id, b.number, b.sales_line_id as "lineId", b.item_id as "itemId", i.code,
        trim_scale(b.quantity - b.made)::text as quantity, i.symbol, b.version, b.site_id as "siteId"
      from builds b
      join sales_lines l on l.id = b.sales_line_id
      join ${MEASURED_ITEM} i on i.id = b.item_id
      where l.order_id = ${orderId} and b.status = 'ready' and i.source = 'kit' and i.kit_policy <> 'sealed'
      order by b.id`,
  )

/** What is to be packed at the table for an order, with where its parts lie. */
export async function loadPacking(reader: Reader, orderId: number): Promise<PackingJob[]> {
  const parts = await rows<PackingJob['parts'][number] & { buildId: number }>(
    reader,
    sql`
      select
        n.build_id as "buildId", p.name as bin, i.code, t.number as lot, c.label as piece,
        trim_scale(a.quantity)::text as quantity, i.symbol
      from allocations a
      join build_lines n on n.id = a.build_line_id
      join builds b on b.id = n.build_id
      join sales_lines l on l.id = b.sales_line_id
      join places p on p.id = a.place_id
      join ${MEASURED_ITEM} i on i.id = a.item_id
      left join lots t on t.id = a.lot_id
      left join pieces c on c.id = a.piece_id
      where l.order_id = ${orderId} and b.status = 'ready'
      order by p.pick_order, p.name, i.code`,
  )
  return (await jobsOf(reader, orderId)).map((job) => ({
    buildId: job.id,
    number: job.number,
    lineId: job.lineId,
    code: job.code,
    quantity: job.quantity,
    symbol: job.symbol,
    parts: parts
      .filter((part) => part.buildId === job.id)
      .map(({ buildId, ...part }) => {
        void buildId
        return part
      }),
  }))
}

/**
 * Packs what is to be packed at the table for an order, and sets it aside for its line: it then leaves with the rest.
 */
export async function packForShipment(tx: Tx, actor: Actor, orderId: number): Promise<void> {
  for (const job of await jobsOf(tx, orderId)) {
    const [bin] = await rows<{ id: number }>(
      tx,
      sql`
        select id
        from places
        where kind = 'bin'
          and site_id = ${job.siteId}
          and not retired
          and not closed_to_receiving
          and not closed_to_picking
          and not quarantine
        order by id = (select finished_bin_id from company) desc nulls last, pick_order, id
        limit 1`,
    )
    if (!bin) {
      throw new Refusal('not-now', 'There is no bin to pack into. Open one to receiving and picking under Places.')
    }
    const { postingId } = await completeBuild(tx, actor, job.id, {
      version: job.version,
      binId: bin.id,
      lot: '',
      expiresOn: null,
      isUsedAtOnce: true,
    })
    for (const packed of await rows<{ lotId: number | null; pieceId: number | null; quantity: string }>(
      tx,
      sql`
        select lot_id as "lotId", piece_id as "pieceId", quantity
        from moves
        where posting_id = ${postingId} and item_id = ${job.itemId} and to_place_id = ${bin.id}`,
    )) {
      await rows(
        tx,
        sql`
          update balances
          set allocated = allocated + ${packed.quantity}::numeric
          where item_id = ${job.itemId}
            and place_id = ${bin.id}
            and lot_id is not distinct from ${packed.lotId}::int
            and piece_id is not distinct from ${packed.pieceId}::int
            and status = 'available'`,
      )
      await tx
        .insert(allocations)
        .values({
          salesLineId: job.lineId,
          itemId: job.itemId,
          placeId: bin.id,
          lotId: packed.lotId,
          pieceId: packed.pieceId,
          quantity: asNumeric(ratio(packed.quantity)),
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
  }
}

/** Gives the parts back that were set aside for packing at the table. */
export async function releaseParts(tx: Tx, actor: Actor, orderId: number): Promise<number> {
  const jobs = await jobsOf(tx, orderId)
  for (const job of jobs) {
    await cancelBuild(tx, actor, job.id, job.version)
  }
  return jobs.length
}
