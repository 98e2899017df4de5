import type { DefinitionKind } from '~~/shared/catalogue/words'
import type { GridColumn, GridOption } from '../ui/use-grid-paste'

export type ListKind = Exclude<DefinitionKind, 'items' | 'bills' | 'break-downs'>
export type References = ReturnType<typeof useReferences>

/** One field of a definition's form. A path with a point lies one step deeper. */
export interface FormFieldOf {
  readonly key: string
  readonly label: string
  readonly kind?: 'text' | 'number' | 'choice' | 'check' | 'long' | 'week'
  readonly span?: number
  readonly options?: (references: References, now: number | null) => readonly GridOption[]
  readonly empty?: string
  readonly hint?: string
  readonly quick?: boolean
  readonly head?: string
}
export interface FormListOf {
  readonly key: string
  readonly title: string
  readonly summary?: string
  readonly add: string
  readonly columns: (references: References) => readonly GridColumn[]
  readonly requiredCells: readonly string[]
  readonly blank: Readonly<Record<string, unknown>>
}
export interface DefinitionForm {
  readonly title: string
  readonly one: string
  readonly summary: string
  readonly used: string
  readonly fields: readonly FormFieldOf[]
  readonly lists: readonly FormListOf[]
  readonly blank: Readonly<Record<string, unknown>>
  readonly empty: string
}

export const codeField: FormFieldOf = { key: 'code', label: 'Code', quick: true }
export const nameField: FormFieldOf = { key: 'name', label: 'Name', span: 2, quick: true }
export const noteField: FormFieldOf = { key: 'note', label: 'Note', kind: 'long', span: 4 }
export const retiredField: FormFieldOf = { key: 'retired', label: 'Retired: offered no more', kind: 'check', span: 2 }
export const calendarField: FormFieldOf = {
  key: 'calendarId',
  label: 'Working calendar',
  kind: 'choice',
  empty: 'every day',
  options: (r) => r.calendars.map((c) => ({ value: c.id, name: c.name })),
}
export const unitOptions = (r: References) =>
  r.units.filter((u) => !u.retired).map((u) => ({ value: u.code, name: `${u.name} (${u.symbol})`, code: u.symbol }))
export const inheritedField = (key: string, label: string, rest: Partial<FormFieldOf>): FormFieldOf => ({
  key: `defaults.${key}`,
  label,
  hint: '',
  ...rest,
})
export const unitField = (key: string, label: string): FormFieldOf =>
  inheritedField(key, label, { kind: 'choice', empty: 'not stated', options: unitOptions })
export const wordOptions = (list: readonly string[]) => () => list.map((word) => ({ value: word, name: word }))
export const BLANK_HEAD = { code: '', name: '', note: '', retired: false }
