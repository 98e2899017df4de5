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
/** Where a column stands in a row of two lines on a phone. */
function phonePlace(column: Column): string {
  if (column.key === props.columns[0]?.key) {
    return 'phone-lead'
  }
  return column.key === props.columns.find((entry) => entry.right)?.key ? 'phone-side' : 'phone-below'
}
/** What stands in a cell that has no slot of its own. */
const textOf = (row: Row, key: string): unknown => (row as Record<string, unknown>)[key]
</script>

<template>
  <div class="@container overflow-x-auto xl:overflow-x-visible">
    <table class="data-table auto" role="table" :aria-label="label">
      <thead role="rowgroup">
        <tr role="row">
          <th
            v-for="column in columns"
            :key="column.key"
            role="columnheader"
            :class="column.right && 'right'"
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
      <tbody ref="body" role="rowgroup">
        <tr
          v-for="row in rows"
          :key="row.id"
          :tabindex="open ? 0 : undefined"
          role="row"
          :class="[open && 'cursor-pointer hover:bg-wash', muted?.(row) && 'text-soft', marked?.(row) && 'bg-wash']"
          @click="onClick($event, row)"
          @keydown.enter.self="open?.(row)"
          @keydown.down.self.prevent="move($event, 1)"
          @keydown.up.self.prevent="move($event, -1)"
        >
          <td
            v-for="column in columns"
            :key="column.key"
            role="cell"
            :data-label="column.right ? column.name : undefined"
            :class="[phonePlace(column), column.right && 'right', column.wrap && 'wrap']"
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
