/** How a filter compares: `=` is the same, `!=` another, `~` holds the text, `>=` at least, `<=` at most. */
export const FILTER_SIGNS = ['>=', '<=', '!=', '=', '~'] as const
export type FilterSign = (typeof FILTER_SIGNS)[number]

/** One condition on a column of a list. `=` and `!=` with no value ask for what is empty, and what is not. */
export interface ListFilter {
  readonly column: string
  readonly sign: FilterSign
  readonly value: string
}

/** A filter as it stands in an address: `dueOn<=2026-10-05`. */
export const writeFilter = ({ column, sign, value }: ListFilter): string => `${column}${sign}${value}`

/** Null where the text is no filter. */
export function readFilter(text: string): ListFilter | null {
  const [, column, sign, value] = /^([A-Za-z]\w{0,39})(>=|<=|!=|=|~)(.*)$/s.exec(text) ?? []
  return column === undefined ? null : { column, sign: sign as FilterSign, value: value! }
}
