import { and, eq, inArray } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { Tx } from '~~/server/database/client'
import { plannedOrders } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { lessOrdered } from './ordered-since'
import { runPlan, type Run } from './plans'
import {
  writeBreakDowns,
  writeBuilds,
  writePurchases,
  writeTransfers,
  type PlannedRow,
  type ReleasedDocument,
  type Releasing,
} from './release-documents'
import { requireSettled } from './runs'
import { lockDocument, type DocumentOf } from '../../documents'

/**
 * Turns planned orders into purchase orders (one a supplier and site), builds, break-downs and transfers (one a way and
 * day), then computes the plan anew on them.
 *
 * What has been ordered since the plan was computed is taken off first, and told: nothing is bought twice. What a
 * person has fixed stays as it is.
 *
 * Errors: `not-now` for a trial plan or an order already released; `stale-version` where the plan was computed anew
 *         since.
 */
export async function release(
  tx: Tx,
  actor: Actor,
  planId: number,
  chosen: { readonly version: number; readonly orderIds: readonly number[] },
  run: Run = runPlan,
): Promise<{ documents: ReleasedDocument[]; takenOff: TakenOff[]; version: number }> {
  const plan = await lockDocument(tx, 'plan', planId)
  requireReleasable(plan, chosen.version)
  await requireSettled(tx, planId)
  const found = await loadChosen(tx, planId, chosen.orderIds)
  const { orders, takenOff } = await withoutOrdered(tx, plan, found)
  const items = await loadMeasuredItems(
    tx,
    found.map((order) => order.itemId),
  )
  const from: Releasing = { tx, actor, plan, items }
  const documents: ReleasedDocument[] = []
  for (const write of [writePurchases, writeBuilds, writeBreakDowns, writeTransfers]) {
    documents.push(...(await write(from, orders)))
  }
  return {
    documents,
    takenOff: takenOff.map(({ itemId, quantity, by }) => {
      const item = items.get(itemId)!
      return { code: item.code, quantity, symbol: item.symbol, by }
    }),
    version: (await run(tx, actor, planId)).version,
  }
}

/** What was not released, since it has been ordered meanwhile: so much of an item, on these documents. */
interface TakenOff {
  readonly code: string
  readonly quantity: string
  readonly symbol: string
  readonly by: readonly string[]
}

/** Takes off what has been ordered since the plan was computed; an order of which nothing is left is not written. */
async function withoutOrdered(
  tx: Tx,
  plan: DocumentOf<'plan'>,
  orders: readonly PlannedRow[],
): Promise<{
  orders: readonly PlannedRow[]
  takenOff: readonly { itemId: number; quantity: string; by: readonly string[] }[]
}> {
  const proposed = orders.filter((order) => order.state === 'proposed')
  const found = await lessOrdered(tx, plan.ranAt, proposed)
  const reduced = found.filter(({ by }) => by.length > 0)
  const instead = new Map(reduced.map(({ offer, left }) => [offer.id, left]))
  return {
    orders: orders.flatMap((order): PlannedRow[] => {
      const left = instead.get(order.id)
      if (left === undefined) {
        return [order]
      }
      return left.compare(ZERO) > 0 ? [{ ...order, quantity: toText(left), isReduced: true }] : []
    }),
    takenOff: reduced.map(({ offer, left, by }) => ({
      itemId: offer.itemId,
      quantity: toText(ratio(offer.quantity).sub(left)),
      by,
    })),
  }
}

function requireReleasable(plan: DocumentOf<'plan'>, version: number): void {
  if (plan.kind === 'trial') {
    throw new Refusal('not-now', 'A trial plan releases nothing. Make it the working plan first.')
  }
  if (plan.version !== version) {
    throw new Refusal(
      'stale-version',
      'The plan was computed anew since you opened it. Reload it, look again, then release.',
    )
  }
}

async function loadChosen(tx: Tx, planId: number, orderIds: readonly number[]): Promise<readonly PlannedRow[]> {
  const chosen = await tx
    .select()
    .from(plannedOrders)
    .where(and(eq(plannedOrders.planId, planId), inArray(plannedOrders.id, [...orderIds])))
    .orderBy(plannedOrders.releaseOn, plannedOrders.id)
  if (chosen.length !== new Set(orderIds).size || chosen.some((order) => order.state === 'released')) {
    throw new Refusal('not-now', 'Some of these orders are released already. Reload the plan.')
  }
  return chosen
}
