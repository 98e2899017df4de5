import { isRatio, toText } from '~~/core/units/exact'
import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { changes } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

interface Subject {
  readonly kind: string
  readonly id: number | string
}

/** Notes who changed what, with what it was before (null: it is new) and after (null: it is gone). */
export async function noteChange(
  tx: Tx,
  actor: Pick<Actor, 'userId' | 'keyId'>,
  subject: Subject,
  before: object | null,
  after: object | null,
): Promise<void> {
  await tx.insert(changes).values({
    userId: actor.userId,
    keyId: actor.keyId,
    entity: subject.kind,
    entityId: String(subject.id),
    before: inPlainText(before),
    after: inPlainText(after),
  })
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
