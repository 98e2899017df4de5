import { inArray, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { wayFrom } from '~~/core/planning/input'
import { buyingQuantity, orderable, timesFor } from '~~/core/planning/sizing'
import { buyingPrice, type PriceTier } from '~~/core/pricing'
import { convert } from '~~/core/units/graph'
import { ratio, toText } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { plannedOrders } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { MeasuredItem } from '../catalogue/measured-items'
import { createPurchase } from '../purchasing/orders'
import { createTransfer } from '../stock/transfers'
import { createBreakDown, loadRecipes, takeOf } from '../workshop/break-downs'
import { createBuild, firstSite } from '../workshop/builds'
import { arrivalsBy } from './arrivals'
import type { DocumentOf } from '../../documents'

/** A document that planned orders became. */
export interface ReleasedDocument {
  kind: 'purchase order' | 'build' | 'break-down' | 'transfer'
  id: number
  number: string
  title: string
}

/** A planned order; `isReduced` where some of it has been ordered meanwhile. */
export type PlannedRow = typeof plannedOrders.$inferSelect & { readonly isReduced?: true }

/** What writing the documents of a release needs to know. */
export interface Releasing {
  readonly tx: Tx
  readonly actor: Actor
  readonly plan: DocumentOf<'plan'>
  readonly items: ReadonlyMap<number, MeasuredItem>
}

const ofKind = (orders: readonly PlannedRow[], kind: PlannedRow['kind']): readonly PlannedRow[] =>
  orders.filter((order) => order.kind === kind)

/** Planned orders become a document, which each of them names from now on. */
async function markReleased(
  tx: Tx,
  orders: readonly PlannedRow[],
  document: ReleasedDocument,
): Promise<ReleasedDocument> {
  await tx
    .update(plannedOrders)
    .set({ state: 'released', documentKind: document.kind, documentId: document.id })
    .where(
      inArray(
        plannedOrders.id,
        orders.map((order) => order.id),
      ),
    )
  return document
}

/**
 * The day on which an order of today can be there: what is released late is written with it, not with the day of need,
 * so that it stays late until it comes. What is released in time keeps its due day.
 */
function dueDay({ plan, actor }: Releasing, order: PlannedRow): string {
  const { nodes, calendars } = plan.input!
  const planned = plan.output!.orders.find((entry) => entry.id === order.ref)
  const node = nodes.find((entry) => entry.id === planned?.node)
  const source = node && wayFrom(node, order.supplierId === null ? undefined : String(order.supplierId))
  if (!source || source.kind === 'none') {
    return order.dueOn
  }
  const soonest = arrivalsBy(calendars)(source.calendar, actor.today, source.leadDays)
  return order.dueOn < soonest ? soonest : order.dueOn
}

/** What ought to begin earlier begins today. */
const beginDay = ({ actor }: Releasing, order: PlannedRow): string =>
  order.releaseOn < actor.today ? actor.today : order.releaseOn

const inWords = ({ items }: Releasing, order: PlannedRow): string => {
  const item = items.get(order.itemId)!
  return `${order.quantity} ${item.symbol} ${item.code}`
}

/** A purchase order for each supplier and site. */
export async function writePurchases(from: Releasing, orders: readonly PlannedRow[]): Promise<ReleasedDocument[]> {
  const { tx, actor, items } = from
  const first = await firstSite(tx)
  const documents: ReleasedDocument[] = []
  const bySupplier = groupBy(ofKind(orders, 'buy'), (order) => `${order.supplierId} ${order.siteId ?? first}`)
  for (const bought of bySupplier.values()) {
    const [{ supplierId: supplier, siteId }] = bought as [PlannedRow]
    const supplierId = supplier!
    const terms = await loadTerms(tx, supplierId)
    const lines = bought.map((order) => purchaseLine(from, order, terms.get(order.itemId)))
    const made = await createPurchase(tx, actor, {
      supplierId,
      siteId: siteId === first ? null : siteId,
      note: '',
      lines,
    })
    const [row] = await rows<{ name: string }>(tx, sql`select name from suppliers where id = ${supplierId}`)
    const what = lines.map((line) => `${toText(line.quantity)} ${line.unit} ${items.get(line.itemId)!.code}`)
    documents.push(
      await markReleased(tx, bought, { kind: 'purchase order', ...made, title: `${row!.name}: ${what.join(', ')}` }),
    )
  }
  return documents
}

interface TermRow {
  readonly itemId: number
  readonly unit: string
  readonly price: string
  readonly minimum: string
  readonly tiers: PriceTier[]
  readonly multiple: string
}

async function loadTerms(tx: Tx, supplierId: number): Promise<ReadonlyMap<number, TermRow>> {
  const found = await rows<TermRow>(
    tx,
    sql`
      select item_id as "itemId", unit, price, tiers, minimum, multiple
      from supplier_terms
      where supplier_id = ${supplierId}`,
  )
  return new Map(found.map((term) => [term.itemId, term]))
}

function purchaseLine(from: Releasing, order: PlannedRow, term: TermRow | undefined) {
  const { plan, items, actor } = from
  const item = items.get(order.itemId)!
  if (!term) {
    throw new Refusal('not-now', `${item.code} is no longer bought from this supplier. Plan again.`)
  }
  const planned = plan.output!.orders.find((entry) => entry.id === order.ref)
  const exact = convert(item.measure.graph, ratio(order.quantity), item.stockUnit, term.unit)
  const asked = exact.ok ? exact.value : ratio(order.quantity)
  const multiple = ratio(term.multiple)
  const quantity = order.isReduced
    ? orderable(asked, ratio(term.minimum), multiple)
    : buyingQuantity({ asked, multiple, times: order.state === 'fixed' ? 0 : planned!.why.times })
  return {
    itemId: order.itemId,
    quantity,
    unit: term.unit,
    price: buyingPrice(term.price, term.tiers, quantity, actor.today),
    dueOn: dueDay(from, order),
  }
}

export async function writeBuilds(from: Releasing, orders: readonly PlannedRow[]): Promise<ReleasedDocument[]> {
  const { tx, actor, items } = from
  const documents: ReleasedDocument[] = []
  for (const order of ofKind(orders, 'make')) {
    const made = await createBuild(tx, actor, {
      itemId: order.itemId,
      quantity: ratio(order.quantity),
      unit: items.get(order.itemId)!.stockUnit,
      dueOn: dueDay(from, order),
      releaseOn: beginDay(from, order),
      ...(order.siteId === null ? {} : { siteId: order.siteId }),
    })
    documents.push(await markReleased(tx, [order], { kind: 'build', ...made, title: `Build ${inWords(from, order)}` }))
  }
  return documents
}

/** The recipe by which a break-down was planned; null where the plan knows none. */
function plannedRecipe({ plan }: Releasing, order: PlannedRow): number | null {
  const planned = plan.output!.orders.find((entry) => entry.id === order.ref)
  const source = plan.input!.nodes.find((node) => node.id === planned?.node)?.source
  return source?.kind === 'break down' ? Number(source.recipe) : null
}

/** Each by the recipe that it was planned with. */
export async function writeBreakDowns(from: Releasing, orders: readonly PlannedRow[]): Promise<ReleasedDocument[]> {
  const { tx, actor, items } = from
  const recipes = await loadRecipes(tx)
  const documents: ReleasedDocument[] = []
  for (const order of ofKind(orders, 'break down')) {
    const recipe = recipes.get(plannedRecipe(from, order) ?? 0)
    const output = recipe?.outputs.find((entry) => entry.item.id === order.itemId)
    if (!recipe || !output) {
      throw new Refusal('not-now', `The recipe of ${items.get(order.itemId)!.code} is not there any more. Plan again.`)
    }
    const times = timesFor(ratio(order.quantity), output.quantity)
    const made = await createBreakDown(tx, actor, {
      itemId: recipe.bulk.id,
      recipeId: recipe.id,
      times: toText(times),
      dueOn: dueDay(from, order),
      siteId: order.siteId,
    })
    const title = `Break down ${toText(takeOf(recipe, times))} ${recipe.bulk.symbol} ${recipe.bulk.code}`
    documents.push(await markReleased(tx, [order], { kind: 'break-down', ...made, title }))
  }
  return documents
}

/** A transfer for all that goes from one site to another on the same days. */
export async function writeTransfers(from: Releasing, orders: readonly PlannedRow[]): Promise<ReleasedDocument[]> {
  const { tx, actor, items } = from
  const documents: ReleasedDocument[] = []
  const together = groupBy(
    ofKind(orders, 'move'),
    (order) => `${order.fromSiteId} ${order.siteId} ${beginDay(from, order)} ${dueDay(from, order)}`,
  )
  for (const moved of together.values()) {
    const [first] = moved as [PlannedRow]
    const { fromSiteId, siteId } = first
    const lines = moved.map((order) => ({
      itemId: order.itemId,
      quantity: ratio(order.quantity),
      unit: items.get(order.itemId)!.stockUnit,
    }))
    const made = await createTransfer(tx, actor, {
      fromSiteId: fromSiteId!,
      toSiteId: siteId!,
      leavesOn: beginDay(from, first),
      dueOn: dueDay(from, first),
      note: '',
      lines,
    })
    const title = `Move ${moved.map((order) => inWords(from, order)).join(', ')}`
    documents.push(await markReleased(tx, moved, { kind: 'transfer', ...made, title }))
  }
  return documents
}
