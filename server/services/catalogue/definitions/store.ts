import { sql } from 'drizzle-orm'
import { parts, ratio, toText } from '~~/core/units/exact'
import type { Reader, Tx } from '~~/server/database/client'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import type { DefinitionKind } from '~~/shared/catalogue/words'

/** A row as the database names its columns; values as JSON carries them. */
export type Row = Readonly<Record<string, unknown>>

/**
 * One definition to be saved: a new one where `id` is null; `version` is what its author saw, null where nobody looked.
 */
export interface Edit<K extends DefinitionKind> {
  readonly id: number | null
  readonly version: number | null
  readonly definition: Definition<K>
}

/** What is wrong with one edit of several, beside its field. */
export interface Fault {
  readonly edit: number
  readonly field: string
  readonly detail: string
}

/** How one kind of definition is kept: its table, the tables of its lists, and what must hold. */
export interface DefinitionStore<K extends DefinitionKind> {
  readonly kind: K
  readonly table: string
  /** The column that people know it by, and the field of the same. */
  readonly key: 'code' | 'name'
  /** The field beside which it is told that the key is taken, where people do not type the key itself. */
  readonly keyField?: string
  /** Tables of its lists, each with the column that points back. */
  readonly lists: Readonly<Record<string, string>>
  load(reader: Reader, ids: readonly number[] | 'all'): Promise<Stored<K>[]>
  /** Its own row, and the rows of each list without the column that points back. */
  rowsOf(definition: Definition<K>): { readonly own: Row; readonly lists: Readonly<Record<string, readonly Row[]>> }
  /** Fills in what is worked out (inherited values) before it is checked. */
  complete?(tx: Tx, edits: readonly Edit<K>[], before: ReadonlyMap<number, Stored<K>>): Promise<Edit<K>[]>
  check(
    tx: Tx,
    edits: readonly Edit<K>[],
    before: ReadonlyMap<number, Stored<K>>,
    actor: import('~~/server/utils/route').Actor,
  ): Promise<Fault[]>
  /** What edits change elsewhere without a word of it, a sentence each: shown first, and done with a yes. */
  effects?(tx: Tx, edits: readonly Edit<K>[], before: ReadonlyMap<number, Stored<K>>): Promise<string[]>
  /** What must follow once it is written; its faults stand beside fields of the edit. */
  after?(
    tx: Tx,
    actor: import('~~/server/utils/route').Actor,
    edits: readonly (Edit<K> & { id: number })[],
  ): Promise<Fault[]>
}

/** A ratio that is kept as numerator and denominator, as the one text that stands for it; and back. */
export const exactText = (numerator: string, denominator: string): string =>
  toText(ratio(numerator).div(ratio(denominator)))
export const splitText = (text: string): { numerator: string; denominator: string } => {
  const { n, d } = parts(ratio(text))
  return { numerator: n.toString(), denominator: d.toString() }
}

/** Writes rows into a table in one statement; the database reads each value by its column's type. */
export async function insertRows(tx: Tx, table: string, list: readonly Row[]): Promise<Row[]> {
  if (list.length === 0) {
    return []
  }
  const columns = sql.join(
    Object.keys(list[0]!).map((name) => sql.identifier(name)),
    sql`, `,
  )
  const name = sql.identifier(table)
  return (
    await tx.execute(
      sql`
        insert into ${name} (${columns})
        select ${columns}
        from jsonb_populate_recordset(null::${name}, ${jsonOf(list)}::jsonb)
        returning *`,
    )
  ).rows as Row[]
}

/** Sets the given columns of rows that are there, by id, and counts their version up. */
export async function updateRows(tx: Tx, table: string, list: readonly Row[]): Promise<void> {
  if (list.length === 0) {
    return
  }
  const name = sql.identifier(table)
  const columns = Object.keys(list[0]!).filter((column) => column !== 'id')
  const set = sql.join(
    columns.map((column) => sql`${sql.identifier(column)} = v.${sql.identifier(column)}`),
    sql`, `,
  )
  await tx.execute(
    sql`
      update ${name} t
      set ${set}, version = t.version + 1
      from jsonb_populate_recordset(null::${name}, ${jsonOf(list)}::jsonb) v
      where t.id = v.id`,
  )
}

const jsonOf = (list: readonly Row[]): string => JSON.stringify(list).replaceAll('\\u0000', '')
