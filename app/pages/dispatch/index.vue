<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const { day, isPast } = usePrint()
const session = useSession()
const notices = useNotices()
const { data: orders, error, refresh } = await useFetch('/api/dispatch')
const serving = ref(false)
async function served(count: number): Promise<void> {
  serving.value = false
  notices.say({ kind: 'done', text: `Allocated goods for ${count} ${plural(count, 'order', 'orders')}.` })
  void refreshToday()
  await refresh()
}
useHead({ title: 'Dispatch · Tsumiki' })
type Row = NonNullable<typeof orders.value>[number]
const stateOf = (row: Row): string => {
  if (row.allocated === row.lines) {
    return 'allocated, ready to ship'
  }
  return row.fillable === row.lines
    ? 'everything is there'
    : `${row.lines - row.fillable} of ${row.lines} ${plural(row.lines, 'line', 'lines')} short`
}
const drawn = (row: Row) => {
  if (row.allocated === row.lines) {
    return 'allocated' as const
  }
  return row.fillable === row.lines ? ('on hand' as const) : ('missing' as const)
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Order', width: 110, isFixed: true },
  { key: 'customer', name: 'Customer', width: 210 },
  { key: 'summary', name: 'Items', wrap: true },
  { key: 'site', name: 'From', width: 150 },
  {
    key: 'allocated',
    name: 'Allocated',
    width: 120,
    text: (row: Row) => `${row.allocated} of ${row.lines} ${plural(row.lines, 'line', 'lines')}`,
  },
  { key: 'fillable', name: 'Status', width: 230, text: stateOf },
]
</script>

<template>
  <div>
    <UiHead title="Dispatch" summary="Allocate, pick and ship what is due."
      ><UiButton v-if="session.allows('ship')" @click="serving = true">Allocate for all</UiButton></UiHead
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiDataTable
        list="dispatch"
        label="Orders to ship"
        search-label="Filter orders"
        :columns="COLUMNS"
        :rows="orders ?? []"
        :open="(row) => navigateTo(`/dispatch/${row.id}`)"
      >
        <template #dueOn="{ row }"
          ><span :class="isPast(row.dueOn) && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="`/dispatch/${row.id}`" class="font-medium hover:underline">{{
            row.number
          }}</NuxtLink></template
        >
        <template #fillable="{ row }">
          <span class="flex items-center gap-2" :class="drawn(row) === 'missing' && 'text-brick'"
            ><GoodsBlock :state="drawn(row)" class="h-3 w-5 border" />{{ stateOf(row) }}</span
          >
        </template>
        <template #empty><UiEmptyState title="Nothing to ship" summary="No open sales order is here." /></template>
      </UiDataTable>
    </UiSheet>
    <DispatchServe v-if="serving" @done="served" @close="serving = false" />
  </div>
</template>
