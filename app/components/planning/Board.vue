<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import {
  CELL_CONTENTS,
  type BoardChoice,
  type BoardPlan,
  type BoardRow,
  type CellContent,
  type LookedAt,
} from '~/composables/planning/use-board-rows'
import type { PlannedOrder } from '~/composables/planning/planned-orders'
import type { ToldMessage } from '~~/shared/planning/answers'

const props = defineProps<{
  plan: BoardPlan & { kind: string; version: number; messages: readonly ToldMessage[] }
  /** It shows what is tried out, of which nothing can be released. */
  isTried: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const sheets = useSheets()
const choice = ref<BoardChoice>({ grain: 'weeks', only: 'holes', sort: 'hole', search: '', scale: 'row' })
const cells = ref<CellContent>('blocks and figures')
const opened = ref(new Set<string>())
useKeys([
  {
    key: 'f',
    summary: 'blocks, figures, or both',
    act: () => {
      cells.value = CELL_CONTENTS[(CELL_CONTENTS.indexOf(cells.value) + 1) % CELL_CONTENTS.length]!
    },
  },
])

const { ofSteps } = usePrint()
const { buckets, rows, lateCounts, beside, asLines } = useBoardRows(
  () => props.plan,
  () => choice.value,
)
// Only the rows in sight are drawn: thousands scroll as quickly as ten.
const box = useTemplateRef('box')
const rowHeight = computed(() => (cells.value === 'blocks and figures' ? 66 : 49))
const LINE_HEIGHT = 25
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value,
    estimateSize: (index: number) =>
      rowHeight.value + (opened.value.has(rows.value[index]?.node.id ?? '') ? 6 * LINE_HEIGHT : 0),
    overscan: 8,
    getItemKey: (index: number) => rows.value[index]?.node.id ?? index,
  })),
)
watch([opened, rowHeight], () => virtual.value.measure())
const seen = computed(() => virtual.value.getVirtualItems())
const above = computed(() => seen.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (seen.value.at(-1)?.end ?? 0)))
const drawn = computed(() =>
  seen.value.flatMap(({ index }) =>
    rows.value[index]
      ? [
          {
            ...rows.value[index],
            at: index,
            drawings: cells.value === 'figures' ? [] : drawingsOf(rows.value[index]),
          },
        ]
      : [],
  ),
)
const cursor = useBoardCursor({
  box,
  rows: () => rows.value.length,
  columns: () => buckets.value.length,
  reveal: (row) => virtual.value.scrollToIndex(row),
  act: (at, column, isShift) => {
    const row = rows.value[at]!
    if (column >= 0) {
      openCell(row, column)
    } else if (isShift) {
      sheets.open(row.item.itemId)
    } else {
      toggle(row.node.id)
    }
  },
})
function toggle(id: string): void {
  const next = new Set(opened.value)
  if (!next.delete(id)) {
    next.add(id)
  }
  opened.value = next
}

const amountOf = (row: BoardRow, steps: number): string => `${ofSteps(steps, row.item.step)} ${row.item.symbol}`
/** What a cell says to who hears it: item, week, balance, shortage. */
function sayCell(row: BoardRow, index: number): string {
  const cell = row.cells[index]!
  const site = row.item.site ? ` at ${row.item.site}` : ''
  return [
    `${row.item.code}${site}, ${buckets.value[index]!.label}: ${amountOf(row, cell.projectedAvailable)}`,
    cell.withoutOrders !== cell.projectedAvailable && `${amountOf(row, cell.withoutOrders)} without new orders`,
    shortageOf(cell) > 0 && `${amountOf(row, shortageOf(cell))} short`,
    row.late[index] && 'late',
  ]
    .filter(Boolean)
    .join(', ')
}
const looking = shallowRef<LookedAt | null>(null)
function openCell(row: BoardRow, index: number): void {
  const { first, last } = buckets.value[index]!
  const { node, item } = row
  const shortage = shortageOf(row.cells[index]!)
  looking.value = {
    node: node.id,
    code: item.code,
    name: [item.name, item.site].filter(Boolean).join(', '),
    first,
    last,
    shortage: shortage > 0 ? amountOf(row, shortage) : '',
    orders: props.plan.orders.filter(
      (order) => order.node === node.id && order.state !== 'released' && order.dueOn >= first && order.dueOn <= last,
    ),
    messages: props.plan.messages
      .filter((message) => message.node === node.id && message.day >= first && message.day <= last)
      .map((message) => message.text),
  }
  cursor.place(rows.value.indexOf(row), index)
}
const mayRelease = computed(() => props.plan.kind === 'working' && session.allows('plan'))
const releasing = ref<readonly PlannedOrder[]>([])
const isReleasing = ref(false)
function askRelease(order: PlannedOrder): void {
  looking.value = null
  releasing.value = [order]
  isReleasing.value = true
}
const save = (): Promise<void> => saveCsv(asLines(), 'plan-board.csv')
</script>

