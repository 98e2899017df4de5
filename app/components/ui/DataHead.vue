<script setup lang="ts">
import { isRightAligned, type DataColumn } from '~/composables/ui/data-column'

/**
 * The head of a column: a click sorts (with the shift key, after what it is sorted by already), its right edge changes
 * its width.
 */
const props = defineProps<{ column: DataColumn; sorted: string; width?: number }>()
const emit = defineEmits<{ sort: [key: string, isMore: boolean]; width: [key: string, width: number] }>()
const cell = useTemplateRef('cell')
const LEAST = 48

const direction = computed(() => {
  const sort = sortingOf(props.sorted).find((entry) => entry.id === props.column.key)
  if (!sort) {
    return null
  }
  return sort.desc ? 'descending' : 'ascending'
})
const width = computed(() => {
  const pixels = props.width ?? props.column.width
  return pixels === undefined ? undefined : { width: `${pixels}px` }
})
function resize(event: PointerEvent): void {
  const before = cell.value?.offsetWidth ?? 0
  const move = (next: PointerEvent): void =>
    emit('width', props.column.key, Math.max(LEAST, before + next.clientX - event.clientX))
  const end = (): void => window.removeEventListener('pointermove', move)
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', end, { once: true })
}
</script>

<template>
  <th
    ref="cell"
    role="columnheader"
    :aria-sort="direction ?? undefined"
    :class="isRightAligned(column) && 'right'"
    :style="width"
  >
    <button
      v-if="!column.isAct && column.isSortable !== false"
      type="button"
      class="font-medium hover:text-ink"
      @click="emit('sort', column.key, $event.shiftKey)"
    >
      {{ column.name }}<span v-if="direction" aria-hidden="true">{{ direction === 'ascending' ? ' ↑' : ' ↓' }}</span>
    </button>
    <span v-else :class="column.isAct && 'sr-only'">{{ column.name || 'Acts' }}</span>
    <span v-if="!column.isAct" class="resizer" aria-hidden="true" @pointerdown.prevent="resize" />
  </th>
</template>
