import { and, asc, eq, or } from 'drizzle-orm'
import type * as z from 'zod'
import { db, type Tx } from '~~/server/database/client'
import { savedViews, users } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewView, SavedView } from '~~/shared/lists'

/** The saved views of a list that a person may use: their own, and those that others share. */
export async function loadViews(actor: Actor, list: string): Promise<readonly SavedView[]> {
  const found = await db
    .select({
      id: savedViews.id,
      list: savedViews.list,
      name: savedViews.name,
      query: savedViews.query,
      isShared: savedViews.isShared,
      userId: savedViews.userId,
      owner: users.name,
    })
    .from(savedViews)
    .innerJoin(users, eq(users.id, savedViews.userId))
    .where(and(eq(savedViews.list, list), or(eq(savedViews.userId, actor.userId), savedViews.isShared)))
    .orderBy(asc(savedViews.name), asc(savedViews.id))
  return found.map(({ userId, ...view }) => ({ ...view, isOwn: userId === actor.userId }))
}

/** Saves a view; one of the same name, list and person is replaced. */
export async function saveView(tx: Tx, actor: Actor, view: z.output<typeof NewView>): Promise<{ id: number }> {
  const [saved] = await tx
    .insert(savedViews)
    .values({ ...view, userId: actor.userId })
    .onConflictDoUpdate({
      target: [savedViews.userId, savedViews.list, savedViews.name],
      set: { query: view.query, isShared: view.isShared },
    })
    .returning({ id: savedViews.id })
  return saved!
}

/** Errors: refuses a view that is another's, or is not there. */
export async function removeView(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const removed = await tx
    .delete(savedViews)
    .where(and(eq(savedViews.id, id), eq(savedViews.userId, actor.userId)))
    .returning({ id: savedViews.id })
  if (!removed[0]) {
    throw new Refusal('not-found', 'There is no such view of yours.')
  }
  return removed[0]
}
