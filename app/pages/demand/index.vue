<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const session = useSession()
const { day, isPast } = usePrint()
const tab = useTab(['orders', 'history', 'forecasts'])
const isBeginningForecast = ref(false)
const status = ref<'' | 'open' | 'done'>('open')
const loadOrders = (query: Record<string, unknown>) => $fetch('/api/demand/orders', { query })
const orders = useTemplateRef('orders')
useKeys([
  {
    key: 'n',
    summary: 'new sales order',
    act: () => {
      void navigateTo('/demand/orders/new')
    },
  },
])
useHead({ title: 'Demand · Tsumiki' })
interface OrderRow {
  readonly status: string
  readonly lines: number
  readonly shortLines: number
}
const stateOf = (row: OrderRow): string => {
  if (row.status !== 'open') {
    return row.status
  }
  return row.shortLines > 0
    ? `${row.shortLines} of ${row.lines} ${plural(row.lines, 'line', 'lines')} cannot be filled`
    : 'can be filled'
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Order', width: 110, isFixed: true },
  { key: 'customer', name: 'Customer', width: 210 },
  { key: 'summary', name: 'Items', wrap: true },
  { key: 'orderedOn', name: 'Ordered on', kind: 'day', width: 100 },
  { key: 'value', name: 'Value', kind: 'money', width: 110 },
  { key: 'lines', name: 'Lines', kind: 'number', isHidden: true },
  { key: 'status', name: 'Status', width: 230, text: stateOf },
]
</script>

<template>
  <div>
    <UiHead title="Demand" summary="What customers have ordered, and what they are expected to.">
      <template v-if="tab === 'orders'">
        <NuxtLink v-if="session.allows('demand')" to="/catalogue/files?table=sales-orders" class="text-soft underline"
          >From a file</NuxtLink
        >
        <UiButton @click="navigateTo('/demand/shop')">Web shop</UiButton>
      </template>
      <UiButton v-if="session.allows('demand') && tab === 'forecasts'" primary @click="isBeginningForecast = true"
        >New forecast</UiButton
      >
      <UiButton v-if="session.allows('demand') && tab === 'orders'" primary @click="navigateTo('/demand/orders/new')"
        >New sales order</UiButton
      >
    </UiHead>
    <UiTabs
      v-model="tab"
      :tabs="[
        { key: 'orders', name: 'Sales orders', count: orders?.total },
        { key: 'history', name: 'Sales history' },
        { key: 'forecasts', name: 'Forecasts' },
      ]"
    />
    <Suspense v-if="tab === 'history'"><DemandHistory /></Suspense>
    <Suspense v-else-if="tab === 'forecasts'"><DemandForecasts @begin="isBeginningForecast = true" /></Suspense>
    <template v-else>
      <UiSheet flush>
        <UiDataTable
          ref="orders"
          list="sales orders"
          label="Sales orders"
          search-label="Filter orders"
          :columns="COLUMNS"
          :load="loadOrders"
          :extra="{ status }"
          :open="(row) => navigateTo(`/demand/orders/${row.id}`)"
          :muted="(row) => row.status !== 'open'"
        >
          <template #filters
            ><UiChoice
              v-model="status"
              class="w-36"
              label="Status"
              hide-label
              :options="[
                { value: 'open', name: 'Open orders' },
                { value: 'done', name: 'Shipped' },
                { value: '', name: 'All orders' },
              ]"
          /></template>
          <template #dueOn="{ row }"
            ><span :class="row.status === 'open' && isPast(row.dueOn) && 'font-semibold text-brick'">{{
              day(row.dueOn)
            }}</span></template
          >
          <template #number="{ row }"
            ><NuxtLink :to="`/demand/orders/${row.id}`" class="font-medium hover:underline">{{
              row.number
            }}</NuxtLink></template
          >
          <template #status="{ row }">
            <span class="flex items-center gap-2" :class="row.status === 'open' && row.shortLines > 0 && 'text-brick'"
              ><GoodsBlock
                v-if="row.status === 'open'"
                :state="row.shortLines > 0 ? 'missing' : 'on hand'"
                class="h-3 w-5 shrink-0 border"
              />{{ stateOf(row) }}</span
            >
          </template>
          <template #empty
            ><UiEmptyState
              title="No orders here"
              summary="Enter what a customer asks for; Tsumiki then shows what is missing for it."
              ><UiButton v-if="session.allows('demand')" primary @click="navigateTo('/demand/orders/new')"
                >New sales order</UiButton
              ></UiEmptyState
            ></template
          >
        </UiDataTable>
      </UiSheet>
    </template>
    <DemandNewForecast v-model="isBeginningForecast" />
  </div>
</template>
