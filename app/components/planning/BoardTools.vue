<script setup lang="ts">
import { CELL_CONTENTS, type BoardChoice, type CellContent } from '~/composables/planning/use-board-rows'

/** What the plan board shows, and how: its rows, columns, cells and scale. */
const choice = defineModel<BoardChoice>('choice', { required: true })
const cells = defineModel<CellContent>('cells', { required: true })
const emit = defineEmits<{ save: [] }>()
</script>

<template>
  <UiToolbar class="border-b border-line" more="Rows, cells …">
    <template #search><UiSearch v-model="choice.search" class="@max-xl:flex-1" label="Filter items" /></template>
    <template #choices>
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
      <UiChoice
        v-model="cells"
        label="In the cells"
        hide-label
        :options="CELL_CONTENTS.map((value) => ({ value, name: value }))"
      />
      <UiChoice
        v-if="cells !== 'figures'"
        v-model="choice.scale"
        label="Scale of the blocks"
        hide-label
        :options="[
          { value: 'row', name: 'each row to its own scale' },
          { value: 'unit', name: 'one scale for each unit' },
        ]"
      />
    </template>
    <template #told><PlanningBoardLegend /></template>
    <template #tools><UiButton @click="emit('save')">Export CSV</UiButton></template>
  </UiToolbar>
</template>
