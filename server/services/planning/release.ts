import { and, eq, inArray, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { buyingPrice, type PriceTier } from '~~/core/pricing'
import { convert } from '~~/core/units/graph'
import { ratio, toText } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { plannedOrders } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { createPurchase } from '../purchasing/orders'
import { createTransfer } from '../stock/transfers'
import { createBreakDown, loadRecipes } from '../workshop/break-downs'
import { createBuild, firstSite } from '../workshop/builds'
import { runPlan, type Run } from './plans'
import { requireSettled } from './runs'
import { lockDocument } from '../../documents'

export interface ReleasedDocument {
  kind: 'purchase order' | 'build' | 'break-down' | 'transfer'
  id: number
  number: string
  title: string
}

/**
 * Turns planned orders into purchase orders (one a supplier and site), builds, break-downs and transfers (one a way and day), then computes the plan anew on them.
 *
 * Errors: `not-now` for a trial plan or an order already released; `stale-version` where the plan was computed anew since.
 */
export async function release(
  tx: Tx,
  actor: Actor,
  planId: number,
  version: number,
  orderIds: readonly number[],
  run: Run = runPlan,
): Promise<{ documents: ReleasedDocument[]; version: number }> {
  const plan = await lockDocument(tx, 'plan', planId)
  if (plan.kind === 'trial') {
    throw new Refusal('not-now', 'A trial plan releases nothing. Make it the working plan first.')
  }
  if (plan.version !== version) {
    throw new Refusal(
      'stale-version',
      'The plan was computed anew since you opened it. Reload it, look again, then release.',
    )
  }
  await requireSettled(tx, planId)
  const chosen = await tx
    .select()
    .from(plannedOrders)
    .where(and(eq(plannedOrders.planId, planId), inArray(plannedOrders.id, [...orderIds])))
    .orderBy(plannedOrders.releaseOn, plannedOrders.id)
  if (chosen.length !== new Set(orderIds).size || chosen.some((o) => o.state === 'released')) {
    throw new Refusal('not-now', 'Some of these orders are released already. Reload the plan.')
  }
  const documents: ReleasedDocument[] = []
  const done = async (orders: typeof chosen, document: ReleasedDocument): Promise<void> => {
    documents.push(document)
    await tx
      .update(plannedOrders)
      .set({ state: 'released', documentKind: document.kind, documentId: document.id })
      .where(
        inArray(
          plannedOrders.id,
          orders.map((o) => o.id),
        ),
      )
  }
  const items = await loadMeasuredItems(
    tx,
    chosen.map((o) => o.itemId),
  )

  const first = await firstSite(tx)
  for (const orders of groupBy(
    chosen.filter((o) => o.kind === 'buy'),
    (o) => `${o.supplierId} ${o.siteId ?? first}`,
  ).values()) {
    const [{ supplierId: buyFrom, siteId }] = orders as [(typeof orders)[number]]
    const supplierId = buyFrom!
    const terms = new Map(
      (
        await rows<{ itemId: number; unit: string; price: string; tiers: PriceTier[]; multiple: string }>(
          tx,
          sql`
            select item_id as "itemId", unit, price, tiers, multiple
            from supplier_terms
            where supplier_id = ${supplierId}`,
        )
      ).map((t) => [t.itemId, t]),
    )
    const lines = orders.map((order) => {
      const term = terms.get(order.itemId)
      const item = items.get(order.itemId)!
      if (!term) {
        throw new Refusal('not-now', `${item.code} is no longer bought from this supplier. Plan again.`)
      }
      const times = order.state === 'fixed' ? 0 : plan.output!.orders.find((o) => o.id === order.ref)!.why.times
      const exact = convert(item.measure.graph, ratio(order.quantity), item.stockUnit, term.unit)
      let quantity
      if (times === 0 || ratio(term.multiple).equals(0)) {
        if (exact.ok) {
          quantity = exact.value
        } else {
          quantity = ratio(order.quantity)
        }
      } else {
        quantity = ratio(term.multiple).mul(ratio(BigInt(times)))
      }
      return {
        itemId: order.itemId,
        quantity,
        unit: term.unit,
        price: buyingPrice(term.price, term.tiers, quantity, actor.today),
        dueOn: order.dueOn,
      }
    })
    const made = await createPurchase(tx, actor, {
      supplierId,
      siteId: siteId === first ? null : siteId,
      note: '',
      lines,
    })
    const [supplier] = await rows<{ name: string }>(tx, sql`select name from suppliers where id = ${supplierId}`)
    await done(orders, {
      kind: 'purchase order',
      ...made,
      title: `${supplier!.name}: ${lines.map((l) => `${toText(l.quantity)} ${l.unit} ${items.get(l.itemId)!.code}`).join(', ')}`,
    })
  }
  for (const order of chosen.filter((o) => o.kind === 'make')) {
    const item = items.get(order.itemId)!
    const made = await createBuild(tx, actor, {
      itemId: order.itemId,
      quantity: ratio(order.quantity),
      unit: item.stockUnit,
      dueOn: order.dueOn,
      releaseOn: order.releaseOn,
      ...(order.siteId === null ? {} : { siteId: order.siteId }),
    })
    await done([order], { kind: 'build', ...made, title: `Build ${order.quantity} ${item.symbol} ${item.code}` })
  }
  const recipes = [...(await loadRecipes(tx)).values()]
  for (const order of chosen.filter((o) => o.kind === 'break down')) {
    const item = items.get(order.itemId)!
    const recipe = recipes.find((r) => r.outputs.some((o) => o.item.id === order.itemId))
    if (!recipe) {
      throw new Refusal('not-now', `${item.code} has no recipe any more. Plan again.`)
    }
    const times = ratio(order.quantity)
      .div(recipe.outputs.find((o) => o.item.id === order.itemId)!.quantity)
      .ceil()
    const made = await createBreakDown(tx, actor, {
      itemId: recipe.bulk.id,
      times: toText(times),
      dueOn: order.dueOn,
      siteId: order.siteId,
    })
    await done([order], {
      kind: 'break-down',
      ...made,
      title: `Break down ${toText(recipe.take.mul(times))} ${recipe.bulk.symbol} ${recipe.bulk.code}`,
    })
  }
  for (const orders of groupBy(
    chosen.filter((o) => o.kind === 'move'),
    (o) => `${o.fromSiteId} ${o.siteId} ${o.releaseOn} ${o.dueOn}`,
  ).values()) {
    const [{ fromSiteId, siteId, releaseOn, dueOn }] = orders as [(typeof orders)[number]]
    const lines = orders.map((order) => ({
      itemId: order.itemId,
      quantity: ratio(order.quantity),
      unit: items.get(order.itemId)!.stockUnit,
    }))
    const made = await createTransfer(tx, actor, {
      fromSiteId: fromSiteId!,
      toSiteId: siteId!,
      leavesOn: releaseOn,
      dueOn,
      note: '',
      lines,
    })
    await done(orders, {
      kind: 'transfer',
      ...made,
      title: `Move ${orders.map((order) => `${order.quantity} ${items.get(order.itemId)!.symbol} ${items.get(order.itemId)!.code}`).join(', ')}`,
    })
  }
  return { documents, version: (await run(tx, actor, planId)).version }
}
