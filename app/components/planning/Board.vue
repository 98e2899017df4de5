<script setup lang="ts">
import type { BoardChoice, BoardPlan, BoardRow } from '~/composables/planning/use-board-rows'
import { useVirtualizer } from '@tanstack/vue-virtual'
const props = defineProps<{
  plan: BoardPlan
}>()
const choice = reactive<BoardChoice>({ grain: 'weeks', only: 'holes', sort: 'hole', search: '' })
const figures = ref(false)
const opened = ref(new Set<string>())
useKeys([
  {
    key: 'f',
    summary: 'figures or blocks',
    act: () => {
      figures.value = !figures.value
    },
  },
])

const { ofSteps } = usePrint()
const { buckets, rows, beside, asLines } = useBoardRows(() => props.plan, choice)
// Only the rows in sight are drawn: thousands scroll as quickly as ten.
const box = useTemplateRef('box')
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value,
    estimateSize: (index: number) => (opened.value.has(rows.value[index]?.node.id ?? '') ? 49 + 6 * 25 : 49),
    overscan: 8,
    getItemKey: (index: number) => rows.value[index]?.node.id ?? index,
  })),
)
watch(opened, () => virtual.value.measure())
const seen = computed(() => virtual.value.getVirtualItems())
const above = computed(() => seen.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (seen.value.at(-1)?.end ?? 0)))
const drawn = computed(() =>
  seen.value.flatMap(({ index }) =>
    rows.value[index]
      ? [{ ...rows.value[index], at: index, drawings: figures.value ? [] : drawingsOf(rows.value[index]) }]
      : [],
  ),
)
/** What a cell says is worked out when somebody points at it. */
function showHint(event: MouseEvent, { cells, item }: BoardRow, index: number): void {
  ;(event.currentTarget as HTMLElement).title =
    `${buckets.value[index]!.label}: ${ofSteps(cells[index]!.withoutOrders, item.step)} ${item.symbol} without new orders, ${ofSteps(cells[index]!.projectedAvailable, item.step)} with them`
}
const looking = ref<{ node: string; first: string; last: string } | null>(null)
function openDetail(node: string, index: number): void {
  const { first, last } = buckets.value[index]!
  looking.value = { node, first, last }
}
function toggle(id: string): void {
  const next = new Set(opened.value)
  if (!next.delete(id)) {
    next.add(id)
  }
  opened.value = next
}
const save = (): void => saveCsv(asLines(), 'plan-board.csv')
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
      <UiChoice
        v-model="choice.only"
        label="Rows"
        hide-label
        :options="[
          { value: 'holes', name: 'Only what runs short' },
          { value: 'orders', name: 'Only what has orders' },
          { value: 'all', name: 'All items' },
        ]"
      />
      <UiChoice
        v-model="choice.grain"
        label="Columns"
        hide-label
        :options="[
          { value: 'days', name: 'by day' },
          { value: 'weeks', name: 'by week' },
          { value: 'months', name: 'by month' },
        ]"
      />
      <UiChoice
        v-model="choice.sort"
        label="Order of rows"
        hide-label
        :options="[
          { value: 'hole', name: 'first shortage first' },
          { value: 'level', name: 'products first, then parts' },
          { value: 'code', name: 'by code' },
          { value: 'name', name: 'by name' },
          { value: 'group', name: 'by group' },
          { value: 'supplier', name: 'by supplier' },
        ]"
      />
      <UiSearch v-model="choice.search" label="Filter items" />
      <UiButton :aria-pressed="figures" @click="figures = !figures">{{ figures ? 'Blocks' : 'Figures' }}</UiButton>
      <UiButton @click="save">Export CSV</UiButton>
      <span class="flex-1" />
      <PlanningBoardLegend />
    </div>
    <div ref="box" class="max-h-[calc(100vh-18rem)] overflow-auto">
      <UiLinesTable is-bare class="w-full border-collapse" aria-label="Plan board">
        <thead>
          <tr class="text-fine text-soft">
            <th class="sticky top-0 left-0 z-20 min-w-56 bg-sheet px-3 py-2 text-left font-medium">Item</th>
            <th
              v-for="bucket in buckets"
              :key="bucket.key"
              class="sticky top-0 z-10 min-w-[4rem] bg-sheet px-1 py-2 text-center font-medium whitespace-nowrap"
            >
              {{ bucket.label }}
            </th>
          </tr>
        </thead>
        <tbody v-if="above > 0" aria-hidden="true">
          <tr :style="{ height: `${above}px` }">
            <td />
          </tr>
        </tbody>
        <tbody v-for="row in drawn" :key="row.node.id" class="border-t border-line/60">
          <tr>
            <th scope="row" class="sticky left-0 z-10 bg-sheet px-3 py-1 text-left font-normal">
              <span class="flex max-w-56 items-center gap-2"
                ><button
                  type="button"
                  class="size-5 shrink-0 rounded-block border border-line text-fine leading-none hover:bg-wash"
                  :aria-expanded="opened.has(row.node.id)"
                  :aria-label="`Six lines of ${row.item.code}${row.item.site ? ` at ${row.item.site}` : ''}`"
                  @click="toggle(row.node.id)"
                >
                  {{ opened.has(row.node.id) ? '−' : '+' }}</button
                ><UiItemChip :id="row.item.itemId" :code="row.item.code" /><span
                  v-if="row.item.site"
                  class="min-w-0 truncate text-fine"
                  :title="row.item.site"
                  >{{ row.item.site }}</span
                ></span
              >
              <span class="block max-w-56 truncate pl-7 text-fine text-soft" :title="row.item.name">{{
                beside(row.item)
              }}</span>
            </th>
            <td
              v-for="(cell, index) in row.cells"
              :key="buckets[index]!.key"
              class="border-l border-line/40 p-0 text-right text-fine"
              :data-hole="cell.netRequirements > 0 || undefined"
              @mouseenter="showHint($event, row, index)"
            >
              <button
                v-if="figures"
                type="button"
                class="block w-full px-1.5 text-right hover:bg-wash"
                :class="cell.withoutOrders < 0 && 'font-semibold text-brick'"
                @click="openDetail(row.node.id, index)"
              >
                {{ ofSteps(cell.withoutOrders, row.item.step) }}
              </button>
              <svg
                v-else
                viewBox="0 0 64 46"
                preserveAspectRatio="none"
                class="block h-[46px] w-full"
                aria-hidden="true"
                v-html="row.drawings[index]"
              />
            </td>
          </tr>
          <PlanningBoardLines
            v-if="opened.has(row.node.id)"
            :row="row"
            :buckets="buckets"
            @open="openDetail(row.node.id, $event)"
          />
        </tbody>
        <tbody v-if="below > 0" aria-hidden="true">
          <tr :style="{ height: `${below}px` }">
            <td />
          </tr>
        </tbody>
      </UiLinesTable>
      <Suspense v-if="looking"
        ><PlanningMadeOf
          :key="`${looking.node} ${looking.first}`"
          :plan-id="plan.id"
          v-bind="looking"
          @close="looking = null"
      /></Suspense>
      <UiEmptyState
        v-if="rows.length === 0"
        title="Nothing runs short"
        summary="Within this plan's span every need is met from what is there or coming."
      />
    </div>
  </UiSheet>
</template>
