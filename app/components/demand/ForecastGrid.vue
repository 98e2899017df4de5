<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Step } from '~~/core/calendar/periods'
import type { ForecastGrid } from '~/composables/demand/use-forecast-grid'
import type { CellRange } from '~/composables/demand/forecast-cells'

const props = defineProps<{ grid: ForecastGrid; step: Step; editable: boolean; wrong: string | null }>()
const range = defineModel<CellRange>('range', { required: true })
const emit = defineEmits<{ keep: [] }>()
const { day, amount } = usePrint()
const session = useSession()

const HEIGHT = 34
const box = useTemplateRef('box')
const lines = computed(() => props.grid.lines.value)
const virtual = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => box.value,
    estimateSize: () => HEIGHT,
    overscan: 12,
    paddingStart: HEIGHT,
  })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => Math.max(0, (items.value[0]?.start ?? 0) - HEIGHT))
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))

const cursor = reactive({ row: 0, column: 0 })
const anchor = reactive({ row: 0, column: 0 })
const editing = ref<string | null>(null)
const columns = computed(() => props.grid.periods.value.length)
watch(
  [cursor, anchor],
  () => {
    range.value = rangeOf(cursor, anchor)
  },
  { immediate: true },
)
watch(
  () => props.grid.rows.value.length,
  (count) => {
    if (cursor.row >= count) {
      go(Math.max(0, count - 1), cursor.column, false, false)
    }
  },
)

function go(row: number, column: number, extend: boolean, focus = true): void {
  cursor.row = Math.max(0, Math.min(props.grid.rows.value.length - 1, row))
  cursor.column = Math.max(0, Math.min(columns.value - 1, column))
  if (!extend) {
    Object.assign(anchor, cursor)
  }
  if (!focus) {
    return
  }
  virtual.value.scrollToIndex(lines.value.findIndex((line) => line.kind === 'item' && line.at === cursor.row))
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
  if (!props.editable) {
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
    props.grid.apply([
      { row: cursor.row, column: cursor.column, text: readNumber(editing.value, session.company?.decimalSign) },
    ])
  }
  editing.value = null
  go(cursor.row + down, cursor.column + right, false)
}
function onKey(event: KeyboardEvent): void {
  if (editing.value !== null) {
    const moves: Readonly<Record<string, readonly [number, number]>> = {
      Enter: [event.shiftKey ? -1 : 1, 0],
      Tab: [0, event.shiftKey ? -1 : 1],
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
    }
    const move = moves[event.key]
    if (move) {
      event.preventDefault()
      commit(...move)
    } else if (event.key === 'Escape') {
      event.preventDefault()
      event.stopPropagation()
      editing.value = null
      go(cursor.row, cursor.column, false)
    }
    return
  }
  if (event.ctrlKey || event.metaKey) {
    onCommand(event)
    return
  }
  const arrows: Readonly<Record<string, readonly [number, number]>> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    Home: [0, -cursor.column],
    End: [0, columns.value],
    PageDown: [12, 0],
    PageUp: [-12, 0],
  }
  const arrow = arrows[event.key]
  if (arrow) {
    event.preventDefault()
    go(cursor.row + arrow[0], cursor.column + arrow[1], event.shiftKey)
  } else if (event.key === 'Enter' || event.key === 'F2') {
    event.preventDefault()
    begin(props.grid.shown(cursor.row, cursor.column))
  } else if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    if (props.editable) {
      props.grid.apply(pasteCells('', range.value, cursor.row, cursor.column))
    }
  } else if (/^[\d.,]$/.test(event.key)) {
    event.preventDefault()
    begin(event.key)
  }
}
function onCommand(event: KeyboardEvent): void {
  const acts: Readonly<Record<string, () => void>> = {
    z: props.grid.undo,
    y: props.grid.redo,
    s: () => emit('keep'),
    r: () => props.grid.apply(fillCells(range.value, 'right', props.grid.shown)),
    d: () => props.grid.apply(fillCells(range.value, 'down', props.grid.shown)),
    a: () => {
      Object.assign(anchor, { row: 0, column: 0 })
      cursor.row = props.grid.rows.value.length - 1
      cursor.column = columns.value - 1
    },
  }
  const act = acts[event.key.toLowerCase()]
  if (!act || (!props.editable && event.key !== 'a')) {
    return
  }
  event.preventDefault()
  act()
}
function copy(event: ClipboardEvent): void {
  if (editing.value !== null) {
    return
  }
  event.preventDefault()
  const { top, bottom, left, right } = range.value
  const text = Array.from({ length: bottom - top + 1 }, (_, r) =>
    Array.from({ length: right - left + 1 }, (_, c) => props.grid.shown(top + r, left + c)).join('\t'),
  ).join('\n')
  event.clipboardData?.setData('text/plain', text)
}
function paste(event: ClipboardEvent): void {
  if (editing.value !== null || !props.editable) {
    return
  }
  event.preventDefault()
  props.grid.apply(
    pasteCells(
      event.clipboardData?.getData('text/plain') ?? '',
      range.value,
      props.grid.rows.value.length,
      columns.value,
      session.company?.decimalSign,
    ),
  )
}
function press(event: MouseEvent, row: number, column: number): void {
  if (editing.value !== null) {
    if (cursor.row === row && cursor.column === column) {
      return
    }
    commit(0, 0)
  }
  go(row, column, event.shiftKey)
}
const over = (event: MouseEvent, row: number, column: number): void => {
  if (event.buttons === 1 && editing.value === null) {
    cursor.row = row
    cursor.column = column
  }
}
const total = (texts: readonly string[]): string => {
  const sum = sumOf(texts)
  return sum === '0' ? '' : amount(sum)
}
const rowTotal = (row: number): string =>
  total(props.grid.periods.value.map((_, column) => props.grid.shown(row, column)))
