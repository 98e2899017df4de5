import { isRatio, toText } from '~~/core/units/exact'
import { eq, sql } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/node-postgres'
import pg, { type PoolClient, type QueryConfig, type QueryResult } from 'pg'
import { db, pool, rows, type Tx } from '~~/server/database/client'
import { answers, changes, counters } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

/**
 * Does one act in one transaction, once per key: the same key sent twice gives the first answer again.
 *
 * A second sender with the same key waits for the first to end.
 */
export function once<T>(actor: Actor, key: string, act: (tx: Tx) => Promise<T>): Promise<T> {
  const own = literal(key)
  const line = {
    first: `insert into answers (key, user_id) values (${own}, ${actor.userId}) on conflict do nothing returning key`,
    last: '',
  }
  return again(() =>
    onOneLine(line, async (tx, [claimed]) => {
      if (claimed!.rowCount === 0) {
        const [earlier] = await tx.select().from(answers).where(eq(answers.key, key))
        if (earlier?.userId !== actor.userId) {
          throw new Refusal('taken', 'This key belongs to another person’s act. Reload the page.')
        }
        line.last = ''
        return earlier.answer as T
      }
      const answer = await act(tx)
      line.last = `update answers set answer = ${literal(JSON.stringify(answer ?? null))} where key = ${own};`
      return answer
    }),
  )
}

/** One transaction, tried again where the database undid it to break a tie between two. */
export const inTransaction = <T>(act: (tx: Tx) => Promise<T>): Promise<T> => again(() => db.transaction(act))

async function again<T>(act: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await act()
    } catch (error) {
      const code = (error as { cause?: { code?: string } }).cause?.code
      if (tries === 3 || (code !== '40P01' && code !== '40001')) {
        throw error
      }
    }
  }
}

const literal = (text: string): string => pg.escapeLiteral(text)

/**
 * A transaction whose first statement goes out together with its begin, and its last with the commit: each way to the database and back that is
 * saved is a tenth of a posting. `act` gets what the first answered, and may set the last.
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
  try {
    return await drizzle({ query } as unknown as PoolClient, { casing: 'snake_case' }).transaction((tx) =>
      act(tx as unknown as Tx, begun),
    )
  } finally {
    client.release()
  }
}

class Rehearsed<T> extends Error {
  constructor(readonly answer: T) {
    super()
  }
}

/** Does it and takes it back: the answer is that of the real thing, and nothing is changed. */
export async function rehearse<T>(act: (tx: Tx) => Promise<T>): Promise<T> {
  try {
    return await db.transaction(async (tx) => {
      throw new Rehearsed(await act(tx))
    })
  } catch (error) {
    if (error instanceof Rehearsed) {
      return error.answer as T
    }
    throw error
  }
}

/** The next number of a kind of document, for example PO-0013. */
export async function nextNumber(tx: Tx, name: string): Promise<string> {
  const [row] = await tx
    .insert(counters)
    .values({ name, next: 2 })
    .onConflictDoUpdate({ target: counters.name, set: { next: sql`${counters.next} + 1` } })
    .returning()
  return `${name}-${String(row!.next - 1).padStart(4, '0')}`
}

/** Notes who changed what. */
export async function noteChange(
  tx: Tx,
  actor: Actor,
  entity: string,
  entityId: number | string,
  before: object | null,
  after: object | null,
): Promise<void> {
  const noted = { before: inPlainText(before), after: inPlainText(after) }
  await tx.insert(changes).values({ userId: actor.userId, entity, entityId: String(entityId), ...noted })
}

/** Exact amounts are noted as decimal text, or as a fraction where they have no end. */
const inPlainText = (value: object | null): object | null =>
  JSON.parse(JSON.stringify(value, (_, entry: unknown) => (isRatio(entry) ? toText(entry) : entry))) as object | null

/** Refuses an edit whose author saw an older version, and says what has changed since. */
export async function requireVersion(
  tx: Tx,
  entity: string,
  entityId: number,
  seen: number,
  now: number,
): Promise<void> {
  if (seen === now) {
    return
  }
  const since = await rows<{
    before: Record<string, unknown> | null
    after: Record<string, unknown> | null
    name: string
  }>(
    tx,
    sql`
      select c.before, c.after, u.name
      from changes c
      join users u on u.id = c.user_id
      where c.entity = ${entity}
        and c.entity_id = ${String(entityId)}
        and coalesce((c.before->>'version')::int, 0) >= ${seen}
      order by c.id`,
  )
  const sentences = since.map(({ before, after, name }) => {
    const names = Object.keys(after ?? {}).filter(
      (k) => k !== 'version' && JSON.stringify(before?.[k]) !== JSON.stringify(after?.[k]),
    )
    return `${name} changed ${names.length > 0 ? names.map(inWords).join(', ') : 'it'}`
  })
  throw new Refusal(
    'stale-version',
    `This was changed since you opened it${sentences.length > 0 ? `: ${sentences.join('; ')}` : ''}. Reload to see it; nothing of yours was saved.`,
  )
}

const inWords = (field: string): string => field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
