<script setup lang="ts">
import type { PlannedItem } from '~~/shared/planning/answers'
import type { NodePlan } from '~~/core/planning/explain'
import { grouped } from '~~/core/units/quantity'
import { ratio, toText } from '~~/core/units/exact'
import type { BoardCell, Grain } from '~/composables/planning/use-board'
import { useVirtualizer } from '@tanstack/vue-virtual'
const props = defineProps<{
  plan: { id: number; startsOn: string; endsOn: string; nodes: readonly NodePlan[]; items: Record<string, PlannedItem> }
}>()
const { day } = usePrint()
const grain = ref<Grain>('weeks')
const only = ref<'all' | 'holes' | 'orders'>('holes')
const sort = ref<'hole' | 'level' | 'code' | 'name' | 'group' | 'supplier'>('hole')
const search = ref('')
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

const buckets = computed(() => bucketsOf(props.plan.startsOn, props.plan.endsOn, grain.value, day))
const rows = computed(() =>
  props.plan.nodes
    .map((node) => {
      const cells = cellsOf(node, buckets.value)
      const top = Math.max(
        node.safety,
        1,
        ...cells.map((c) => Math.max(c.projectedAvailable, c.scheduledReceipts, c.plannedReceipts)),
      )
      const bottom = -Math.max(0, ...cells.map((c) => c.netRequirements))
      const firstShortage = cells.findIndex((c) => c.lowest < node.safety)
      return {
        node,
        item: props.plan.items[node.id]!,
        cells,
        top,
        bottom: Math.min(bottom, -top * 0.25),
        firstShortage,
      }
    })
    .filter(
      (row) =>
        (only.value === 'all' ||
          (only.value === 'holes'
            ? row.firstShortage >= 0
            : row.cells.some((c) => c.plannedReceipts > 0 || c.plannedReleases > 0))) &&
        `${row.item.code} ${row.item.name} ${row.item.site ?? ''} ${row.item.group} ${row.item.supplier ?? ''}`
          .toLowerCase()
          .includes(search.value.toLowerCase()),
    )
    .sort((a, b) => byChoice(a, b) || a.node.level - b.node.level || (a.item.code < b.item.code ? -1 : 1)),
)
function byChoice(a: { firstShortage: number; node: NodePlan; item: PlannedItem }, b: typeof a): number {
  if (sort.value === 'hole') {
    return (a.firstShortage < 0 ? 9999 : a.firstShortage) - (b.firstShortage < 0 ? 9999 : b.firstShortage)
  }
  if (sort.value === 'level') {
    return a.node.level - b.node.level
  }
  // What no supplier delivers comes after what one does.
  const [first, second] = [a.item[sort.value] ?? '\uFFFF', b.item[sort.value] ?? '\uFFFF']
  if (first < second) {
    return -1
  }
  if (first > second) {
    return 1
  }
  return 0
}
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
/** Rows are drawn once, however often they come in sight. */
const known = new WeakMap<object, readonly string[]>()
function drawingsOf(row: (typeof rows.value)[number]): readonly string[] {
  const made =
    known.get(row) ??
    row.cells.map((cell) =>
      drawCell(cell, { top: row.top, bottom: row.bottom, safety: row.node.safety, source: row.item.plannedSource }),
    )
  known.set(row, made)
  return made
}

