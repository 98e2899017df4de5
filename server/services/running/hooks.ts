import { randomBytes } from 'node:crypto'
import { and, eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { hookCalls, webHooks } from '~~/server/database/schema'
import { noteChange } from '~~/server/documents'
import { enqueue } from '~~/server/jobs/queue'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { HookCallRow, HookRow } from '~~/shared/running/answers'
import type { HookEdit, NewHook } from '~~/shared/running/requests'

export const listHooks = (): Promise<HookRow[]> =>
  rows<HookRow>(
    db,
    sql`
      select
        h.id, h.name, h.url, h.events, h.active, h.version,
        (select count(*)::int from hook_calls c where c.hook_id = h.id and c.state = 'waiting') as waiting,
        (select count(*)::int from hook_calls c where c.hook_id = h.id and c.state = 'failed') as failed,
        (select max(delivered_at) from hook_calls c where c.hook_id = h.id) as "deliveredAt",
        coalesce(
          (select c.problem from hook_calls c where c.hook_id = h.id and c.tries > 0 order by c.id desc limit 1), ''
        ) as problem
      from web_hooks h
      order by h.name, h.id`,
  )

/** The latest calls of a web hook, the newest first. */
export const listCalls = (hookId: number): Promise<HookCallRow[]> =>
  rows<HookCallRow>(
    db,
    sql`
      select id, event, about, state, tries, status, problem, at, delivered_at as "deliveredAt"
      from hook_calls
      where hook_id = ${hookId}
      order by id desc
      limit 100`,
  )

/** Makes a web hook. Its secret is answered this once: the other program checks with it that a call is ours. */
export async function makeHook(tx: Tx, actor: Actor, hook: NewHook): Promise<{ id: number; secret: string }> {
  const secret = `whsec_${randomBytes(24).toString('base64')}`
  const [made] = await tx
    .insert(webHooks)
    .values({ ...hook, secret })
    .returning({ id: webHooks.id })
  await noteChange(tx, actor, { kind: 'web hook', id: made!.id }, null, hook)
  return { id: made!.id, secret }
}

/** Errors: `not-found`, `stale-version`. */
export async function changeHook(tx: Tx, actor: Actor, id: number, edit: HookEdit): Promise<{ version: number }> {
  const hook = await lock(tx, id)
  if (hook.version !== edit.version) {
    throw new Refusal('stale-version', `${hook.name} was changed meanwhile. Reload the page.`)
  }
  const version = edit.version + 1
  await tx
    .update(webHooks)
    .set({ ...edit, version })
    .where(eq(webHooks.id, id))
  const { name, url, events, active } = hook
  await noteChange(tx, actor, { kind: 'web hook', id }, { name, url, events, active }, { ...edit, version: undefined })
  return { version }
}

/** Takes a web hook away, with the calls that it made. Errors: `not-found`. */
export async function removeHook(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const { name, url, events } = await lock(tx, id)
  await tx.delete(webHooks).where(eq(webHooks.id, id))
  await noteChange(tx, actor, { kind: 'web hook', id }, { name, url, events }, null)
  return { id }
}

/** Makes one call once more: the same text, whatever became of it. Errors: `not-found`. */
export async function callAgain(tx: Tx, hookId: number, id: number): Promise<{ id: number }> {
  const [call] = await tx
    .update(hookCalls)
    .set({ state: 'waiting', problem: '' })
    .where(and(eq(hookCalls.id, id), eq(hookCalls.hookId, hookId)))
    .returning({ about: hookCalls.about })
  if (!call) {
    throw new Refusal('not-found', 'There is no such call.')
  }
  await enqueue(tx, 'hook-calls', { hookId, about: call.about }, `${hookId} ${call.about}`)
  return { id }
}

async function lock(tx: Tx, id: number): Promise<typeof webHooks.$inferSelect> {
  const [hook] = await tx.select().from(webHooks).where(eq(webHooks.id, id)).for('update')
  if (!hook) {
    throw new Refusal('not-found', 'There is no such web hook.')
  }
  return hook
}
