<script setup lang="ts" generic="Row extends { id: number | string }">
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Paged } from '~~/shared/primitives'
import { isRightAligned, type DataColumn } from '~/composables/ui/data-column'
import { asClipboard } from '~/composables/ui/table-file'

/**
 * A list: sorted, filtered, with columns to choose, views to save, rows to choose, copied, exported and printed as it
 * is shown.
 *
 * Its rows are all there (`rows`), or the server searches, sorts, filters and pages them (`load`); `extra` are further
 * conditions of that. `isPlain`: without a toolbar, inside of something else. A slot with a column's key draws its
 * cells; `filters` stands in the toolbar, `acts` while rows are chosen, `empty` where there are none.
 */
const props = defineProps<{
  label: string
  list?: string
  columns: readonly DataColumn[]
  rows?: readonly Row[]
  load?: (query: Record<string, unknown>) => Promise<Paged<Row>>
  extra?: Readonly<Record<string, unknown>>
  sort?: string
  open?: (row: Row) => void
  muted?: (row: Row) => boolean
  marked?: (row: Row) => boolean
  isChoosable?: boolean
  canChoose?: (row: Row) => boolean
  chooseLabel?: (row: Row) => string
  isPlain?: boolean
  isEmbedded?: boolean
  searchLabel?: string
}>()
defineSlots<
  Record<string, (props: { row: Row }) => unknown> & {
    filters?: () => unknown
    tools?: () => unknown
    empty?: () => unknown
    acts?: (props: { chosen: readonly Row[]; clear: () => void }) => unknown
  }
>()
/** Longer lists are drawn only where they are looked at, in a box of their own. */
const DRAWN_WHOLE = 60
const ROW_HEIGHT = 37

const session = useSession()
const seen = computed(() => props.columns.filter(({ isCost }) => !isCost || session.allows('costs')))
const state = useListState(props.list ?? props.label, () => seen.value, !props.isPlain && !props.isEmbedded, props.sort)
const { table, found } = useDataTable<Row>(
  () => seen.value,
  () => (props.load ? null : (props.rows ?? [])),
  state,
)
const query = (): Record<string, unknown> => ({ ...props.extra, ...state.query.value })
const source = props.load ? useServerRows(props.load, query) : useLocalRows(() => found.value)
const { total, rowAt, show, pending, error } = source
/** How many there are without search and filters, for “n of m”. */
const unnarrowed = ref<number | null>(null)
watchEffect(async () => {
  if (!state.isNarrowed.value) {
    unnarrowed.value = null
  } else if (props.load) {
    unnarrowed.value = (await props.load({ ...props.extra, page: 1, size: 1 })).total
  } else {
    unnarrowed.value = props.rows?.length ?? 0
  }
})
const { chosen, choose, chooseAll, clear } = useRowChoice(rowAt, (row) => props.canChoose?.(row) ?? true)
/** How many there are to choose, once all were. */
const mostChosen = ref(Infinity)
async function chooseEvery(): Promise<void> {
  chooseAll(await source.all())
  mostChosen.value = chosen.value.size
}
void source.begin()

