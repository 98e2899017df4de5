import type { Tx } from '~~/server/database/client'
import { changes } from '~~/server/database/schema'

/** Somebody's sign-in, or what was changed about it. */
export interface PersonEvent {
  /** Who did it; null where nobody was signed in. */
  readonly byId: number | null
  /** Whom it is about; null where nobody has that address. */
  readonly personId: number | null
  readonly label: string
  readonly address: string
  readonly before?: object
  readonly after: object
}

/** Notes in the list of changes what happened to somebody's sign-in, and from where. */
export async function noteEvent(tx: Pick<Tx, 'insert'>, event: PersonEvent): Promise<void> {
  await tx.insert(changes).values({
    userId: event.byId,
    entity: 'person',
    entityId: String(event.personId ?? ''),
    label: event.label,
    before: event.before ?? null,
    after: event.after,
    address: event.address,
  })
}
