<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { CellRange } from '~/composables/demand/forecast-cells'
import type { ForecastGrid } from '~/composables/demand/use-forecast-grid'

defineProps<{ forecastId: number; grid: ForecastGrid; range: CellRange; editable: boolean; chosen: number }>()
const emit = defineEmits<{ add: [item: ItemName]; percent: []; spread: []; takeOut: []; remove: [] }>()
const adding = ref<number | null>(null)
function add(item: ItemName): void {
  adding.value = null
  emit('add', item)
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
    <div v-if="editable" class="w-64">
      <UiItemField v-model="adding" label="Add an item" hide-label @chosen="add" />
    </div>
    <template v-if="editable && grid.rows.value.length">
      <UiButton small @click="grid.apply(fillCells(range, 'right', grid.shown))">Fill right</UiButton>
      <UiButton small @click="emit('percent')">± %</UiButton>
      <UiButton small @click="emit('spread')">Spread a total</UiButton>
      <UiButton small :disabled="!grid.canUndo.value" @click="grid.undo">Undo</UiButton
      ><UiButton small :disabled="!grid.canRedo.value" @click="grid.redo">Redo</UiButton>
      <UiButton small @click="emit('takeOut')">Take {{ chosen === 1 ? 'the row' : `${chosen} rows` }} out</UiButton>
    </template>
    <span class="flex-1" />
    <a
      v-for="format in ['csv', 'xlsx']"
      :key="format"
      :href="`/api/demand/forecasts/${forecastId}/file?format=${format}`"
      class="text-soft underline"
      download
      >{{ format.toUpperCase() }}</a
    >
    <NuxtLink v-if="editable" to="/catalogue/files?table=forecast" class="text-soft underline">From a file</NuxtLink>
    <UiButton v-if="editable" small @click="emit('remove')">Delete</UiButton>
  </div>
</template>
