<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Step } from '~~/core/calendar/periods'
import type { ForecastGrid } from '~/composables/demand/use-forecast-grid'
import type { CellRange } from '~/composables/demand/forecast-cells'

const props = defineProps<{ grid: ForecastGrid; step: Step; editable: boolean; wrong: string | null }>()
const range = defineModel<CellRange>('range', { required: true })
const emit = defineEmits<{ keep: [] }>()
const { day, amount } = usePrint()

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

const cells = useGridCursor({
  grid: props.grid,
  range,
  box,
  isEditable: () => props.editable,
  reveal: (row) =>
    virtual.value.scrollToIndex(lines.value.findIndex((line) => line.kind === 'item' && line.at === row)),
  keep: () => emit('keep'),
})
const { editing } = cells
const total = (texts: readonly string[]): string => {
  const sum = sumOf(texts)
  return sum === '0' ? '' : amount(sum)
}
const rowTotal = (row: number): string =>
  total(props.grid.periods.value.map((_, column) => props.grid.shown(row, column)))
const print = (text: string): string => (numberIn(text) === null ? text : amount(text.replace(',', '.')))
</script>

<template>
  <div
    ref="box"
    class="max-h-[46vh] overflow-auto outline-none"
    @keydown="cells.onKey"
    @copy="cells.copy"
    @paste="cells.paste"
  >
    <UiLinesTable
      is-bare
      class="min-w-full border-separate border-spacing-0"
      role="grid"
      aria-label="Forecast"
      :aria-rowcount="lines.length + 1"
    >
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
                :tabindex="cells.isAtCursor(row, column) ? 0 : -1"
                :data-of="`${grid.rows.value[row]!.code}, ${periodLabel(period.first, step, day)}`"
                :aria-selected="cells.isChosen(row, column)"
                class="relative border-b border-line/60 px-2 text-right outline-none select-none"
                :class="[
                  cells.isChosen(row, column) && 'bg-maple/15',
                  cells.isAtCursor(row, column) && 'ring-2 ring-maple ring-inset',
                  grid.isTyped(row, column) && 'font-semibold',
                  wrong === `${grid.rows.value[row]!.itemId}|${period.first}` && 'bg-brick/15',
                ]"
                :title="
                  grid.isOver(row, column)
                    ? `computed ${grid.computed(row, column)}, typed ${grid.shown(row, column)}`
                    : undefined
                "
                @mousedown.left="cells.press($event, row, column)"
                @mouseenter="cells.drag($event, row, column)"
                @dblclick="cells.begin(grid.shown(row, column))"
              >
                <input
                  v-if="editing !== null && cells.isAtCursor(row, column)"
                  v-model="editing"
                  inputmode="decimal"
                  :aria-label="`${grid.rows.value[row]!.code}, ${periodLabel(period.first, step, day)}`"
                  class="absolute inset-0 w-full bg-sheet px-2 text-right outline-none ring-2 ring-maple ring-inset"
                  @blur="cells.leave()"
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
    </UiLinesTable>
  </div>
</template>
