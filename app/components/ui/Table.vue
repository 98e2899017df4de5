<script setup lang="ts" generic="Row extends { id: number | string }">
export interface Column {
  readonly key: string
  readonly name: string
  readonly right?: boolean
  readonly sort?: string
  readonly width?: string
  readonly wrap?: boolean
}

const props = defineProps<{
  columns: readonly Column[]
  rows: readonly Row[]
  label: string
  open?: (row: Row) => void
  sort?: string
  muted?: (row: Row) => boolean
  marked?: (row: Row) => boolean
}>()
const emit = defineEmits<{ sort: [key: string] }>()
defineSlots<{ [name: string]: (props: { row: Row }) => unknown }>()

const body = useTemplateRef('body')
/** Arrow keys go from row to row, Enter opens. */
function move(event: KeyboardEvent, step: number): void {
  const list = [...(body.value?.querySelectorAll<HTMLElement>('tr[tabindex]') ?? [])]
  const index = list.indexOf(event.currentTarget as HTMLElement)
  list[index + step]?.focus()
}
function onClick(event: MouseEvent, row: Row): void {
  if ((event.target as HTMLElement).closest('a,button,input,select,label')) {
    return
  }
  props.open?.(row)
}
/** What stands in a cell that has no slot of its own. */
const textOf = (row: Row, key: string): unknown => (row as Record<string, unknown>)[key]
</script>

<template>
  <div class="@container overflow-x-auto xl:overflow-x-visible">
    <table class="w-full border-collapse" :aria-label="label">
      <thead>
        <tr class="sticky -top-4 z-10 bg-sheet text-left text-fine text-soft">
          <th
            v-for="column in columns"
            :key="column.key"
            class="border-b border-line px-2 py-2 font-medium @5xl:px-3 whitespace-nowrap"
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
      <tbody ref="body">
        <tr
          v-for="row in rows"
          :key="row.id"
          :tabindex="open ? 0 : undefined"
          class="h-9 border-b border-line/60 last:border-0"
          :class="[open && 'cursor-pointer hover:bg-wash', muted?.(row) && 'text-soft', marked?.(row) && 'bg-wash']"
          @click="onClick($event, row)"
          @keydown.enter.self="open?.(row)"
          @keydown.down.self.prevent="move($event, 1)"
          @keydown.up.self.prevent="move($event, -1)"
        >
          <td
            v-for="column in columns"
            :key="column.key"
            :class="[column.right && 'text-right', !column.wrap && 'whitespace-nowrap']"
            class="px-2 py-1.5 align-middle @5xl:px-3"
          >
            <slot v-if="$slots[column.key]" :name="column.key" :row="row" /><template v-else>{{
              textOf(row, column.key)
            }}</template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