const amount = (steps: number, item: PlannedItem): string => grouped(toText(ratio(item.step).mul(ratio(BigInt(steps)))))
/** What rows are ordered by is told beside them. */
const beside = (item: PlannedItem): string => {
  if (sort.value === 'group') {
    return `${item.group} · ${item.name}`
  }
  if (sort.value === 'supplier' && item.supplier) {
    return `${item.supplier} · ${item.name}`
  }
  return item.name
}
/** What a cell says is worked out when somebody points at it. */
function showHint(
  event: MouseEvent,
  { cells, item }: { cells: readonly BoardCell[]; item: PlannedItem },
  index: number,
): void {
  ;(event.currentTarget as HTMLElement).title =
    `${buckets.value[index]!.label}: ${amount(cells[index]!.withoutOrders, item)} ${item.symbol} without new orders, ${amount(cells[index]!.projectedAvailable, item)} with them`
}
const LINES = [
  ['grossRequirements', 'Gross requirements'],
  ['scheduledReceipts', 'Scheduled receipts'],
  ['projectedAvailable', 'Projected available'],
  ['netRequirements', 'Net requirements'],
  ['plannedReceipts', 'Planned order receipts'],
  ['plannedReleases', 'Planned order releases'],
] as const
const looking = ref<{ node: string; first: string; last: string } | null>(null)
function look(node: string, index: number): void {
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
function save(): void {
  const lines = [
    ['item', 'site', 'unit', 'line', ...buckets.value.map((b) => b.first)],
    ...rows.value.flatMap((row) =>
      LINES.map(([key, name]) => [
        row.item.code,
        row.item.site ?? '',
        row.item.symbol,
        name,
        ...row.cells.map((c) => toText(ratio(row.item.step).mul(ratio(BigInt(c[key]))))),
      ]),
    ),
  ]
  const link = document.createElement('a')
  link.href = URL.createObjectURL(
    new Blob(
      [
        '\uFEFF',
        lines
          .map((line) => line.map((cell) => (/[",\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)).join(','))
          .join('\r\n'),
      ],
      { type: 'text/csv' },
    ),
  )
  link.download = 'plan-board.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
      <FormSelect
        v-model="only"
        label="Rows"
        hide-label
        :options="[
          { value: 'holes', name: 'Only what runs short' },
          { value: 'orders', name: 'Only what has orders' },
          { value: 'all', name: 'All items' },
        ]"
      />
      <FormSelect
        v-model="grain"
        label="Columns"
        hide-label
        :options="[
          { value: 'days', name: 'by day' },
          { value: 'weeks', name: 'by week' },
          { value: 'months', name: 'by month' },
        ]"
      />
      <FormSelect
        v-model="sort"
        label="Order of rows"
        hide-label
        :options="[
          { value: 'hole', name: 'first hole first' },
          { value: 'level', name: 'products first, then parts' },
          { value: 'code', name: 'by code' },
          { value: 'name', name: 'by name' },
          { value: 'group', name: 'by group' },
          { value: 'supplier', name: 'by supplier' },
        ]"
      />
      <UiSearch v-model="search" label="Filter items" />
      <UiButton :aria-pressed="figures" @click="figures = !figures">{{ figures ? 'Blocks' : 'Figures' }}</UiButton>
      <UiButton @click="save">Export CSV</UiButton>
      <span class="flex-1" />
      <span class="flex flex-wrap gap-x-4 text-fine text-soft">
        <span class="flex items-center gap-1.5"><GoodsBlock state="on hand" class="size-3 border" />will be there</span
        ><span class="flex items-center gap-1.5"><GoodsBlock state="missing" class="size-3 border" />falls short</span>
        <span class="flex items-center gap-1.5"
          ><GoodsBlock state="coming" class="size-3 border" /><GoodsBlock
            state="making"
            class="-ml-1 size-3 border"
          />ordered, being made</span
        ><span class="flex items-center gap-1.5"
          ><GoodsBlock state="coming planned" class="size-3 border" /><GoodsBlock
            state="making planned"
            class="-ml-1 size-3 border"
          />planned</span
        >
      </span>
    </div>
    <div ref="box" class="max-h-[calc(100vh-18rem)] overflow-auto">
      <table class="w-full border-collapse" aria-label="Plan board">
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
                @click="look(row.node.id, index)"
              >
                {{ amount(cell.withoutOrders, row.item) }}
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
          <template v-if="opened.has(row.node.id)">
            <tr v-for="[key, name] in LINES" :key="key" class="text-fine">
              <th scope="row" class="sticky left-0 z-10 bg-sheet px-3 py-0.5 pl-10 text-left font-normal text-soft">
                {{ name }}
              </th>
              <td
                v-for="(cell, index) in row.cells"
                :key="buckets[index]!.key"
                class="border-l border-line/40 px-1.5 text-right"
                :class="key === 'projectedAvailable' ? 'font-semibold' : ''"
              >
                <button
                  v-if="cell[key] !== 0 || key === 'projectedAvailable'"
                  type="button"
                  class="block min-h-[24px] w-full text-right hover:underline"
                  :aria-label="`${name} of ${row.item.code}, ${buckets[index]!.label}: ${amount(cell[key], row.item)}, what it is made of`"
                  @click="look(row.node.id, index)"
                >
                  {{ amount(cell[key], row.item) }}
                </button>
              </td>
            </tr>
          </template>
        </tbody>
        <tbody v-if="below > 0" aria-hidden="true">
          <tr :style="{ height: `${below}px` }">
            <td />
          </tr>
        </tbody>
      </table>
      <Suspense v-if="looking"
        ><PlanningMadeOf
          :key="`${looking.node} ${looking.first}`"
          :plan-id="plan.id"
          v-bind="looking"
          @close="looking = null"
      /></Suspense>
      <UiEmpty
        v-if="rows.length === 0"
        title="Nothing runs short"
        summary="Within this plan's span every need is met from what is there or coming."
      />
    </div>
  </UiSheet>
</template>
