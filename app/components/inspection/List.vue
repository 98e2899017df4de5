<script setup lang="ts">
import type { InspectionRow } from '~~/shared/inspection/answers'
import type { GoodsState } from '~/components/goods/Block.vue'
import type { DataColumn } from '~/composables/ui/data-column'

/** What waits for its inspection, and what was decided; of all goods, or of one item or supplier. */
const props = defineProps<{ item?: number; supplier?: number }>()
const load = (query: Record<string, unknown>) => $fetch('/api/stock/inspections', { query })
const status = ref(props.item || props.supplier ? '' : 'open')
const extra = computed(() => ({
  status: status.value,
  ...(props.item && { item: props.item }),
  ...(props.supplier && { supplier: props.supplier }),
}))
const STATUSES = [
  { value: 'open', name: 'Waiting' },
  { value: 'decided', name: 'Decided' },
  { value: 'taken back', name: 'Taken back' },
  { value: '', name: 'All' },
]
const COLUMNS: readonly DataColumn[] = [
  { key: 'number', name: 'Inspection', width: 100, isFixed: true },
  { key: 'code', name: 'Item', width: 200, text: (row: InspectionRow) => `${row.code} ${row.name}` },
  { key: 'lots', name: 'Lots', width: 110 },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol', width: 110 },
  { key: 'source', name: 'Came with', wrap: true },
  { key: 'openedOn', name: 'Since', kind: 'day' },
  { key: 'days', name: 'Days', kind: 'number', width: 70 },
  { key: 'sampleSize', name: 'Sample', kind: 'number', width: 80 },
  { key: 'failed', name: 'Failed', kind: 'number', width: 80 },
  { key: 'decision', name: 'State', width: 150, text: (row: InspectionRow) => stateOf(row) },
  { key: 'supplier', name: 'Supplier', width: 140, isHidden: true },
  { key: 'plan', name: 'Plan', width: 140, isHidden: true },
  { key: 'accepted', name: 'Accepted', kind: 'quantity', unit: 'symbol', width: 110, isHidden: true },
  { key: 'rejected', name: 'Rejected', kind: 'quantity', unit: 'symbol', width: 110, isHidden: true },
]
function stateOf({ status: now, decision }: InspectionRow): string {
  return now === 'open' ? 'waiting' : (decision ?? now)
}
function blockOf({ status: now, decision }: InspectionRow): GoodsState {
  if (now === 'open') {
    return 'held'
  }
  return decision === 'accepted' || decision === 'accepted with a reason' ? 'on hand' : 'missing'
}
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="inspections"
      label="Inspections"
      search-label="Filter item, lot or order"
      :is-embedded="Boolean(item || supplier)"
      :columns="COLUMNS"
      :load="load"
      :extra="extra"
      :open="(row) => navigateTo(`/stock/inspections/${row.id}`)"
      :muted="(row) => row.status === 'taken back'"
    >
      <template #filters
        ><UiChoice v-model="status" label="State" hide-label class="w-32" :options="STATUSES"
      /></template>
      <template #number="{ row }"
        ><NuxtLink :to="`/stock/inspections/${row.id}`" class="font-medium hover:underline">{{
          row.number
        }}</NuxtLink></template
      >
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #decision="{ row }"
        ><span class="flex items-center gap-2"
          ><GoodsBlock :state="blockOf(row)" class="h-3 w-5 border" />{{ stateOf(row) }}</span
        ></template
      >
      <template #empty
        ><UiEmptyState
          :title="status === 'open' ? 'Nothing waits for inspection' : 'No inspection fits'"
          summary="Goods of an item, a group or a supplier with an inspection plan wait on hold until somebody says what becomes of them."
          ><UiButton v-if="!item && !supplier" @click="navigateTo('/stock?tab=plans')">Inspection plans</UiButton>
        </UiEmptyState></template
      >
    </UiDataTable>
  </UiSheet>
</template>