<template>
  <UiSheet flush>
    <PlanningBoardTools v-model:choice="choice" v-model:cells="cells" @save="save" />
    <div ref="box" class="relative max-h-[calc(100vh-18rem)] overflow-auto">
      <UiLinesTable
        is-bare
        role="grid"
        class="w-full border-collapse"
        aria-label="Plan board"
        :aria-rowcount="rows.length + 1"
        @keydown="cursor.onKey"
      >
        <thead>
          <tr class="text-fine text-soft">
            <th
              scope="col"
              class="sticky top-0 left-0 z-20 min-w-56 bg-sheet px-3 py-2 text-left font-medium max-sm:min-w-36"
            >
              Item
            </th>
            <th
              v-for="(bucket, index) in buckets"
              :key="bucket.key"
              scope="col"
              class="sticky top-0 z-10 min-w-[4rem] bg-sheet px-1 py-2 text-center font-medium whitespace-nowrap"
            >
              {{ bucket.label
              }}<span v-if="lateCounts[index]" class="block leading-tight font-semibold text-brick"
                >{{ lateCounts[index] }} late</span
              >
            </th>
          </tr>
        </thead>
        <tbody v-if="above > 0" aria-hidden="true">
          <tr :style="{ height: `${above}px` }">
            <td />
          </tr>
        </tbody>
        <tbody v-for="row in drawn" :key="row.node.id" class="border-t border-line/60">
          <tr :aria-rowindex="row.at + 2">
            <th
              scope="row"
              class="board-cell sticky left-0 z-10 bg-sheet px-3 py-1 text-left font-normal"
              :data-at="`${row.at},-1`"
              :tabindex="cursor.isAt(row.at, -1) ? 0 : -1"
              @focus="cursor.place(row.at, -1)"
            >
              <span class="flex max-w-56 items-center gap-2"
                ><button
                  type="button"
                  tabindex="-1"
                  class="size-6 shrink-0 rounded-block border border-line text-fine leading-none hover:bg-wash"
                  :aria-expanded="opened.has(row.node.id)"
                  :aria-label="`Six lines of ${row.item.code}${row.item.site ? ` at ${row.item.site}` : ''}`"
                  @click="toggle(row.node.id)"
                >
                  {{ opened.has(row.node.id) ? '−' : '+' }}</button
                ><UiItemChip :id="row.item.itemId" :code="row.item.code" is-in-grid /><span
                  v-if="row.item.site"
                  class="min-w-0 truncate text-fine"
                  :title="row.item.site"
                  >{{ row.item.site }}</span
                ></span
              >
              <span class="block max-w-56 truncate pl-8 text-fine text-soft max-sm:max-w-32" :title="row.item.name">{{
                beside(row.item)
              }}</span>
            </th>
            <td
              v-for="(cell, index) in row.cells"
              :key="buckets[index]!.key"
              class="board-cell relative cursor-pointer border-l border-line/40 p-0 text-center text-fine hover:bg-wash"
              :data-at="`${row.at},${index}`"
              :data-hole="shortageOf(cell) > 0 || undefined"
              :data-late="row.late[index] || undefined"
              :tabindex="cursor.isAt(row.at, index) ? 0 : -1"
              :title="sayCell(row, index)"
              @focus="cursor.place(row.at, index)"
              @click="openCell(rows[row.at]!, index)"
            >
              <span class="sr-only">{{ sayCell(row, index) }}</span>
              <svg
                v-if="cells !== 'figures'"
                viewBox="0 0 64 46"
                preserveAspectRatio="none"
                class="block h-[46px] w-full"
                aria-hidden="true"
                v-html="row.drawings[index]"
              />
              <span
                v-if="cells !== 'blocks'"
                aria-hidden="true"
                class="block px-1 leading-[18px] whitespace-nowrap tabular-nums"
                ><b v-if="shortageOf(cell) > 0" class="font-semibold text-brick"
                  >−{{ ofSteps(shortageOf(cell), row.item.step) }}</b
                ><span v-else :class="cell.projectedAvailable === 0 && 'text-soft'">{{
                  ofSteps(cell.projectedAvailable, row.item.step)
                }}</span></span
              >
              <span
                v-if="row.late[index]"
                aria-hidden="true"
                class="absolute top-0 right-0 bg-brick px-1 text-[10px] leading-[14px] font-semibold text-sheet"
                >late</span
              >
            </td>
          </tr>
          <PlanningBoardLines
            v-if="opened.has(row.node.id)"
            :row="row"
            :buckets="buckets"
            @open="openCell(rows[row.at]!, $event)"
          />
        </tbody>
        <tbody v-if="below > 0" aria-hidden="true">
          <tr :style="{ height: `${below}px` }">
            <td />
          </tr>
        </tbody>
      </UiLinesTable>
      <UiEmptyState
        v-if="rows.length === 0"
        title="Nothing runs short"
        summary="Within this plan's span every need is met from what is there or coming."
      />
    </div>
    <PlanningCell
      v-if="looking"
      :key="`${looking.node} ${looking.first}`"
      :plan-id="plan.id"
      :cell="looking"
      :may-release="mayRelease && !isTried"
      :is-tried="isTried"
      @close="looking = null"
      @release="askRelease"
    />
    <PlanningReleaseOrders
      v-model="isReleasing"
      :plan="plan"
      :orders="releasing"
      label="Release 1 order"
      @released="emit('changed')"
    />
  </UiSheet>
</template>
