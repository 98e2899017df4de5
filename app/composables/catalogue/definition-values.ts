import type { ListKind } from './definition-form'
import { DEFINITION_FORMS } from './definition-forms'

type Fields = Record<string, unknown>
export const valueAt = (form: Fields, key: string): unknown =>
  key.split('.').reduce<unknown>((value, step) => (value as Fields | undefined)?.[step], form)
export function setAt(form: Fields, key: string, value: unknown): void {
  const [outer, inner] = key.split('.') as [string, string | undefined]
  if (inner === undefined) {
    form[outer] = value
  } else {
    form[outer] = { ...(form[outer] as Fields), [inner]: value }
  }
}

/** What is sent: without lines that are only begun, and without defaults that are not stated. */
export function definitionOf(kind: ListKind, form: Fields): Fields {
  const sent = structuredClone(toRaw(form)) as Fields
  delete sent.id
  delete sent.version
  for (const list of DEFINITION_FORMS[kind].lists) {
    sent[list.key] = (sent[list.key] as Fields[]).filter((line) =>
      list.requiredCells.some((key) => line[key] !== '' && line[key] !== null),
    )
  }
  if (kind === 'groups') {
    sent.defaults = Object.fromEntries(
      Object.entries(sent.defaults as Fields).filter(([, value]) => value !== '' && value !== null),
    )
  }
  return sent
}
