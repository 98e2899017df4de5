<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { ChevronDown, ChevronUp } from '@lucide/vue'
import type { DataColumn } from '~/composables/ui/data-column'

/** Chooses which columns of a list are shown, and in what order. */
const props = defineProps<{ columns: readonly DataColumn[]; shown: readonly DataColumn[] }>()
const emit = defineEmits<{ show: [keys: readonly string[] | null] }>()
/** Comes with the first look at the columns. */
const Draggable = defineAsyncComponent(async () => (await import('vuedraggable')).default)
const anchor = useTemplateRef('anchor')

const choosable = computed(() => props.columns.filter((column) => !column.isAct))
const isShown = (column: DataColumn): boolean => props.shown.some((entry) => entry.key === column.key)
/** Those that are shown in their order, then the others. */
const ordered = computed({
  get: () => [
    ...props.shown.filter((column) => !column.isAct),
    ...choosable.value.filter((column) => !isShown(column)),
  ],
  set: (columns) =>
    emit(
      'show',
      columns.filter(isShown).map((column) => column.key),
    ),
})
const keys = computed(() => props.shown.filter((column) => !column.isAct).map((column) => column.key))
function turn(column: DataColumn): void {
  emit('show', isShown(column) ? keys.value.filter((key) => key !== column.key) : [...keys.value, column.key])
}
function move(column: DataColumn, step: number): void {
  const next = [...keys.value]
  const index = next.indexOf(column.key)
  const target = index + step
  if (index >= 0 && target >= 0 && target < next.length) {
    ;[next[index], next[target]] = [next[target]!, next[index]!]
    emit('show', next)
  }
}
</script>

<template>
  <Popover v-slot="{ open }">
    <div ref="anchor">
      <PopoverButton class="h-9 rounded-block border border-line bg-sheet px-3 hover:bg-wash">Columns</PopoverButton>
      <UiFloating v-if="open" :anchor="anchor" placement="bottom-end">
        <PopoverPanel static class="w-72 p-2">
          <Draggable v-model="ordered" item-key="key" tag="ul" handle="[data-handle]">
            <template #item="{ element: column }">
              <li class="flex items-center gap-2 px-2 py-1 hover:bg-wash">
                <label class="flex min-w-0 flex-1 cursor-pointer items-center gap-2" data-handle
                  ><input
                    type="checkbox"
                    :checked="isShown(column)"
                    :disabled="column.isFixed"
                    class="size-4 accent-[var(--maple)]"
                    @change="turn(column)"
                  /><span class="truncate">{{ column.name }}</span></label
                >
                <template v-if="isShown(column)">
                  <button
                    type="button"
                    class="p-0.5 text-soft hover:text-ink"
                    :aria-label="`${column.name} further left`"
                    @click="move(column, -1)"
                  >
                    <ChevronUp class="size-3.5" />
                  </button>
                  <button
                    type="button"
                    class="p-0.5 text-soft hover:text-ink"
                    :aria-label="`${column.name} further right`"
                    @click="move(column, 1)"
                  >
                    <ChevronDown class="size-3.5" />
                  </button>
                </template>
              </li>
            </template>
          </Draggable>
          <div class="mt-1 border-t border-line pt-2">
            <UiButton small @click="emit('show', null)">As at first</UiButton>
          </div>
        </PopoverPanel>
      </UiFloating>
    </div>
  </Popover>
</template>
