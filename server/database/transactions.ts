import { setTimeout as pause } from 'node:timers/promises'
import { eq, sql } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/node-postgres'
import pg, { type PoolClient, type QueryConfig, type QueryResult } from 'pg'
import { db, pool, type Tx } from '~~/server/database/client'
import { answers, postings } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

/**
 * Does one act in one transaction, once per key: the same request sent twice gives the first answer again.
 *
 * A second sender with the same key waits for the first to end. Errors: `taken` where the key stands for another
 * person’s act, or for another request than this one.
 */
export async function once<T>(actor: Actor, key: string, act: (tx: Tx) => Promise<T>): Promise<T> {
  const own = literal(key)
  const request = (await actor.digest?.()) ?? null
  const digest = request === null ? 'null' : literal(request)
  const line = {
    first: `insert into answers (key, user_id, request) values (${own}, ${actor.userId}, ${digest}) on conflict do nothing returning key`,
    last: '',
  }
  return again(() =>
    onOneLine(line, async (tx, [claimed]) => {
      if (claimed!.rowCount === 0) {
        const [earlier] = await tx.select().from(answers).where(eq(answers.key, key))
        if (earlier?.userId !== actor.userId) {
          throw new Refusal('taken', 'This key belongs to another person’s act. Reload the page.')
        }
        if (earlier.request !== null && request !== null && earlier.request !== request) {
          throw new Refusal(
            'taken',
            `${await recordedAs(tx, earlier.answer)} was recorded under this act already. Reload the page to see it, and do only what is still missing.`,
          )
        }
        line.last = ''
        // What this very request was answered before, as JSON.
        return earlier.answer as T
      }
      const answer = await act(tx)
      line.last = `update answers set answer = ${literal(JSON.stringify(answer ?? null))} where key = ${own};`
      return answer
    }),
  )
}

/** What an act recorded, by the answer that it gave: its posting or its document, by name. */
async function recordedAs(tx: Tx, answer: unknown): Promise<string> {
  const { postingId, number } = (answer ?? {}) as { readonly postingId?: unknown; readonly number?: unknown }
  if (typeof postingId === 'number') {
    const [posting] = await tx.select({ label: postings.label }).from(postings).where(eq(postings.id, postingId))
    if (posting) {
      return `“${posting.label}”`
    }
  }
  return typeof number === 'string' ? number : 'Something else'
}

/**
 * What became of an act whose answer was lost: null where it was not recorded. One that is still under way is waited
 * for.
 *
 * Errors: `taken` where the key stands for another person’s act.
 */
export async function findAnswer(actor: Actor, key: string): Promise<{ readonly answer: unknown } | null> {
  const notRecorded = new Error('Not recorded')
  try {
    return await db.transaction(async (tx) => {
      const claimed = await tx.insert(answers).values({ key, userId: actor.userId }).onConflictDoNothing().returning()
      if (claimed.length > 0) {
        throw notRecorded
      }
      const [earlier] = await tx.select().from(answers).where(eq(answers.key, key))
      if (earlier?.userId !== actor.userId) {
        throw new Refusal('taken', 'This key belongs to another person’s act. Reload the page.')
      }
      return { answer: earlier.answer }
    })
  } catch (error) {
    if (error === notRecorded) {
      return null
    }
    throw error
  }
}

/** Forgets answers that nobody will ask for again. Errors: none. */
export async function forgetAnswers(days: number): Promise<number> {
  const gone = await db
    .delete(answers)
    .where(sql`${answers.at} < now() - make_interval(days => ${days})`)
    .returning({ key: answers.key })
  return gone.length
}

/** One transaction, tried again where the database undid it to break a tie between two. */
export const inTransaction = <T>(act: (tx: Tx) => Promise<T>): Promise<T> => again(() => db.transaction(act))

const MOST_TRIES = 8
const SHORTEST_PAUSE = 10
const LONGEST_PAUSE = 400

/**
 * Tries again what the database undid for another's sake, after a pause that grows and differs from one to the next.
 * Errors: `not-now` where it never got its turn.
 */
async function again<T>(act: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await act()
    } catch (error) {
      const code = (error as { cause?: { code?: string } }).cause?.code
      if (code !== '40P01' && code !== '40001') {
        throw error
      }
      if (tries === MOST_TRIES) {
        throw new Refusal(
          'not-now',
          'Others record the same goods just now. Nothing of yours was recorded: try again in a moment.',
        )
      }
    }
    await pause(Math.min(LONGEST_PAUSE, SHORTEST_PAUSE * 2 ** tries) * Math.random())
  }
}

const literal = (text: string): string => pg.escapeLiteral(text)

/**
 * A transaction whose first statement goes out together with its begin, and its last with the commit: each way to the
 * database and back that is saved is a tenth of a posting. `act` gets what the first answered, and may set the last.
 */
async function onOneLine<T>(
  line: { readonly first: string; last: string },
  act: (tx: Tx, begun: readonly QueryResult[]) => Promise<T>,
): Promise<T> {
  const client = await pool.connect()
  let begun: readonly QueryResult[] = []
  const query = async (asked: QueryConfig, values?: unknown[]): Promise<unknown> => {
    if (asked.text === 'begin') {
      begun = ((await client.query(`begin; ${line.first}`)) as unknown as QueryResult[]).slice(1)
      return begun
    }
    return asked.text === 'commit' ? client.query(`${line.last} commit`) : client.query(asked, values)
  }
  let isBroken = false
  try {
    return await drizzle({ query } as unknown as PoolClient, { casing: 'snake_case' }).transaction((tx) =>
      act(tx as unknown as Tx, begun),
    )
  } catch (error) {
    // Where the begin itself failed, nobody else ends the transaction, and the next to get the connection would be
    // refused.
    isBroken = await client.query('rollback').then(
      () => false,
      () => true,
    )
    throw error
  } finally {
    client.release(isBroken)
  }
}

/** Does it and takes it back: the answer is that of the real thing, and nothing is changed. */
export async function rehearse<T>(act: (tx: Tx) => Promise<T>): Promise<T> {
  const takenBack = new Error('Taken back')
  let rehearsed: { readonly answer: T } | undefined
  try {
    await db.transaction(async (tx) => {
      rehearsed = { answer: await act(tx) }
      throw takenBack
    })
  } catch (error) {
    if (error !== takenBack) {
      throw error
    }
  }
  return rehearsed!.answer
}
