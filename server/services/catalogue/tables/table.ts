import type { TableName } from '~~/shared/catalogue/words'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import { day, text, yesNo, type Column } from './columns'

/**
 * A table of the catalogue: lines that fill definitions of one kind.
 *
 * Without `list` a line is a definition; with it a line is an entry of that list, and `by` are the fields that tell one
 * entry from another (of these the `loose` ones do not count where a line leaves them out). `within` is the list entry
 * that holds the list, where there is one between.
 */
export interface Table {
  readonly name: TableName
  readonly kind: DefinitionKind
  /** The column that names the definition, and the field in it. */
  readonly key: string
  readonly keyField: 'code' | 'name'
  readonly list?: {
    readonly field: string
    readonly by: readonly string[]
    readonly within?: { readonly field: string; readonly by: string }
    readonly loose?: readonly string[]
  }
  /** The definition is named by its item and by a number among those of the item; this is the column of the number. */
  readonly numbered?: 'revision' | 'rank'
  readonly columns: readonly Column[]
  /** Kinds whose codes its cells name. */
  readonly names: readonly DefinitionKind[]
  readonly summary: string
}

/** A table of which each line is a definition. */
export const own = (
  name: TableName & DefinitionKind,
  summary: string,
  columns: readonly Column[],
  names: readonly DefinitionKind[] = [],
): Table => ({
  name,
  kind: name,
  key: columns[0]!.name,
  keyField: columns[0]!.name === 'name' ? 'name' : 'code',
  columns,
  names: [name, ...names],
  summary,
})
/** `key` is the column that names the definition whose list the lines fill. */
export const list = (
  name: TableName,
  { kind, key, ...list }: NonNullable<Table['list']> & { readonly kind: DefinitionKind; readonly key: string },
  summary: string,
  columns: readonly Column[],
  names: readonly DefinitionKind[] = [],
): Table => ({
  name,
  kind,
  key,
  keyField: kind === 'calendars' ? 'name' : 'code',
  list,
  columns,
  names: [kind, ...names],
  summary,
})

export const code = text('code', { needed: true, empty: undefined })
export const name = text('name', { needed: true, empty: undefined })
export const retired = yesNo('retired')
export const span = [day('from_on', { also: ['valid from'] }), day('until_on', { also: ['valid until'] })]

/** “none” in a cell is an item's own nothing, whatever its group says. */
export const orNone = (column: Column): Column => ({
  ...column,
  read: (cell, reading) => (cell.toLowerCase() === 'none' ? null : column.read(cell, reading)),
})

/** A column of a list that fills the definition itself, the same in every line of it. */
export const ofHead = (column: Column): Column => ({ ...column, ofHead: true })
export const renamed = (column: Column, field: string): Column => ({ ...column, field })
