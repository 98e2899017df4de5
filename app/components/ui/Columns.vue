<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'

/** Chooses which columns of a list are shown. */
const props = defineProps<{
  columns: readonly { readonly key: string; readonly name: string }[]
  fixed: readonly string[]
}>()
const shown = defineModel<string[]>({ required: true })
function turn(key: string): void {
  shown.value = shown.value.includes(key)
    ? shown.value.filter((entry) => entry !== key)
    : props.columns.map((column) => column.key).filter((entry) => entry === key || shown.value.includes(entry))
}
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="h-9 rounded-block border border-line bg-sheet px-3 hover:bg-wash">Columns</PopoverButton>
    <PopoverPanel class="absolute right-0 z-30 mt-1 w-56 rounded-block border border-line bg-sheet p-2 shadow-lg">
      <label
        v-for="column in columns.filter((c) => !fixed.includes(c.key))"
        :key="column.key"
        class="flex cursor-pointer items-center gap-2 px-2 py-1 hover:bg-wash"
        ><input
          type="checkbox"
          :checked="shown.includes(column.key)"
          class="size-4 accent-[var(--maple)]"
          @change="turn(column.key)"
        />{{ column.name }}</label
      >
    </PopoverPanel>
  </Popover>
</template>
