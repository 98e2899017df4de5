import type { DefinitionKind } from '~~/shared/catalogue/words'

interface Change {
  readonly id: number
  readonly undone: boolean
  readonly undoes: boolean
  readonly what: string
  readonly lines: readonly { readonly field: string }[]
}

/** Takes back the last change of a definition that still stands, and reads it anew. */
export async function undoLatest(kind: DefinitionKind, id: number, reload: () => Promise<void>): Promise<void> {
  const notices = useNotices()
  const changes = await $fetch<Change[]>(`/api/catalogue/definitions/${kind}/${id}/changes`)
  const last = changes.find((change) => !change.undone && !change.undoes && change.what === 'changed')
  if (!last) {
    return
  }
  try {
    await $fetch(`/api/catalogue/changes/${last.id}/undo`, { method: 'POST' })
    notices.say({ kind: 'done', text: `Undone: ${last.lines.map((line) => line.field).join(', ')}.` })
    await reload()
  } catch (error) {
    notices.say({ kind: 'problem', text: problemOf(error).detail })
  }
}