const box = useTemplateRef('box')
const isApart = useRowsApart(box, () => table.getTotalSize())
const isVirtual = computed(() => total.value > DRAWN_WHOLE && !props.isPlain)
const virtual = useVirtualizer(
  computed(() => ({
    count: isVirtual.value ? total.value : 0,
    getScrollElement: () => box.value,
    estimateSize: () => ROW_HEIGHT,
    overscan: 15,
  })),
)
/** A long list whose rows take no focus is a stop of the Tab key itself, so that arrows scroll it. */
const isScrolledByKeys = computed(() => isVirtual.value && !props.open && !props.isChoosable)
/** Rows are as high as what they hold: on a phone two lines or three. */
function measure(drawn: HTMLElement | null): void {
  if (drawn && isVirtual.value) {
    virtual.value.measureElement(drawn)
  }
}
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => (isVirtual.value ? (items.value[0]?.start ?? 0) : 0))
const below = computed(() =>
  isVirtual.value ? Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)) : 0,
)
const indexes = computed(() =>
  isVirtual.value ? items.value.map((item) => item.index) : Array.from({ length: total.value }, (_, index) => index),
)
watch(
  () => [indexes.value[0] ?? 0, indexes.value.at(-1) ?? 0] as const,
  ([first, last]) => {
    if (total.value > 0) {
      show(first, last)
    }
  },
)
const drawn = computed(() => indexes.value.map((index) => ({ index, row: rowAt(index) })))
const shown = computed(() => state.shown.value)
const span = computed(() => shown.value.length + (props.isChoosable ? 1 : 0))
const totals = computed(() => {
  const summed = shown.value.filter((column) => column.hasTotal)
  return summed.length > 0 && !props.load ? totalsOf(found.value, summed) : null
})
const { cellText } = useCellText()
const phonePlace = (column: DataColumn): string => `phone-${column.phone ?? placeOnPhone(column, shown.value)}`

/** Goes to a row with the keyboard, drawing it first where it is far away. */
async function goTo(index: number): Promise<void> {
  if (index < 0 || index >= total.value) {
    return
  }
  if (isVirtual.value) {
    virtual.value.scrollToIndex(index)
  }
  await nextTick()
  requestAnimationFrame(() => box.value?.querySelector<HTMLElement>(`tr[data-index="${index}"]`)?.focus())
}
function onClick(event: MouseEvent, row: Row): void {
  if (!(event.target as HTMLElement).closest('a,button,input,label,[role=listbox]')) {
    props.open?.(row)
  }
}
function onSpace(event: KeyboardEvent, row: Row | undefined, index: number): void {
  if (props.isChoosable && row) {
    event.preventDefault()
    choose(index, !chosen.value.has(row.id), event.shiftKey)
  }
}
const areAllChosen = computed(() => chosen.value.size > 0 && chosen.value.size >= mostChosen.value)
const chosenRows = computed(() => [...chosen.value.values()])
/** Ctrl+C copies the chosen rows, unless text is marked. */
async function copy(): Promise<void> {
  const rows = chosenRows.value.length > 0 ? chosenRows.value : await source.all()
  await navigator.clipboard.writeText(asClipboard(rows, shown.value))
}
function onCopy(event: ClipboardEvent): void {
  if (chosenRows.value.length > 0 && (window.getSelection()?.toString() ?? '') === '') {
    event.preventDefault()
    event.clipboardData?.setData('text/plain', asClipboard(chosenRows.value, shown.value))
  }
}
defineExpose({ refresh: source.begin, all: source.all, clear, total })
</script>

