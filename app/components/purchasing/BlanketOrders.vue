<script setup lang="ts">
import type { BlanketRow } from '~~/shared/purchasing/blankets'
import type { DataColumn } from '~/composables/ui/data-column'

/** What is agreed with suppliers over a period, and how much of it is called off. */
const session = useSession()
const { day, isPast } = usePrint()
const status = ref<'' | 'open' | 'ended'>('open')
const load = (query: Record<string, unknown>) => $fetch('/api/purchasing/blankets', { query })
const adding = ref(false)
const COLUMNS: readonly DataColumn[] = [
  { key: 'number', name: 'Blanket order', width: 130, isFixed: true },
  { key: 'supplier', name: 'Supplier', width: 220 },
  { key: 'summary', name: 'Agreed', wrap: true },
  { key: 'fromOn', name: 'From', kind: 'day', width: 90 },
  { key: 'untilOn', name: 'Until', kind: 'day', width: 120 },
  { key: 'calledPercent', name: 'Called off', width: 110, text: (row: BlanketRow) => `${row.calledPercent} %` },
  { key: 'status', name: 'State', width: 90 },
]
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="blanket orders"
      label="Blanket orders"
      search-label="Filter blanket orders"
      :columns="COLUMNS"
      :load="load"
      :extra="{ status }"
      :open="(row) => navigateTo(`/purchasing/blankets/${row.id}`)"
      :muted="(row) => row.status !== 'open'"
    >
      <template #tools
        ><UiButton v-if="session.allows('buy')" @click="adding = true">New blanket order</UiButton></template
      >
      <template #filters
        ><UiChoice
          v-model="status"
          class="w-40"
          label="Status"
          hide-label
          :options="[
            { value: 'open', name: 'open' },
            { value: 'ended', name: 'ended' },
            { value: '', name: 'all of them' },
          ]"
      /></template>
      <template #number="{ row }"
        ><NuxtLink :to="`/purchasing/blankets/${row.id}`" class="font-medium hover:underline">{{
          row.number
        }}</NuxtLink></template
      >
      <template #untilOn="{ row }"
        ><span :class="row.status === 'open' && isPast(row.untilOn) && 'font-semibold text-brick'">{{
          day(row.untilOn)
        }}</span></template
      >
      <template #empty
        ><UiEmptyState
          title="No blanket orders"
          summary="Quantity and price that are agreed with a supplier over a period. Orders call off from it, and it shows what is left."
      /></template>
    </UiDataTable>
    <PurchasingNewBlanket
      v-if="adding"
      @done="(id) => navigateTo(`/purchasing/blankets/${id}`)"
      @close="adding = false"
    />
  </UiSheet>
</template>