const print = (text: string): string => (numberIn(text) === null ? text : amount(text.replace(',', '.')))
</script>

<template>
  <div ref="box" class="max-h-[46vh] overflow-auto outline-none" @keydown="onKey" @copy="copy" @paste="paste">
    <table class="border-separate border-spacing-0" role="grid" aria-label="Forecast" :aria-rowcount="lines.length + 1">
      <thead class="sticky top-0 z-20 bg-sheet">
        <tr class="text-fine text-soft">
          <th class="sticky left-0 z-10 w-64 min-w-64 border-b border-line bg-sheet px-3 py-2 text-left font-medium">
            Item, in its stock unit
          </th>
          <th
            v-for="period in grid.periods.value"
            :key="period.first"
            scope="col"
            class="w-20 min-w-20 border-b border-line px-2 py-2 text-right font-medium whitespace-nowrap"
          >
            {{ periodLabel(period.first, step, day) }}
          </th>
          <th class="w-24 min-w-24 border-b border-l border-line px-2 py-2 text-right font-medium">Total</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above > 0" aria-hidden="true">
          <td :style="{ height: `${above}px` }" />
        </tr>
        <template v-for="item in items" :key="item.index">
          <tr v-if="lines[item.index]?.kind === 'group'" class="h-[34px] text-soft">
            <template
              v-for="line in [lines[item.index] as Extract<(typeof lines)[number], { kind: 'group' }>]"
              :key="line.name"
            >
              <th scope="row" class="sticky left-0 bg-wash px-3 text-left font-medium">
                {{ line.name }}<span v-if="line.symbol" class="ml-1 text-fine font-normal">in {{ line.symbol }}</span>
              </th>
              <td
                v-for="(period, column) in grid.periods.value"
                :key="period.first"
                class="bg-wash px-2 text-right text-fine"
              >
                {{ line.symbol ? total(line.rows.map((row) => grid.shown(row, column))) : '' }}
              </td>
              <td class="border-l border-line bg-wash px-2 text-right text-fine font-medium">
                {{
                  line.symbol
                    ? total(line.rows.flatMap((row) => grid.periods.value.map((_, column) => grid.shown(row, column))))
                    : ''
                }}
              </td>
            </template>
          </tr>
          <tr v-else-if="lines[item.index]" class="h-[34px]">
            <template
              v-for="row in [(lines[item.index] as Extract<(typeof lines)[number], { kind: 'item' }>).at]"
              :key="row"
            >
              <th
                scope="row"
                class="sticky left-0 z-10 truncate border-b border-line/60 bg-sheet px-3 text-left font-normal whitespace-nowrap"
              >
                <UiItemChip :id="grid.rows.value[row]!.itemId" :code="grid.rows.value[row]!.code" /><span
                  class="ml-1.5 text-fine text-soft"
                  >{{ grid.rows.value[row]!.symbol }}</span
                >
              </th>
              <td
                v-for="(period, column) in grid.periods.value"
                :key="period.first"
                role="gridcell"
                :data-cell="`${row},${column}`"
                :tabindex="row === cursor.row && column === cursor.column ? 0 : -1"
                :data-of="`${grid.rows.value[row]!.code}, ${periodLabel(period.first, step, day)}`"
                :aria-selected="isWithin(range, row, column)"
                class="relative border-b border-line/60 px-2 text-right outline-none select-none"
                :class="[
                  isWithin(range, row, column) && 'bg-maple/15',
                  row === cursor.row && column === cursor.column && 'ring-2 ring-maple ring-inset',
                  grid.isTyped(row, column) && 'font-semibold',
                  wrong === `${grid.rows.value[row]!.itemId}|${period.first}` && 'bg-brick/15',
                ]"
                :title="
                  grid.isOver(row, column)
                    ? `computed ${grid.computed(row, column)}, typed ${grid.shown(row, column)}`
                    : undefined
                "
                @mousedown.left="press($event, row, column)"
                @mouseenter="over($event, row, column)"
                @dblclick="begin(grid.shown(row, column))"
              >
                <input
                  v-if="editing !== null && row === cursor.row && column === cursor.column"
                  v-model="editing"
                  inputmode="decimal"
                  :aria-label="`${grid.rows.value[row]!.code}, ${periodLabel(period.first, step, day)}`"
                  class="absolute inset-0 w-full bg-sheet px-2 text-right outline-none ring-2 ring-maple ring-inset"
                  @blur="editing !== null && commit(0, 0)"
                />
                <template v-else
                  ><span
                    v-if="grid.isOver(row, column)"
                    class="mr-1 text-fine text-soft line-through"
                    aria-hidden="true"
                    >{{ print(grid.computed(row, column)!) }}</span
                  >{{ print(grid.shown(row, column)) }}</template
                >
              </td>
              <td class="border-b border-l border-line/60 px-2 text-right text-soft">{{ rowTotal(row) }}</td>
            </template>
          </tr>
        </template>
        <tr v-if="below > 0" aria-hidden="true">
          <td :style="{ height: `${below}px` }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>
