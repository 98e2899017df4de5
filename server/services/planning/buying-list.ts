import { eq } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { plans } from '~~/server/database/schema'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { lessOrdered, stillOffered } from './ordered-since'
import { inOrderUnits, type InOrderUnit } from './order-units'
import { workingPlanId } from './plans'
import { listPlanned, type PlannedOrderRow } from './read-plan'

/** A planned purchase, also in the unit that people order in where that is another. */
export type WantedPurchase = PlannedOrderRow & { readonly inUnit: InOrderUnit | null }

/** What the working plan buys and nobody has ordered since it was computed. */
export async function buyingList(): Promise<{ planId: number | null; orders: readonly WantedPurchase[] }> {
  const planId = await workingPlanId()
  if (planId === null) {
    return { planId, orders: [] }
  }
  const [plan] = await db.select({ ranAt: plans.ranAt }).from(plans).where(eq(plans.id, planId))
  const orders = (await listPlanned(planId)).filter((order) => order.kind === 'buy' && order.state !== 'released')
  const [fixed, proposed] = [
    orders.filter((order) => order.state === 'fixed'),
    orders.filter((order) => order.state === 'proposed'),
  ]
  const left = new Map(
    stillOffered(await lessOrdered(db, plan?.ranAt ?? null, proposed)).map((order) => [order.id, order]),
  )
  const kept = new Set(fixed.map((order) => order.id))
  const wanted = orders.flatMap((order) => (kept.has(order.id) ? [order] : (left.get(order.id) ?? [])))
  const items = await loadMeasuredItems(db, [...new Set(wanted.map((order) => order.itemId))])
  const inUnits = await inOrderUnits(db, wanted, new Map(), items)
  return { planId, orders: wanted.map((order) => ({ ...order, inUnit: inUnits.get(order.ref) ?? null })) }
}
