<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const emit = defineEmits<{ begin: [] }>()
const session = useSession()
const { data: list, error } = await useFetch('/api/demand/forecasts')
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Forecast', isFixed: true },
  { key: 'firstOn', name: 'From', kind: 'day' },
  { key: 'lastOn', name: 'Until', kind: 'day' },
  { key: 'step', name: 'Periods', width: 100 },
  { key: 'items', name: 'Items', kind: 'number' },
  { key: 'note', name: 'Note', wrap: true },
]
</script>

<template>
  <UiSheet flush>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiDataTable
      v-if="list?.length"
      list="forecasts"
      :columns="COLUMNS"
      :rows="list"
      label="Forecasts"
      :open="(row) => navigateTo(`/demand/forecasts/${row.id}`)"
    >
      <template #name="{ row }"
        ><NuxtLink :to="`/demand/forecasts/${row.id}`" class="font-medium hover:underline">{{
          row.name
        }}</NuxtLink></template
      >
    </UiDataTable>
    <UiEmptyState
      v-else
      title="No forecast yet"
      summary="A forecast says by day, week or month what is expected to be asked for. Plans add it to the orders, and orders use it up."
      ><UiButton v-if="session.allows('demand')" primary @click="emit('begin')"
        >Begin a forecast</UiButton
      ></UiEmptyState
    >
  </UiSheet>
</template>
