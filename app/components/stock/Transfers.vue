<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const { day } = usePrint()
const load = (query: Record<string, unknown>) => $fetch('/api/stock/transfers', { query })
const COLUMNS: readonly DataColumn[] = [
  { key: 'number', name: 'Transfer', width: 110, isFixed: true },
  { key: 'from', name: 'From', width: 170 },
  { key: 'to', name: 'To', width: 170 },
  { key: 'summary', name: 'Items', wrap: true },
  { key: 'leavesOn', name: 'Leaves', kind: 'day' },
  { key: 'dueOn', name: 'Due', kind: 'day' },
  { key: 'state', name: 'Status', width: 140 },
]
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="transfers"
      label="Transfers"
      search-label="Filter item or lot"
      :columns="COLUMNS"
      :load="load"
      :open="(row) => navigateTo(`/stock/transfers/${row.id}`)"
      :muted="(row) => row.status !== 'open'"
    >
      <template #number="{ row }"
        ><NuxtLink :to="`/stock/transfers/${row.id}`" class="font-medium hover:underline">{{
          row.number
        }}</NuxtLink></template
      >
      <template #dueOn="{ row }"
        ><span :class="row.late && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span></template
      >
      <template #state="{ row }"
        ><span class="flex items-center gap-2"
          ><GoodsBlock
            :state="row.state === 'on the way' ? 'coming' : row.state === 'to leave' ? 'coming planned' : 'on hand'"
            class="h-3 w-5 border"
          />{{ row.state }}</span
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="No transfers yet"
          summary="Write down what goes from one site to another; it is on its way until it is received."
          ><UiButton @click="navigateTo('/stock/transfers/new')">New transfer</UiButton></UiEmptyState
        ></template
      >
    </UiDataTable>
  </UiSheet>
</template>
