import { sql, type SQL } from 'drizzle-orm'
import { Refusal } from '~~/server/utils/refusal'
import { isIsoDate } from '~~/core/calendar/days'
import type { ListFilter } from '~~/shared/list-filter'
import type { Paged } from '~~/shared/primitives'
import { rows, type Reader } from '../client'
import { anywhere, onePage } from './search'

/** What a list can be sorted and filtered by: each column's expression, and what it holds. */
export type ListColumns = Readonly<Record<string, { readonly sql: SQL; readonly kind: 'text' | 'number' | 'day' }>>

function namedColumn(key: string, kind: 'text' | 'number' | 'day'): SQL {
  const name = sql.raw(`"${key}"`)
  return kind === 'number' ? sql`${name}::numeric` : name
}

/** Columns that a subquery has under the names by which the list shows them. */
export const namedColumns = (kinds: Readonly<Record<string, 'text' | 'number' | 'day'>>): ListColumns =>
  Object.fromEntries(Object.entries(kinds).map(([key, kind]) => [key, { sql: namedColumn(key, kind), kind }]))

/**
 * The order of a list: by `sort`, names of columns with commas between, a minus before what goes down; then by `usual`,
 * which decides between equals. Empty stands last either way.
 *
 * Errors: refuses a column that the list has not.
 */
export function sortedBy(sort: string, columns: ListColumns, usual: SQL): SQL {
  const keys = sort.split(',').filter(Boolean)
  const parts = keys.map((key) => {
    const isDown = key.startsWith('-')
    const column = columnOf(columns, isDown ? key.slice(1) : key)
    return isDown ? sql`(${column.sql}) desc nulls last` : sql`(${column.sql}) asc nulls last`
  })
  return sql.join([...parts, usual], sql`, `)
}

/**
 * A list that is narrowed, sorted and paged as it is asked for: `from` has its columns under the names by which it
 * shows them.
 */
export interface ListSource {
  readonly from: SQL
  /** What it is narrowed by besides its filters: a search. */
  readonly where: SQL
  readonly columns: ListColumns
  /** The order where none is asked for, and between equals. */
  readonly usual: SQL
}

/** One page of a list, and how many there are in all. */
export async function readPage<Row extends object>(
  reader: Reader,
  query: {
    readonly sort: string
    readonly filter: readonly ListFilter[]
    readonly page: number
    readonly size: number
  },
  { from, where, columns, usual }: ListSource,
): Promise<Paged<Row>> {
  const narrowed = sql`from ${from} where ${where} and ${filteredBy(query.filter, columns)}`
  const [count] = await rows<{ total: number }>(reader, sql`select count(*)::int as total ${narrowed}`)
  const order = sortedBy(query.sort, columns, usual)
  return {
    rows: await rows<Row>(reader, sql`select * ${narrowed} order by ${order} ${onePage(query)}`),
    total: count!.total,
  }
}

/**
 * The condition that filters amount to.
 *
 * Errors: refuses a column that the list has not, and a value that is no number or no day where one is compared.
 */
export function filteredBy(filters: readonly ListFilter[], columns: ListColumns): SQL {
  return filters.length === 0
    ? sql`true`
    : sql`(${sql.join(
        filters.map((filter) => conditionOf(filter, columns)),
        sql` and `,
      )})`
}

function columnOf(columns: ListColumns, key: string): ListColumns[string] {
  const column = Object.hasOwn(columns, key) ? columns[key] : undefined
  if (!column) {
    throw new Refusal('invalid-input', `This list has no column “${key}”.`)
  }
  return column
}

function conditionOf({ column: key, sign, value }: ListFilter, columns: ListColumns): SQL {
  const column = columnOf(columns, key)
  const cell = sql`(${column.sql})`
  if (sign === '~') {
    return sql`${cell}::text ilike ${anywhere(value)}`
  }
  if (value === '' && (sign === '=' || sign === '!=')) {
    const isEmpty = sql`coalesce(${cell}::text, '') = ''`
    return sign === '=' ? isEmpty : sql`not (${isEmpty})`
  }
  const compared = comparable(column.kind, value, key)
  switch (sign) {
    case '=':
      return sql`${cell} = ${compared}`
    case '!=':
      return sql`${cell} is distinct from ${compared}`
    case '>=':
      return sql`${cell} >= ${compared}`
    case '<=':
      return sql`${cell} <= ${compared}`
  }
}

function comparable(kind: 'text' | 'number' | 'day', value: string, key: string): SQL {
  if (kind === 'number') {
    if (!/^-?\d{1,20}(\.\d{1,12})?$/.test(value)) {
      throw new Refusal('invalid-input', `“${value}” is no number to filter ${key} by.`)
    }
    return sql`${value}::numeric`
  }
  if (kind === 'day') {
    if (!isIsoDate(value)) {
      throw new Refusal('invalid-input', `“${value}” is no date to filter ${key} by.`)
    }
    return sql`${value}::date`
  }
  return sql`${value}::text`
}
