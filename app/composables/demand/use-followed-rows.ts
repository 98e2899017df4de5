import type { ForecastGrid } from './use-forecast-grid'

/**
 * Rows come, go and change places; who stands in a row, or types into it, stays with its item. What is typed for an
 * item that goes is dropped. Answers whether the field is moving just now: it is drawn anew then, and nobody has left it.
 */
export function useFollowedRows(options: {
  grid: ForecastGrid
  cursor: { row: number }
  anchor: { row: number }
  editing: Ref<string | null>
  begin: (text: string) => void
}): () => boolean {
  const { grid, cursor, anchor, editing } = options
  let isMoving = false
  watch(
    () => grid.rows.value.map((row) => row.itemId),
    (now, before) => {
      const follow = (row: number): number => {
        const at = now.indexOf(before[row] ?? 0)
        return at < 0 ? Math.max(0, Math.min(row, now.length - 1)) : at
      }
      const own = before[cursor.row]
      if (own !== undefined && !now.includes(own)) {
        editing.value = null
      }
      anchor.row = follow(anchor.row)
      cursor.row = follow(cursor.row)
      if (editing.value !== null) {
        isMoving = true
        options.begin(editing.value)
        void nextTick(() => {
          isMoving = false
        })
      }
    },
  )
  return () => isMoving
}
