/**
 * Where the cursor stands on the plan board, moved by keys as the ARIA practices for grids ask: one stop of the Tab
 * key, arrows within. Column −1 is the item at the head of a row. `box` holds the cells, each with
 * `data-at="row,column"`; `reveal` scrolls to a row that is not drawn.
 */
export function useBoardCursor(options: {
  box: Readonly<Ref<HTMLElement | null>>
  rows: () => number
  columns: () => number
  reveal: (row: number) => void
  /** Enter or Space on a cell, with the shift key or without; at the head of a row, too. */
  act: (row: number, column: number, isShift: boolean) => void
}) {
  const at = reactive({ row: 0, column: 0 })
  const cellAt = (row: number, column: number): HTMLElement | null | undefined =>
    options.box.value?.querySelector<HTMLElement>(`[data-at="${row},${column}"]`)

  function place(row: number, column: number): void {
    at.row = Math.max(0, Math.min(options.rows() - 1, row))
    at.column = Math.max(-1, Math.min(options.columns() - 1, column))
  }
  function go(row: number, column: number): void {
    place(row, column)
    const cell = cellAt(at.row, at.column)
    if (cell) {
      cell.focus()
      return
    }
    options.reveal(at.row)
    void nextTick(() => requestAnimationFrame(() => cellAt(at.row, at.column)?.focus()))
  }
  watch([options.rows, options.columns], () => place(at.row, at.column))

  const PAGE = 10
  const targets = (event: KeyboardEvent): Readonly<Record<string, readonly [row: number, column: number]>> => ({
    ArrowUp: [at.row - 1, at.column],
    ArrowDown: [at.row + 1, at.column],
    ArrowLeft: [at.row, at.column - 1],
    ArrowRight: [at.row, at.column + 1],
    Home: [event.ctrlKey ? 0 : at.row, -1],
    End: [event.ctrlKey ? Infinity : at.row, Infinity],
    PageUp: [at.row - PAGE, at.column],
    PageDown: [at.row + PAGE, at.column],
  })
  function onKey(event: KeyboardEvent): void {
    // What stands within a cell or between the rows has keys of its own.
    if (!(event.target as HTMLElement).dataset.at || event.altKey || event.metaKey) {
      return
    }
    const target = targets(event)[event.key]
    if (target) {
      event.preventDefault()
      go(...target)
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      options.act(at.row, at.column, event.shiftKey)
    }
  }
  const isAt = (row: number, column: number): boolean => row === at.row && column === at.column
  return { at, isAt, place, go, onKey }
}
