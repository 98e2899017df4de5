import {
  columnFilteringFeature,
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type Row as TableRow,
} from '@tanstack/vue-table'
import type { ListFilter } from '~~/shared/list-filter'
import { isRightAligned, plainCell, useCellText, type DataColumn } from './data-column'
import type { ListState } from './use-list-state'

const features = tableFeatures({
  columnFilteringFeature,
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  globalFilteringFeature,
  rowSortingFeature,
  filteredRowModel: createFilteredRowModel(),
  sortedRowModel: createSortedRowModel(),
})
type Features = typeof features

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })
/** Pixels of a column that says nothing of its width: what is short by nature, and what is text. */
const WIDTH = { number: 100, quantity: 120, money: 110, price: 110, day: 100, text: 105 } as const

/** Whether a cell fulfils a condition: numbers are compared as numbers, days as days, text as people sort it. */
function fulfils(cell: string, filter: ListFilter, column: DataColumn): boolean {
  const order = isRightAligned(column) ? Number(cell) - Number(filter.value) : collator.compare(cell, filter.value)
  switch (filter.sign) {
    case '~':
      return cell.toLowerCase().includes(filter.value.toLowerCase())
    case '=':
      return filter.value === '' ? cell === '' : cell !== '' && order === 0
    case '!=':
      return filter.value === '' ? cell !== '' : cell === '' || order !== 0
    case '>=':
      return cell !== '' && order >= 0
    case '<=':
      return cell !== '' && order <= 0
  }
}

/** The sort of a list as the table library keeps it: `-dueOn,number`. */
export const sortingOf = (sort: string): { id: string; desc: boolean }[] =>
  sort
    .split(',')
    .filter(Boolean)
    .map((key) => ({ id: key.replace(/^-/, ''), desc: key.startsWith('-') }))

/**
 * The columns of a list as they are shown, and its rows where they are all there: searched, filtered and sorted.
 *
 * `rows` is null where the server searches, filters and sorts.
 */
export function useDataTable<Row extends object>(
  columns: () => readonly DataColumn[],
  rows: () => readonly Row[] | null,
  state: ListState,
) {
  const { cellText } = useCellText()
  const isLocal = computed(() => rows() !== null)
  const searched = computed(() => columns().filter((column) => !column.isAct))

  const definitions = computed<ColumnDef<Features, Row>[]>(() =>
    columns().map((column) => ({
      id: column.key,
      header: column.name,
      size: state.widths.value[column.key] ?? column.width ?? column.least ?? WIDTH[column.kind ?? 'text'],
      minSize: 48,
      // Nothing is sorted last, whichever way.
      accessorFn: (row: Row) => plainCell(row, column) || undefined,
      sortUndefined: 'last' as const,
      sortFn: (first: TableRow<Features, Row>, second: TableRow<Features, Row>) => {
        const [before, after] = [plainCell(first.original, column), plainCell(second.original, column)]
        const difference = Number(before) - Number(after)
        return isRightAligned(column) && Number.isFinite(difference) ? difference : collator.compare(before, after)
      },
      filterFn: (row: TableRow<Features, Row>, _: string, conditions: unknown) =>
        (conditions as readonly ListFilter[]).every((filter) =>
          fulfils(plainCell(row.original, column), filter, column),
        ),
    })),
  )
  const data = computed<readonly Row[]>(() => rows() ?? [])
  const table = useTable<Features, Row>({
    features,
    columns: definitions,
    data,
    manualSorting: computed(() => !isLocal.value),
    manualFiltering: computed(() => !isLocal.value),
    columnResizeMode: 'onChange',
    globalFilterFn: ((row: TableRow<Features, Row>, _: string, text: unknown) => {
      const written = searched.value
        .map((column) => cellText(row.original, column))
        .join(' ')
        .toLowerCase()
      return String(text)
        .toLowerCase()
        .split(/\s+/)
        .every((word) => written.includes(word))
    }) as never,
    getColumnCanGlobalFilter: () => true,
    state: computed(() => ({
      sorting: sortingOf(state.sorted.value),
      columnOrder: state.shown.value.map((column) => column.key),
      columnVisibility: Object.fromEntries(
        columns().map(({ key }) => [key, state.shown.value.some((column) => column.key === key)]),
      ),
      columnFilters: [...new Set(state.filters.value.map((filter) => filter.column))].map((id) => ({
        id,
        value: state.filters.value.filter((filter) => filter.column === id),
      })),
      globalFilter: state.query.value.search,
    })) as never,
  })
  return { table, found: computed(() => table.getSortedRowModel().rows.map((row) => row.original)) }
}
