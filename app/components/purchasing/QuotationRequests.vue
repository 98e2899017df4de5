<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import type { RequestRow } from '~~/shared/purchasing/quotations'
import { REQUEST_STATUSES, type RequestStatus } from '~~/shared/purchasing/request-status'

/** What suppliers are asked to quote for, and how many have answered. */
const session = useSession()
const { day, isPast } = usePrint()
const status = ref<'' | RequestStatus>('open')
const load = (query: Record<string, unknown>) => $fetch('/api/purchasing/quotations', { query })
const asking = ref(false)
const COLUMNS: readonly DataColumn[] = [
  { key: 'answerBy', name: 'Answer by', kind: 'day', width: 100 },
  { key: 'number', name: 'Request', width: 110, isFixed: true },
  { key: 'suppliers', name: 'Suppliers', width: 260, wrap: true },
  { key: 'summary', name: 'Items', wrap: true },
  { key: 'askedOn', name: 'Asked on', kind: 'day', isHidden: true },
  { key: 'answered', name: 'Answered', width: 110, text: (row: RequestRow) => `${row.answered} of ${row.asked}` },
  { key: 'status', name: 'State', width: 100 },
]
const isLate = (row: RequestRow): boolean => row.status === 'open' && row.answered < row.asked && isPast(row.answerBy)
async function asked(id: number): Promise<void> {
  asking.value = false
  await navigateTo(`/purchasing/quotations/${id}`)
}
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="quotation requests"
      label="Quotation requests"
      search-label="Filter requests"
      :columns="COLUMNS"
      :load="load"
      :extra="{ status }"
      :open="(row) => navigateTo(`/purchasing/quotations/${row.id}`)"
      :muted="(row) => row.status !== 'open'"
    >
      <template #tools
        ><UiButton v-if="session.allows('buy')" @click="asking = true">Ask for quotations</UiButton></template
      >
      <template #filters
        ><UiChoice
          v-model="status"
          class="w-40"
          label="Status"
          hide-label
          :options="[
            ...REQUEST_STATUSES.map((value) => ({ value, name: value })),
            { value: '', name: 'all requests' },
          ]"
      /></template>
      <template #answerBy="{ row }"
        ><span :class="isLate(row) && 'font-semibold text-brick'">{{ day(row.answerBy) }}</span></template
      >
      <template #number="{ row }"
        ><NuxtLink :to="`/purchasing/quotations/${row.id}`" class="font-medium hover:underline">{{
          row.number
        }}</NuxtLink></template
      >
      <template #empty
        ><UiEmptyState
          title="Nobody is asked to quote"
          summary="Ask several suppliers for their prices at once, from here or from the buying list, and compare what they answer line by line."
      /></template>
    </UiDataTable>
    <PurchasingAskForQuotations v-if="asking" @done="asked" @close="asking = false" />
  </UiSheet>
</template>
