import type { ForecastAnswer, ForecastRow } from '~~/shared/demand/forecast'
import type { CellEdit } from './forecast-cells'

type Line =
  | { readonly kind: 'group'; readonly name: string; readonly symbol: string | null; readonly rows: readonly number[] }
  | { readonly kind: 'item'; readonly at: number }
interface TypedCell {
  readonly itemId: number
  readonly startsOn: string
  readonly quantity: string
}
interface Patch {
  readonly before: TypedCell | undefined
  readonly after: TypedCell
}
const keyOf = (cell: { itemId: number; startsOn: string }): string => `${cell.itemId}|${cell.startsOn}`

/** What is typed into a forecast and not saved yet, over what is saved; steps can be undone and done again. */
export function useForecastGrid(forecast: () => ForecastAnswer | null | undefined, added: Ref<ForecastRow[]>) {
  const typed = reactive(new Map<string, TypedCell>())
  const past = ref<Patch[][]>([])
  const future = ref<Patch[][]>([])
  const rows = computed<ForecastRow[]>(() => {
    const own = forecast()?.rows ?? []
    return [...own, ...added.value.filter((entry) => !own.some((row) => row.itemId === entry.itemId))].sort((a, b) => {
      if (a.group < b.group) {
        return -1
      }
      if (a.group > b.group) {
        return 1
      }
      if (a.code < b.code) {
        return -1
      }
      return 1
    })
  })
  const periods = computed(() => forecast()?.periods ?? [])
  const placeOf = (row: number, column: number): { itemId: number; startsOn: string } => ({
    itemId: rows.value[row]!.itemId,
    startsOn: periods.value[column]!.first,
  })
  const saved = (row: number, column: number): string =>
    rows.value[row]!.cells[periods.value[column]!.first]?.quantity ?? ''
  const computed_ = (row: number, column: number): string | null =>
    rows.value[row]!.cells[periods.value[column]!.first]?.computed ?? null
  const shown = (row: number, column: number): string =>
    typed.get(keyOf(placeOf(row, column)))?.quantity ?? saved(row, column)
  const isTyped = (row: number, column: number): boolean => typed.has(keyOf(placeOf(row, column)))
  /** Typed over what a method said. */
  const isOver = (row: number, column: number): boolean => {
    const said = computed_(row, column)
    return said !== null && shown(row, column) !== '' && shown(row, column) !== said
  }

  function apply(edits: readonly CellEdit[]): void {
    const patches = edits
      .filter((edit) => shown(edit.row, edit.column) !== edit.text)
      .map((edit): Patch => {
        const place = placeOf(edit.row, edit.column)
        return { before: typed.get(keyOf(place)), after: { ...place, quantity: edit.text } }
      })
    if (patches.length === 0) {
      return
    }
    for (const patch of patches) {
      typed.set(keyOf(patch.after), patch.after)
    }
    past.value = [...past.value.slice(-99), patches]
    future.value = []
  }
  function undo(): void {
    const last = past.value.at(-1)
    if (!last) {
      return
    }
    for (const patch of last) {
      if (patch.before === undefined) {
        typed.delete(keyOf(patch.after))
      } else {
        typed.set(keyOf(patch.before), patch.before)
      }
    }
    past.value = past.value.slice(0, -1)
    future.value = [...future.value, last]
  }
  function redo(): void {
    const next = future.value.at(-1)
    if (!next) {
      return
    }
    for (const patch of next) {
      typed.set(keyOf(patch.after), patch.after)
    }
    future.value = future.value.slice(0, -1)
    past.value = [...past.value, next]
  }
  function clear(): void {
    typed.clear()
    past.value = []
    future.value = []
  }
  /** What is typed for these items goes; their rows have left the forecast. */
  function forget(itemIds: readonly number[]): void {
    for (const [key, cell] of [...typed]) {
      if (itemIds.includes(cell.itemId)) {
        typed.delete(key)
      }
    }
  }
  const cells = computed(() => [...typed.values()])

  /** Items under their groups, each group headed by its totals. */
  const lines = computed<Line[]>(() => {
    const all: Line[] = []
    rows.value.forEach((row, position) => {
      if (position === 0 || rows.value[position - 1]!.groupId !== row.groupId) {
        const members = rows.value.flatMap((entry, index) => (entry.groupId === row.groupId ? [index] : []))
        all.push({
          kind: 'group',
          name: row.group,
          symbol: members.every((index) => rows.value[index]!.symbol === row.symbol) ? row.symbol : null,
          rows: members,
        })
      }
      all.push({ kind: 'item', at: position })
    })
    return all
  })
  return {
    rows,
    periods,
    lines,
    shown,
    saved,
    computed: computed_,
    isTyped,
    isOver,
    apply,
    undo,
    redo,
    clear,
    forget,
    cells,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}
export type ForecastGrid = ReturnType<typeof useForecastGrid>
