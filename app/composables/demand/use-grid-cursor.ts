import type { CellRange } from './forecast-cells'
import { fillCells, isWithin, pasteCells, rangeOf } from './forecast-cells'
import type { ForecastGrid } from './use-forecast-grid'

type Step = readonly [down: number, right: number]
interface Place {
  row: number
  column: number
}

/**
 * Where the cursor stands in a grid of figures, what is chosen, and what is typed: by keys, mouse and clipboard, as in
 * a spreadsheet. `box` holds the cells, each with `data-cell="row,column"`; `reveal` scrolls to a row that is not
 * drawn.
 */
export function useGridCursor(options: {
  grid: ForecastGrid
  range: Ref<CellRange>
  box: Readonly<Ref<HTMLElement | null>>
  isEditable: () => boolean
  reveal: (row: number) => void
  keep: () => void
}) {
  const { grid, range, box, isEditable } = options
  const session = useSession()
  const cursor = reactive<Place>({ row: 0, column: 0 })
  const anchor = reactive<Place>({ row: 0, column: 0 })
  const editing = ref<string | null>(null)
  const lastRow = (): number => grid.rows.value.length - 1
  const lastColumn = (): number => grid.periods.value.length - 1
  watch(
    [cursor, anchor],
    () => {
      range.value = rangeOf(cursor, anchor)
    },
    { immediate: true },
  )
  const isFieldMoving = useFollowedRows({ grid, cursor, anchor, editing, begin })

  function place(row: number, column: number, extend: boolean): void {
    cursor.row = Math.max(0, Math.min(lastRow(), row))
    cursor.column = Math.max(0, Math.min(lastColumn(), column))
    if (!extend) {
      Object.assign(anchor, cursor)
    }
  }
  /** Whoever leaves the field keeps what is typed; a field that moves with its row is drawn anew, and not left. */
  function leave(): void {
    if (editing.value !== null && !isFieldMoving()) {
      commit(0, 0)
    }
  }
  function go(row: number, column: number, extend = false): void {
    place(row, column, extend)
    options.reveal(cursor.row)
    const cell = (): HTMLElement | null | undefined =>
      box.value?.querySelector<HTMLElement>(`[data-cell="${cursor.row},${cursor.column}"]`)
    // At once where it is drawn: a key typed before the next frame would go nowhere.
    cell()?.focus({ preventScroll: true })
    void nextTick(() =>
      requestAnimationFrame(() => {
        if (editing.value === null) {
          cell()?.focus()
        }
      }),
    )
  }
  function begin(text: string): void {
    if (!isEditable()) {
      return
    }
    editing.value = text
    void nextTick(() => {
      const field = box.value?.querySelector<HTMLInputElement>('td input')
      field?.focus()
      field?.setSelectionRange(text.length, text.length)
    })
  }
  function commit(down: number, right: number): void {
    if (editing.value !== null) {
      grid.apply([
        { row: cursor.row, column: cursor.column, text: readNumber(editing.value, session.company?.decimalSign) },
      ])
    }
    editing.value = null
    go(cursor.row + down, cursor.column + right)
  }

  function onTypingKey(event: KeyboardEvent): void {
    const steps: Readonly<Record<string, Step>> = {
      Enter: [event.shiftKey ? -1 : 1, 0],
      Tab: [0, event.shiftKey ? -1 : 1],
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
    }
    const step = steps[event.key]
    if (step) {
      event.preventDefault()
      commit(...step)
    } else if (event.key === 'Escape') {
      event.preventDefault()
      event.stopPropagation()
      editing.value = null
      go(cursor.row, cursor.column)
    }
  }
  function onCommand(event: KeyboardEvent): void {
    const keyActs: Readonly<Record<string, () => void>> = {
      z: grid.undo,
      y: grid.redo,
      s: options.keep,
      r: () => grid.apply(fillCells(range.value, 'right', grid.shown)),
      d: () => grid.apply(fillCells(range.value, 'down', grid.shown)),
      a: () => {
        Object.assign(anchor, { row: 0, column: 0 })
        Object.assign(cursor, { row: lastRow(), column: lastColumn() })
      },
    }
    const act = keyActs[event.key.toLowerCase()]
    if (!act || (!isEditable() && event.key !== 'a')) {
      return
    }
    event.preventDefault()
    act()
  }
  function onStep(event: KeyboardEvent): boolean {
    const steps: Readonly<Record<string, Step>> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      Home: [0, -cursor.column],
      End: [0, lastColumn() + 1],
      PageDown: [12, 0],
      PageUp: [-12, 0],
    }
    const step = steps[event.key]
    if (step) {
      event.preventDefault()
      go(cursor.row + step[0], cursor.column + step[1], event.shiftKey)
    }
    return step !== undefined
  }
  function onKey(event: KeyboardEvent): void {
    if (editing.value !== null) {
      onTypingKey(event)
    } else if (event.ctrlKey || event.metaKey) {
      onCommand(event)
    } else if (onStep(event)) {
      return
    } else if (event.key === 'Enter' || event.key === 'F2') {
      event.preventDefault()
      begin(grid.shown(cursor.row, cursor.column))
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault()
      if (isEditable()) {
        grid.apply(pasteCells('', range.value, cursor.row, cursor.column))
      }
    } else if (/^[\d.,]$/.test(event.key)) {
      event.preventDefault()
      begin(event.key)
    }
  }

  function copy(event: ClipboardEvent): void {
    if (editing.value !== null) {
      return
    }
    event.preventDefault()
    const { top, bottom, left, right } = range.value
    const rows = Array.from({ length: bottom - top + 1 }, (_, down) =>
      Array.from({ length: right - left + 1 }, (_, across) => grid.shown(top + down, left + across)).join('\t'),
    )
    event.clipboardData?.setData('text/plain', rows.join('\n'))
  }
  function paste(event: ClipboardEvent): void {
    if (editing.value !== null || !isEditable()) {
      return
    }
    event.preventDefault()
    const text = event.clipboardData?.getData('text/plain') ?? ''
    grid.apply(pasteCells(text, range.value, lastRow() + 1, lastColumn() + 1, session.company?.decimalSign))
  }

  function press(event: MouseEvent, row: number, column: number): void {
    if (editing.value !== null) {
      if (isAtCursor(row, column)) {
        return
      }
      commit(0, 0)
    }
    go(row, column, event.shiftKey)
  }
  function drag(event: MouseEvent, row: number, column: number): void {
    if (event.buttons === 1 && editing.value === null) {
      Object.assign(cursor, { row, column })
    }
  }
  const isAtCursor = (row: number, column: number): boolean => row === cursor.row && column === cursor.column
  const isChosen = (row: number, column: number): boolean => isWithin(range.value, row, column)
  return { editing, isAtCursor, isChosen, begin, leave, onKey, copy, paste, press, drag }
}
