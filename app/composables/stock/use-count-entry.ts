import type { CountLineRow } from '~~/shared/stock/answers'

interface CountToEnter {
  readonly id: number
  readonly lines: readonly CountLineRow[]
}
/** As many figures as go out in one request. */
const MOST_AT_ONCE = 1000

/**
 * Which line of a sheet gets which pasted figure: a column of figures goes down from the line it was pasted into; with
 * more columns the first names the item, lot or piece, and the last is the figure. Answers also what named no line.
 */
export function pastedCounts(
  lines: readonly CountLineRow[],
  from: CountLineRow,
  cells: readonly (readonly string[])[],
): { readonly figures: ReadonlyMap<CountLineRow, string>; readonly unread: readonly string[] } {
  const figures = new Map<CountLineRow, string>()
  const unread: string[] = []
  const first = lines.indexOf(from)
  cells.forEach((row, index) => {
    const name = (row[0] ?? '').trim()
    const isNamed = row.length > 1
    const line = isNamed
      ? lines.find(
          (entry) =>
            !figures.has(entry) &&
            [entry.code, entry.lot, entry.piece].some((text) => text?.toLowerCase() === name.toLowerCase()),
        )
      : lines[first + index]
    if (line) {
      figures.set(line, (row.at(-1) ?? '').trim())
    } else if (name !== '') {
      unread.push(name)
    }
  })
  return { figures, unread }
}

/** What is typed into a count sheet: each figure is sent as its line is left, and none is lost or sent for another. */
export function useCountEntry(count: () => CountToEnter, entered: () => void) {
  const typed = reactive<Record<number, string>>(
    Object.fromEntries(count().lines.map((line) => [line.id, line.entered])),
  )
  const wrong = reactive<Record<number, string>>({})
  /** Lines with figures that the server does not have yet: what it answers of others must not wipe them out. */
  const unsaved = new Set<number>()
  /**
   * What was sent for a line since it was last typed in: Enter and leaving the field both ask, and one count is one
   * count.
   */
  const sent = new Map<number, Promise<boolean>>()
  const figureOf = (line: CountLineRow): string => (typed[line.id] ?? '').trim()
  watch(
    () => count().lines,
    (lines) => {
      for (const line of lines) {
        if (!unsaved.has(line.id) && document.activeElement?.id !== `count-${line.id}`) {
          typed[line.id] = line.entered
        }
      }
    },
  )

  function onTyped(line: CountLineRow): void {
    sent.delete(line.id)
    unsaved.add(line.id)
  }
  const enter = (lines: readonly CountLineRow[]) =>
    $fetch(`/api/stock/counts/${count().id}/enter`, {
      method: 'POST',
      // It goes out even where the page is closed meanwhile.
      keepalive: true,
      body: {
        lines: lines.map((line) => ({ lineId: line.id, quantity: figureOf(line), unit: line.stockUnit, note: '' })),
      },
    })
  async function send(line: CountLineRow): Promise<boolean> {
    const figure = figureOf(line)
    try {
      await enter([line])
      Reflect.deleteProperty(wrong, line.id)
      if (figureOf(line) === figure) {
        unsaved.delete(line.id)
      }
      entered()
      return true
    } catch (error) {
      const problem = problemOf(error)
      wrong[line.id] = Object.values(problem.fields ?? {})[0] ?? problem.detail
      return false
    }
  }
  function save(line: CountLineRow): Promise<boolean> {
    if (figureOf(line) === line.entered && wrong[line.id] === undefined) {
      unsaved.delete(line.id)
      return Promise.resolve(true)
    }
    const done = sent.get(line.id) ?? send(line)
    sent.set(line.id, done)
    return done
  }
  /** Many figures go out together; where one of them is refused, each by itself, so that each has its own sentence. */
  async function saveTogether(lines: readonly CountLineRow[]): Promise<void> {
    try {
      for (let first = 0; first < lines.length; first += MOST_AT_ONCE) {
        await enter(lines.slice(first, first + MOST_AT_ONCE))
      }
      for (const line of lines) {
        Reflect.deleteProperty(wrong, line.id)
        unsaved.delete(line.id)
      }
      entered()
    } catch {
      for (const line of lines) {
        await save(line)
      }
    }
  }
  /** Figures of a spreadsheet go in from a line on; answers what named no line. */
  async function paste(
    from: CountLineRow,
    inOrder: readonly CountLineRow[],
    cells: readonly (readonly string[])[],
  ): Promise<readonly string[]> {
    const { figures, unread } = pastedCounts(inOrder, from, cells)
    for (const [line, figure] of figures) {
      typed[line.id] = figure
      onTyped(line)
    }
    await saveTogether([...figures.keys()])
    return unread
  }
  return { typed, wrong, save, onTyped, paste }
}
