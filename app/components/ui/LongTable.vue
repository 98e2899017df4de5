<script setup lang="ts" generic="Row extends { id: number }">
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Column } from './Table.vue'

const props = defineProps<{
  columns: readonly Column[]
  total: number
  rowAt: (index: number) => Row | undefined
  label: string
  open?: (row: Row) => void
  sort?: string
  muted?: (row: Row) => boolean
  chosen?: ReadonlySet<number>
}>()
const emit = defineEmits<{
  sort: [key: string]
  show: [first: number, last: number]
  choose: [row: Row, on: boolean, from: number | null, at: number]
}>()
defineSlots<{ [name: string]: (props: { row: Row }) => unknown }>()

const HEIGHT = 37
const box = useTemplateRef('box')
const virtual = useVirtualizer(
  computed(() => ({ count: props.total, getScrollElement: () => box.value, estimateSize: () => HEIGHT, overscan: 15 })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => items.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))
watch(
  () => [items.value[0]?.index ?? 0, items.value.at(-1)?.index ?? 0] as const,
  ([first, last]) => {
    if (last > 0 || props.total > 0) {
      emit('show', first, last)
    }
  },
  { immediate: true },
)
const shown = computed(() => items.value.map((item) => ({ at: item.index, row: props.rowAt(item.index) })))
const last = ref<number | null>(null)

async function move(index: number): Promise<void> {
  if (index < 0 || index >= props.total) {
    return
  }
  virtual.value.scrollToIndex(index)
  await nextTick()
  requestAnimationFrame(() => box.value?.querySelector<HTMLElement>(`tr[data-at="${index}"]`)?.focus())
}
function onClick(event: MouseEvent, row: Row): void {
  if ((event.target as HTMLElement).closest('a,button,input,select,label')) {
    return
  }
  props.open?.(row)
}
function choose(event: MouseEvent, row: Row, index: number): void {
  emit('choose', row, (event.target as HTMLInputElement).checked, event.shiftKey ? last.value : null, index)
  last.value = index
}
const cellClass = (column: Column): (string | boolean | undefined)[] => [column.right && 'text-right', 'truncate']
/** What stands in a cell that has no slot of its own. */
const textOf = (row: Row, key: string): unknown => (row as Record<string, unknown>)[key]
</script>

<template>
  <div ref="box" class="max-h-[calc(100vh-13.5rem)] overflow-auto" tabindex="-1">
    <table class="w-full table-fixed border-collapse" :aria-label="label" :aria-rowcount="total + 1">
      <thead>
        <tr class="sticky top-0 z-10 bg-sheet text-left text-fine text-soft">
          <th v-if="chosen" class="w-10 border-b border-line px-3 py-2">
            <slot name="all" :row="undefined as never" />
          </th>
          <th
            v-for="column in columns"
            :key="column.key"
            class="border-b border-line px-3 py-2 font-medium whitespace-nowrap"
            :class="column.right && 'text-right'"
            :style="column.width ? { width: column.width } : undefined"
          >
            <button
              v-if="column.sort"
              type="button"
              class="font-medium hover:text-ink"
              @click="emit('sort', sort === column.sort ? `-${column.sort}` : column.sort)"
            >
              {{ column.name }}<span v-if="sort === column.sort" aria-label="ascending"> ↑</span
              ><span v-else-if="sort === `-${column.sort}`" aria-label="descending"> ↓</span>
            </button>
            <template v-else>{{ column.name }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above > 0" aria-hidden="true">
          <td :colspan="columns.length + 1" :style="{ height: `${above}px` }" />
        </tr>
        <tr
          v-for="{ at, row } in shown"
          :key="at"
          :data-at="at"
          :aria-rowindex="at + 2"
          :tabindex="open ? 0 : undefined"
          class="border-b border-line/60"
          :style="{ height: `${HEIGHT}px` }"
          :class="[
            open && 'cursor-pointer hover:bg-wash',
            row && muted?.(row) && 'text-soft',
            row && chosen?.has(row.id) && 'bg-wash',
          ]"
          @click="row && onClick($event, row)"
          @keydown.enter.self="row && open?.(row)"
          @keydown.down.self.prevent="move(at + 1)"
          @keydown.up.self.prevent="move(at - 1)"
          @keydown.space.self.prevent="row && emit('choose', row, !chosen?.has(row.id), null, at)"
        >
          <template v-if="row">
            <td v-if="chosen" class="px-3 align-middle">
              <input
                type="checkbox"
                :checked="chosen.has(row.id)"
                :aria-label="`Choose line ${at + 1}`"
                class="size-4 align-middle accent-[var(--maple)]"
                @click="choose($event, row, at)"
              />
            </td>
            <td v-for="column in columns" :key="column.key" class="px-3 py-1 align-middle" :class="cellClass(column)">
              <slot v-if="$slots[column.key]" :name="column.key" :row="row" /><template v-else>{{
                textOf(row, column.key)
              }}</template>
            </td>
          </template>
          <td v-else :colspan="columns.length + 1" class="px-3">
            <span class="block h-3 w-1/2 rounded-block bg-wash" />
          </td>
        </tr>
        <tr v-if="below > 0" aria-hidden="true">
          <td :colspan="columns.length + 1" :style="{ height: `${below}px` }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>