<template>
  <div class="@container" @copy="onCopy">
    <UiDataToolbar
      v-if="!isPlain"
      v-model:search="state.search.value"
      v-model:filters="state.filters.value"
      :label="label"
      :list="list ?? label"
      :search-label="searchLabel"
      :state="state"
      :columns="seen"
      :total="total"
      :unnarrowed="unnarrowed"
      :chosen-count="chosen.size"
      :all="source.all"
      :copy="copy"
      @choose-all="chooseEvery"
      @clear="clear"
    >
      <template #filters><slot name="filters" /></template>
      <template #tools><slot name="tools" /></template>
      <template #acts><slot name="acts" :chosen="chosenRows" :clear="clear" /></template>
    </UiDataToolbar>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <div
      ref="box"
      class="printed-whole relative overflow-x-auto"
      :class="[
        isApart && 'rows-apart',
        isVirtual && 'max-h-[calc(100vh-14rem)] overflow-y-auto',
        pending && 'is-loading',
      ]"
      :aria-busy="pending"
      :tabindex="isScrolledByKeys ? 0 : -1"
      :role="isScrolledByKeys ? 'region' : undefined"
      :aria-label="isScrolledByKeys ? label : undefined"
    >
      <table
        class="data-table"
        role="table"
        :aria-label="label"
        :aria-rowcount="total + 1"
        :style="{ '--least': `${table.getTotalSize()}px` }"
      >
        <thead role="rowgroup">
          <tr role="row">
            <th v-if="isChoosable" role="columnheader" class="choice">
              <input
                type="checkbox"
                :checked="areAllChosen"
                aria-label="Choose all"
                class="size-4 align-middle accent-[var(--maple)]"
                @change="chosen.size > 0 && areAllChosen ? clear() : chooseEvery()"
              />
            </th>
            <UiDataHead
              v-for="header in table.getHeaderGroups()[0]?.headers ?? []"
              :key="header.id"
              :column="seen.find((column) => column.key === header.column.id)!"
              :sorted="state.sorted.value"
              :width="state.widths.value[header.column.id]"
              @sort="state.sortBy"
              @width="state.setWidth"
            />
          </tr>
        </thead>
        <tbody role="rowgroup">
          <tr v-if="above > 0" aria-hidden="true">
            <td :colspan="span" :style="{ height: `${above}px` }" />
          </tr>
          <tr
            v-for="{ index, row } in drawn"
            :key="row?.id ?? `at ${index}`"
            :ref="(drawn) => measure(drawn as HTMLElement | null)"
            role="row"
            :data-index="index"
            :aria-rowindex="index + 2"
            :aria-selected="isChoosable && row ? chosen.has(row.id) : undefined"
            :tabindex="open || isChoosable ? 0 : undefined"
            :class="[
              open && 'cursor-pointer hover:bg-wash',
              row && muted?.(row) && 'text-soft',
              row && (marked?.(row) || chosen.has(row.id)) && 'bg-wash',
            ]"
            @click="row && onClick($event, row)"
            @keydown.enter.self="row && open?.(row)"
            @keydown.down.self.prevent="goTo(index + 1)"
            @keydown.up.self.prevent="goTo(index - 1)"
            @keydown.home.self.prevent="goTo(0)"
            @keydown.end.self.prevent="goTo(total - 1)"
            @keydown.space.self="onSpace($event, row, index)"
          >
            <template v-if="row">
              <td v-if="isChoosable" role="cell" class="choice">
                <input
                  v-if="canChoose?.(row) ?? true"
                  type="checkbox"
                  :checked="chosen.has(row.id)"
                  :aria-label="chooseLabel?.(row) ?? `Choose line ${index + 1}`"
                  class="size-4 align-middle accent-[var(--maple)]"
                  @click="choose(index, ($event.target as HTMLInputElement).checked, $event.shiftKey)"
                />
              </td>
              <td
                v-for="column in shown"
                :key="column.key"
                role="cell"
                :data-label="isRightAligned(column) || column.kind === 'day' ? column.name : undefined"
                :class="[phonePlace(column), isRightAligned(column) && 'right', column.wrap && 'wrap']"
              >
                <slot v-if="$slots[column.key]" :name="column.key" :row="row" /><template v-else>{{
                  cellText(row, column)
                }}</template>
              </td>
            </template>
            <td v-else :colspan="span"><span class="block h-3 w-1/2 rounded-block bg-wash" /></td>
          </tr>
          <tr v-if="below > 0" aria-hidden="true">
            <td :colspan="span" :style="{ height: `${below}px` }" />
          </tr>
        </tbody>
        <tfoot v-if="totals && total > 0" role="rowgroup">
          <tr role="row">
            <td v-if="isChoosable" role="cell" />
            <td
              v-for="(column, index) in shown"
              :key="column.key"
              role="cell"
              :class="isRightAligned(column) && 'right'"
            >
              {{ totals.get(column.key) ?? (index === 0 ? 'Total' : '') }}
            </td>
          </tr>
        </tfoot>
      </table>
    </div>
    <slot v-if="total === 0 && !pending && !error" name="empty" />
  </div>
</template>
