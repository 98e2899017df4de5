import { createHmac } from 'node:crypto'
import { and, asc, eq, sql } from 'drizzle-orm'
import { db, rows, type Reader } from '~~/server/database/client'
import { hookCalls, webHooks } from '~~/server/database/schema'
import { GivenUp } from '~~/server/jobs/given-up'
import { enqueue } from '~~/server/jobs/queue'
import { bodyOf } from './hook-body'

/** Milliseconds that the other program may take to answer. */
const PATIENCE = 10_000
type Call = typeof hookCalls.$inferSelect

/** Has every call made that waits and is not worked on, in the order of what they are about. */
export async function enqueueWaitingCalls(reader: Reader): Promise<void> {
  const left = await rows<{ hookId: number; about: string }>(
    reader,
    sql`
      select distinct c.hook_id as "hookId", c.about
      from hook_calls c
      join web_hooks h on h.id = c.hook_id and h.active
      where c.state = 'waiting'
        and not exists (
          select 1
          from jobs.job j
          where j.name = 'hook-calls'
            and j.singleton_key = c.hook_id || ' ' || c.about
            and j.state in ('created', 'retry')
        )
      limit 500`,
  )
  for (const { hookId, about } of left) {
    await enqueue(reader, 'hook-calls', { hookId, about }, `${hookId} ${about}`)
  }
}

/**
 * Makes the calls of a web hook about one thing, in the order in which things happened: a later one waits for the
 * earlier. On the last try the one that cannot be delivered is given up, and the others go on.
 */
export async function deliverCalls(hookId: number, about: string, isLastTry: boolean): Promise<void> {
  const [hook] = await db.select().from(webHooks).where(eq(webHooks.id, hookId))
  if (!hook?.active) {
    return
  }
  for (;;) {
    const [call] = await db
      .select()
      .from(hookCalls)
      .where(and(eq(hookCalls.hookId, hookId), eq(hookCalls.about, about), eq(hookCalls.state, 'waiting')))
      .orderBy(asc(hookCalls.id))
      .limit(1)
    if (!call) {
      return
    }
    await deliver(hook, call, isLastTry)
  }
}

async function deliver(hook: typeof webHooks.$inferSelect, call: Call, isLastTry: boolean): Promise<void> {
  const body = call.body ?? (await keepBody(call))
  const { status, problem } = await send(hook, `call_${call.id}`, body)
  const isDelivered = problem === ''
  const isOver = isDelivered || isLastTry
  await db
    .update(hookCalls)
    .set({
      tries: call.tries + 1,
      status,
      problem,
      ...(isDelivered ? { state: 'delivered', deliveredAt: sql`now()` } : {}),
      ...(!isDelivered && isLastTry ? { state: 'failed' } : {}),
    })
    .where(eq(hookCalls.id, call.id))
  if (!isDelivered) {
    throw isOver ? new GivenUp(problem) : new Error(problem)
  }
}

/** The text is written once: each try sends the same. */
async function keepBody(call: Call): Promise<string> {
  const body = JSON.stringify(await bodyOf(call))
  await db.update(hookCalls).set({ body }).where(eq(hookCalls.id, call.id))
  return body
}

/**
 * One call. Answers the status, and what is wrong with it in words; empty where the other program took it (a status of
 * 200 to 299).
 */
async function send(
  { url, secret }: { readonly url: string; readonly secret: string },
  id: string,
  body: string,
): Promise<{ status: number | null; problem: string }> {
  const at = Math.floor(Date.now() / 1000)
  try {
    const answer = await fetch(url, {
      method: 'POST',
      redirect: 'manual',
      signal: AbortSignal.timeout(PATIENCE),
      headers: {
        'content-type': 'application/json',
        'user-agent': 'Tsumiki',
        'webhook-id': id,
        'webhook-timestamp': String(at),
        'webhook-signature': signCall(secret, id, at, body),
      },
      body,
    })
    await answer.body?.cancel()
    return { status: answer.status, problem: answer.ok ? '' : `It answered ${answer.status}.` }
  } catch (error) {
    const { name, message, cause } = error as Error
    const why = (cause as Error | undefined)?.message ?? message
    return { status: null, problem: name === 'TimeoutError' ? 'It did not answer in 10 s.' : `No answer: ${why}` }
  }
}

/**
 * The signature of a call. `secret` is `whsec_` and Base64; `at` is in seconds of 1970.
 *
 * Source: Standard Webhooks 1.0, “Signature scheme”: HMAC-SHA256 over id, time stamp and body, parted by full stops.
 */
export function signCall(secret: string, id: string, at: number, body: string): string {
  const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64')
  return `v1,${createHmac('sha256', key).update(`${id}.${at}.${body}`).digest('base64')}`
}
