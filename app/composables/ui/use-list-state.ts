import { refDebounced, useLocalStorage } from '@vueuse/core'
import { readFilter, writeFilter, type ListFilter } from '~~/shared/list-filter'
import type { DataColumn } from './data-column'

interface KeptLayout {
  readonly columns: readonly string[] | null
  readonly widths: Readonly<Record<string, number>>
}
/** One word of an address or several, as a list. */
const asList = (value: unknown): string[] => {
  const entries = Array.isArray(value) ? value : [value]
  return entries.filter(Boolean).map(String)
}

/**
 * Writes the address of the page as it is now. Not by the router: that would break off a page change that has begun
 * meanwhile. Its own note of where it is goes along, so that going back comes here again.
 */
function writeAddress(address: string): void {
  window.history.replaceState({ ...window.history.state, current: address }, '', address)
}

/**
 * What a list shows: search, filters, sort and columns. On a page of its own they stand in the address, so that it can
 * be sent to a colleague; columns and their widths are remembered on this device.
 *
 * `name`: whose layout is remembered. `isInAddress`: false for a list inside of something else.
 */
export function useListState(name: string, columns: () => readonly DataColumn[], isInAddress: boolean, sort = '') {
  const route = useRoute()
  const router = useRouter()
  const layout = useLocalStorage<KeptLayout>(`tsumiki-list-${name}`, { columns: null, widths: {} })
  const asked = isInAddress ? route.query : {}

  const search = ref(String(asked.search ?? ''))
  const sorted = ref(String(asked.sort ?? sort))
  const filters = ref<ListFilter[]>(asList(asked.filter).flatMap((text) => readFilter(text) ?? []))
  const chosenColumns = ref<readonly string[] | null>(asked.columns ? String(asked.columns).split(',') : null)
  const slow = refDebounced(search, 150)

  const usual = computed(() =>
    columns()
      .filter((column) => !column.isHidden)
      .map((column) => column.key),
  )
  /** The columns that are shown, in their order; those that cannot be taken away and those with buttons always. */
  const shown = computed<readonly DataColumn[]>(() => {
    const byKey = new Map(columns().map((column) => [column.key, column]))
    const kept = chosenColumns.value ?? layout.value.columns ?? usual.value
    const always = columns().filter((column) => (column.isFixed || column.isAct) && !kept.includes(column.key))
    const ordered = kept.flatMap((key) => byKey.get(key) ?? [])
    return [
      ...always.filter((column) => column.isFixed),
      ...ordered.filter((column) => !column.isAct),
      ...columns().filter((column) => column.isAct),
    ]
  })
  function showColumns(keys: readonly string[] | null): void {
    chosenColumns.value = null
    layout.value = { ...layout.value, columns: keys }
  }
  function setWidth(key: string, width: number): void {
    layout.value = { ...layout.value, widths: { ...layout.value.widths, [key]: width } }
  }
  /** The question to the server. */
  const query = computed(() => ({
    search: slow.value,
    ...(sorted.value && { sort: sorted.value }),
    ...(filters.value.length > 0 && { filter: filters.value.map(writeFilter) }),
  }))
  /** The part of the address that says what is shown. */
  const address = computed<Record<string, string | string[] | undefined>>(() => ({
    search: slow.value || undefined,
    sort: sorted.value && sorted.value !== sort ? sorted.value : undefined,
    filter: filters.value.length > 0 ? filters.value.map(writeFilter) : undefined,
    columns: layout.value.columns ? layout.value.columns.join(',') : undefined,
  }))
  if (isInAddress) {
    watch(
      () => ({ ...address.value, columns: chosenColumns.value?.join(',') }),
      (now) => writeAddress(router.resolve({ query: { ...route.query, ...now }, hash: route.hash }).href),
    )
    // A link to the same page says what it is to show.
    watch(
      () => route.query,
      (asked) => {
        search.value = String(asked.search ?? '')
        sorted.value = String(asked.sort ?? sort)
        filters.value = asList(asked.filter).flatMap((text) => readFilter(text) ?? [])
      },
    )
  }
  /** Takes over what a saved view says. */
  function apply(text: string): void {
    const saved = new URLSearchParams(text)
    search.value = saved.get('search') ?? ''
    sorted.value = saved.get('sort') ?? sort
    filters.value = saved.getAll('filter').flatMap((filter) => readFilter(filter) ?? [])
    chosenColumns.value = saved.get('columns')?.split(',') ?? null
  }
  /** What is shown, as a saved view keeps it. */
  function write(): string {
    const saved = new URLSearchParams()
    for (const [key, value] of Object.entries({ ...address.value, columns: shown.value.map((c) => c.key).join(',') })) {
      for (const entry of asList(value)) {
        saved.append(key, entry)
      }
    }
    return saved.toString()
  }
  /** Sorts by a column; by it once more, the other way round; with `isMore` after what it is sorted by already. */
  function sortBy(key: string, isMore = false): void {
    const keys = sorted.value.split(',').filter(Boolean)
    const now = keys.find((entry) => entry === key || entry === `-${key}`)
    const next = now === key ? `-${key}` : key
    sorted.value = isMore ? [...keys.filter((entry) => entry !== now), next].join(',') : next
  }
  const isNarrowed = computed(() => slow.value !== '' || filters.value.length > 0)
  return {
    search,
    sorted,
    filters,
    shown,
    widths: computed(() => layout.value.widths),
    query,
    isNarrowed,
    showColumns,
    setWidth,
    sortBy,
    apply,
    write,
  }
}
export type ListState = ReturnType<typeof useListState>
