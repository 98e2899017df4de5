import { eq, inArray, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { items, standardCosts } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ChangeMethod, Revaluing } from '~~/shared/books/requests'
import { poolKey } from '../../ledger/lock-stock'
import { recordPosting } from '../../ledger/post'
import { recordAdjustments, type Revalued } from '../../ledger/record-adjustments'
import { workOut, writePools } from '../../ledger/work-out'
import { accountNames } from './value'
import { noteChange } from '../../documents'

/**
 * Changes how items are costed. All that ever moved is worked out again by the new method, as IAS 8.19 asks of a change
 * of policy; what it makes of stock, cost of sales and the rest is recorded as one re-valuation.
 */
export async function changeMethod(
  tx: Tx,
  actor: Actor,
  edit: ChangeMethod,
): Promise<{ postingId: number } & Revaluing> {
  const found = await tx
    .select()
    .from(items)
    .where(inArray(items.id, [...edit.itemIds]))
    .orderBy(items.id)
    .for('update')
  if (found.length < new Set(edit.itemIds).size) {
    throw new Refusal('not-found', 'One of these items is gone. Reload the page.')
  }
  const same = found.find((item) => item.costing === edit.method)
  if (same && found.length === 1) {
    refuseField('method', `${same.code} is costed by ${edit.method} already.`)
  }
  const standardless =
    edit.method === 'standard' && edit.standardCost === null
      ? found.find((item) => item.standardCost === null)
      : undefined
  if (standardless) {
    refuseField('standardCost', `${standardless.code} has no standard cost yet. Give one.`)
  }
  const before = await valuesOf(tx, edit.itemIds)
  for (const item of found) {
    const changed = {
      costing: edit.method,
      ...(edit.standardCost !== null && { standardCost: edit.standardCost }),
      inherited: item.inherited.filter((field) => field !== 'costing'),
      version: item.version + 1,
    }
    await tx.update(items).set(changed).where(eq(items.id, item.id))
    await tx.delete(standardCosts).where(
      sql`
        ${standardCosts.itemId} = ${item.id}
          and ${edit.method} = 'standard'
          and ${item.costing} <> 'standard'
          and posting_id is null`,
    )
    await noteChange(
      tx,
      actor,
      { kind: 'item', id: item.id },
      { costing: item.costing, standardCost: item.standardCost, version: item.version },
      changed,
    )
  }
  const label = `${found.length === 1 ? found[0]!.code : `${found.length} items`} costed by ${edit.method}`
  const done = await revalueItems(tx, actor, edit.itemIds, { kind: 're-valuation', label, reason: 'change of method' })
  return { ...done, ...(await compare(tx, edit.itemIds, before, done.revalued, done.moves)) }
}

/**
 * A new standard cost from today on: what is in stock is worth it from this morning, and the difference is a variance.
 */
export async function changeStandard(
  tx: Tx,
  actor: Actor,
  edit: { itemId: number; cost: string },
): Promise<{ postingId: number } & Revaluing> {
  const [item] = await tx.select().from(items).where(eq(items.id, edit.itemId)).for('update')
  if (!item) {
    throw new Refusal('not-found', 'There is no such item.')
  }
  if (item.costing !== 'standard') {
    refuseField(
      'itemId',
      `${item.code} is costed by ${item.costing}; its standard cost is for planning and can be changed on its page.`,
    )
  }
  const before = await valuesOf(tx, [item.id])
  const known = await tx.select().from(standardCosts).where(eq(standardCosts.itemId, item.id))
  if (known.length === 0) {
    await tx.insert(standardCosts).values({ itemId: item.id, fromOn: '0001-01-01', cost: item.standardCost ?? '0' })
  }
  await tx
    .update(items)
    .set({ standardCost: edit.cost, version: item.version + 1 })
    .where(eq(items.id, item.id))
  await noteChange(
    tx,
    actor,
    { kind: 'item', id: item.id },
    { standardCost: item.standardCost, version: item.version },
    { standardCost: edit.cost, version: item.version + 1 },
  )
  const done = await revalueItems(
    tx,
    actor,
    [item.id],
    {
      kind: 'standard cost',
      label: `Standard cost of ${item.code}: ${item.standardCost ?? '0'} → ${edit.cost}`,
      reason: 'standard cost',
    },
    async (postingId) => {
      await tx.insert(standardCosts).values({ itemId: item.id, fromOn: actor.today, cost: edit.cost, postingId })
    },
  )
  return { ...done, ...(await compare(tx, [item.id], before, done.revalued, done.moves)) }
}

async function revalueItems(
  tx: Tx,
  actor: Actor,
  itemIds: readonly number[],
  act: { kind: string; label: string; reason: string },
  first?: (postingId: number) => Promise<void>,
): Promise<{ postingId: number; revalued: Revalued; moves: number }> {
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  const found = await rows<{ item: number; site: number; line: number }>(
    tx,
    sql`
      select item_id as item, site_id as site, line_id as line
      from holdings
      where ${anyOf(sql`item_id`, itemIds)}
        and site_id <> 0
      order by 1, 2, 3`,
  )
  const [postingId] = await recordPosting(tx, actor, { ...act, effectiveOn: actor.today })
  await first?.(postingId!)
  const worked = await workOut(
    tx,
    found.map((h) => ({ pool: poolKey(h.item, h.site, h.line), from: null })),
    { moves: [], work: 0n },
    null,
  )
  await writePools(tx, worked.pools)
  return {
    postingId: postingId!,
    moves: worked.moves.size,
    revalued: await recordAdjustments(tx, postingId!, worked, own!.closed),
  }
}

const valuesOf = async (tx: Tx, itemIds: readonly number[]): Promise<Map<number, string>> =>
  new Map(
    (
      await rows<{ id: number; value: string }>(
        tx,
        sql`
          select i.id, coalesce(sum(h.value), 0)::text as value
          from items i
          left join holdings h on h.item_id = i.id
          where ${anyOf(sql`i.id`, itemIds)}
          group by i.id`,
      )
    ).map((row) => [row.id, row.value]),
  )

async function compare(
  tx: Tx,
  itemIds: readonly number[],
  before: ReadonlyMap<number, string>,
  revalued: Revalued,
  moves: number,
): Promise<Revaluing> {
  const after = await valuesOf(tx, itemIds)
  const named = await tx
    .select({ id: items.id, code: items.code, name: items.name })
    .from(items)
    .where(inArray(items.id, [...itemIds]))
    .orderBy(items.code)
  return {
    items: named.map((item) => ({
      itemId: item.id,
      code: item.code,
      name: item.name,
      before: before.get(item.id)!,
      after: after.get(item.id)!,
    })),
    accounts: accountNames(revalued),
    moves,
  }
}
