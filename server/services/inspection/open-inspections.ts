import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { sampleOf } from '~~/core/inspection'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { inspectionGoods, inspections } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import type { OpenedInspection } from '~~/shared/inspection/answers'
import { nextNumber } from '../../documents'
import type { PlanInUse } from './plans-for'

interface HeldMove {
  readonly lineId: number | null
  readonly itemId: number
  readonly code: string
  readonly lotId: number | null
  readonly lot: string | null
  readonly pieceId: number | null
  readonly placeId: number
  readonly quantity: string
}

/**
 * Opens an inspection for each lot that a posting put on hold under a plan: for goods without lots, for each line. What
 * a quarantine bin put on hold without a plan is left alone.
 */
export async function openInspections(
  tx: Tx,
  actor: Actor,
  postingId: number | null,
  plans: ReadonlyMap<number, PlanInUse>,
  supplierId: number | null = null,
): Promise<OpenedInspection[]> {
  if (plans.size === 0 || postingId === null) {
    return []
  }
  const held = await rows<HeldMove>(
    tx,
    sql`
      select
        m.document_line_id as "lineId", m.item_id as "itemId", i.code, m.lot_id as "lotId", l.number as lot,
        m.piece_id as "pieceId", m.to_place_id as "placeId", m.quantity
      from moves m
      join ${MEASURED_ITEM} i on i.id = m.item_id
      left join lots l on l.id = m.lot_id
      where m.posting_id = ${postingId} and m.to_status = 'on hold'
      order by m.line`,
  )
  const opened: OpenedInspection[] = []
  const lotOf = ({ itemId, lineId, lotId }: HeldMove): string => `${itemId} ${lineId} ${lotId}`
  for (const goods of groupBy(
    held.filter(({ itemId }) => plans.has(itemId)),
    lotOf,
  ).values()) {
    opened.push(await openOne(tx, actor, { postingId, supplierId, goods, plan: plans.get(goods[0]!.itemId)! }))
  }
  return opened
}

async function openOne(
  tx: Tx,
  actor: Actor,
  from: {
    readonly postingId: number
    readonly supplierId: number | null
    readonly goods: readonly HeldMove[]
    readonly plan: PlanInUse
  },
): Promise<OpenedInspection> {
  const { id: planId, ...plan } = from.plan
  const [first] = from.goods
  // Of goods in pieces so many pieces are looked at, whatever they measure.
  const isPieces = from.goods.every(({ pieceId }) => pieceId !== null)
  const quantity = from.goods.reduce((sum, move) => sum.add(ratio(isPieces ? 1 : move.quantity)), ZERO)
  const { letter, size, accept } = sampleOf(plan.rule, quantity)
  const number = await nextNumber(tx, 'IN')
  const [made] = await tx
    .insert(inspections)
    .values({
      number,
      planId,
      plan,
      itemId: first!.itemId,
      supplierId: from.supplierId,
      postingId: from.postingId,
      openedOn: actor.today,
      letter,
      sampleSize: size,
      accept,
    })
    .returning({ id: inspections.id })
  await tx.insert(inspectionGoods).values(
    from.goods.map((move) => ({
      inspectionId: made!.id,
      placeId: move.placeId,
      lotId: move.lotId,
      pieceId: move.pieceId,
      quantity: move.quantity,
    })),
  )
  return { id: made!.id, number, code: first!.code, lot: first!.lot ?? '' }
}
