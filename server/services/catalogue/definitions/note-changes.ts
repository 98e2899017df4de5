import type { Tx } from '~~/server/database/client'
import type { Actor } from '~~/server/utils/route'
import { DEFINITION_NAMES, type DefinitionKind } from '~~/shared/catalogue/words'
import { insertRows } from './store'

/** What became of one definition: null before where it is new, null after where it is gone. */
export interface DefinitionChange {
  readonly id: number | string
  readonly label: string
  readonly before: object | null
  readonly after: object | null
}

/** Notes who changed which definitions, and by which file or taking back. */
export async function noteDefinitions(
  tx: Tx,
  actor: Pick<Actor, 'userId' | 'keyId'>,
  kind: DefinitionKind,
  changes: readonly DefinitionChange[],
  how: { readonly batchId?: number | null; readonly undoesId?: number | null },
): Promise<void> {
  await insertRows(
    tx,
    'changes',
    changes.map(({ id, ...change }) => ({
      ...change,
      user_id: actor.userId,
      key_id: actor.keyId ?? null,
      entity: DEFINITION_NAMES[kind],
      entity_id: String(id),
      batch_id: how.batchId ?? null,
      undoes_id: how.undoesId ?? null,
    })),
  )
}
