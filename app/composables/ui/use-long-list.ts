import type { Paged } from '~~/shared/primitives'

const SIZE = 100

/**
 * A list of any length of which only what is looked at is read: pages are fetched as they come into view.
 *
 * `query` says what is listed; when it changes, the list begins anew. `rowAt` is undefined until the row is there.
 */
export function useLongList<Row>(
  fetchPage: (query: Record<string, unknown>) => Promise<Paged<Row>>,
  query: () => Record<string, unknown>,
) {
  const total = ref(0)
  const pages = shallowRef(new Map<number, readonly Row[]>())
  const asked = new Set<number>()
  const error = ref<unknown>(null)
  const pending = ref(false)
  let turn = 0

  async function read(page: number): Promise<void> {
    if (asked.has(page)) {
      return
    }
    asked.add(page)
    const mine = turn
    try {
      const answer = await fetchPage({ ...query(), page, size: SIZE })
      if (mine !== turn) {
        return
      }
      total.value = answer.total
      pages.value = new Map(
        page === 1 && pages.value.size === 0 ? [[page, answer.rows]] : [...pages.value, [page, answer.rows]],
      )
      error.value = null
    } catch (problem) {
      if (mine === turn) {
        error.value = problem
        asked.delete(page)
      }
    }
  }
  async function begin(): Promise<void> {
    turn++
    asked.clear()
    pending.value = true
    const mine = turn
    const first = fetchPage({ ...query(), page: 1, size: SIZE })
    asked.add(1)
    try {
      const answer = await first
      if (mine !== turn) {
        return
      }
      total.value = answer.total
      pages.value = new Map([[1, answer.rows]])
      error.value = null
    } catch (problem) {
      if (mine === turn) {
        error.value = problem
      }
    } finally {
      if (mine === turn) {
        pending.value = false
      }
    }
  }
  watch(
    query,
    () => {
      void begin()
    },
    { deep: true },
  )
  const rowAt = (index: number): Row | undefined => pages.value.get(Math.floor(index / SIZE) + 1)?.[index % SIZE]
  /** Sees to it that the rows from `first` to `last` are read. */
  function show(first: number, last: number): void {
    for (let page = Math.floor(first / SIZE) + 1; page <= Math.floor(last / SIZE) + 1; page++) {
      void read(page)
    }
  }
  return { total, rowAt, show, begin, error, pending }
}
