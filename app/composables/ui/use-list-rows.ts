import type { Paged } from '~~/shared/primitives'

/** The rows of a list, of which only what is looked at need be there. */
export interface ListRows<Row> {
  readonly total: Ref<number>
  readonly rowAt: (index: number) => Row | undefined
  readonly show: (first: number, last: number) => void
  /** All rows, however many; `onRead` tells how far it is. */
  readonly all: (onRead?: (count: number) => void) => Promise<readonly Row[]>
  readonly error: Ref<unknown>
  readonly pending: Ref<boolean>
  readonly begin: () => Promise<void>
}
/** As many rows as one question may ask for. */
const PAGE = 500

/** Rows that the server searches, sorts, filters and pages. */
export function useServerRows<Row>(
  load: (query: Record<string, unknown>) => Promise<Paged<Row>>,
  query: () => Record<string, unknown>,
): ListRows<Row> {
  const list = useLongList<Row>(load, query)
  // Whatever was reversed or undone elsewhere on the page is seen here, too.
  const stop = useNuxtApp().hook('app:data:refresh', async (keys) => {
    if (keys === undefined) {
      await list.begin()
    }
  })
  onScopeDispose(stop)
  async function all(onRead?: (count: number) => void): Promise<readonly Row[]> {
    const rows: Row[] = []
    for (let page = 1; ; page++) {
      const answer = await load({ ...query(), page, size: PAGE })
      rows.push(...answer.rows)
      onRead?.(rows.length)
      if (answer.rows.length < PAGE || rows.length >= answer.total) {
        return rows
      }
    }
  }
  return { ...list, all }
}

/** Rows that are all there, already searched, sorted and filtered. */
export const useLocalRows = <Row>(rows: () => readonly Row[]): ListRows<Row> => ({
  total: computed(() => rows().length),
  rowAt: (index) => rows()[index],
  show: () => undefined,
  all: async () => rows(),
  error: ref(null),
  pending: ref(false),
  begin: async () => undefined,
})
