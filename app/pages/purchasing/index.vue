<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import { PURCHASE_STATES, type PurchaseState } from '~~/shared/purchasing/state'

const session = useSession()
const { day, isPast } = usePrint()
const tab = useTab(['orders', 'arrivals', 'list'])
const status = ref<'' | 'open' | 'done' | PurchaseState>('open')
const loadOrders = (query: Record<string, unknown>) => $fetch('/api/purchasing/orders', { query })
const { data: buying } = await useFetch('/api/planning/buying-list')
const orders = useTemplateRef('orders')
/** The buying list has no ids of its own. */
const toBuy = computed(() =>
  (buying.value?.orders ?? []).map((order, index) => ({ ...order, id: `${order.itemId} ${index}` })),
)
useKeys([
  {
    key: 'n',
    summary: 'new purchase order',
    act: () => {
      void navigateTo('/purchasing/new')
    },
  },
])
useHead({ title: 'Purchasing · Tsumiki' })
const COLUMNS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Order', width: 110, isFixed: true },
  { key: 'supplier', name: 'Supplier', width: 210 },
  { key: 'summary', name: 'Items', wrap: true },
  { key: 'orderedOn', name: 'Ordered on', kind: 'day', isHidden: true },
  { key: 'lines', name: 'Lines', kind: 'number', isHidden: true },
  { key: 'state', name: 'State', width: 130 },
  { key: 'openLines', name: 'To come', width: 150, text: (row: OrderRow) => toCome(row) },
]
const LIST: readonly DataColumn[] = [
  { key: 'code', name: 'Item', width: 300, text: (row: { code: string; name: string }) => `${row.code} ${row.name}` },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol', width: 260 },
  { key: 'supplier', name: 'Supplier' },
  { key: 'releaseOn', name: 'Order by', kind: 'day' },
  { key: 'dueOn', name: 'Due date', kind: 'day' },
  { key: 'lateBy', name: 'Days late', kind: 'number', width: 120 },
]
interface OrderRow {
  readonly lines: number
  readonly openLines: number
}
const toCome = (row: OrderRow): string =>
  row.openLines === 0 ? '' : `${row.openLines} of ${row.lines} ${plural(row.lines, 'line', 'lines')}`

const notices = useNotices()
const { busy, detail, run } = useAct()
/** Sends several orders, each with the usual letter. */
async function send(chosen: readonly { id: number; version: number }[], clear: () => void): Promise<void> {
  const known = chosen.map(({ id, version }) => ({ id, version }))
  const done = await run((key) =>
    $fetch('/api/purchasing/orders/send', { method: 'POST', body: { key, orders: known } }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `${done.sent} ${plural(done.sent, 'order is', 'orders are')} on the way.` })
    clear()
    orders.value?.refresh()
  }
}
function print(chosen: readonly { id: number }[]): void {
  window.open(`/api/purchasing/orders/print?ids=${chosen.map(({ id }) => id).join(',')}`, '_blank')
}
</script>

<template>
  <div>
    <UiHead title="Purchasing" summary="What is on its way, and what wants buying.">
      <UiButton v-if="session.allows('receive')" @click="navigateTo('/purchasing/goods-file')"
        >Goods in from a file</UiButton
      >
      <UiButton v-if="session.allows('buy')" primary @click="navigateTo('/purchasing/new')"
        >New purchase order</UiButton
      >
    </UiHead>
    <UiTabs
      v-model="tab"
      :tabs="[
        { key: 'orders', name: 'Purchase orders', count: orders?.total },
        { key: 'arrivals', name: 'Arrivals' },
        { key: 'list', name: 'Buying list', count: buying?.orders.length },
      ]"
    />
    <UiProblem :text="detail" class="mb-3" />
    <UiSheet v-if="tab === 'orders'" flush>
      <UiDataTable
        ref="orders"
        list="purchase orders"
        label="Purchase orders"
        search-label="Filter orders"
        :columns="COLUMNS"
        :load="loadOrders"
        :extra="{ status }"
        is-choosable
        :choose-label="(row) => `Choose ${row.number}`"
        :open="(row) => navigateTo(`/purchasing/${row.id}`)"
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
              ...PURCHASE_STATES.map((value) => ({ value, name: value })),
              { value: '', name: 'All orders' },
            ]"
        /></template>
        <template #acts="{ chosen, clear }"
          ><UiButton v-if="session.allows('buy')" primary :busy="busy" @click="send(chosen, clear)"
            >Send {{ chosen.length }}</UiButton
          ><UiButton v-if="session.allows('costs')" @click="print(chosen)">Print</UiButton></template
        >
        <template #dueOn="{ row }"
          ><span :class="row.status === 'open' && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="`/purchasing/${row.id}`" class="font-medium hover:underline">{{
            row.number
          }}</NuxtLink></template
        >
        <template #openLines="{ row }"
          ><span class="flex items-center gap-2"
            ><GoodsBlock v-if="row.openLines > 0" state="coming" class="h-3 w-5 border" />{{ toCome(row) }}</span
          ></template
        >
        <template #empty
          ><UiEmptyState title="No purchase orders here" summary="Release them from a plan, or enter one by hand."
        /></template>
      </UiDataTable>
    </UiSheet>
    <Suspense v-else-if="tab === 'arrivals'"><PurchasingArrivals /></Suspense>
    <UiSheet v-else flush>
      <div v-if="buying?.planId" class="flex justify-end border-b border-line px-4 py-2">
        <UiButton primary @click="navigateTo(`/planning/${buying.planId}`)">Review and release in the plan</UiButton>
      </div>
      <UiDataTable v-if="toBuy.length" list="buying list" :columns="LIST" :rows="toBuy" label="Buying list">
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><GoodsOrdered :of="row.quantity" :unit="row.symbol" :in-unit="row.inUnit"
        /></template>
        <template #lateBy="{ row }"
          ><span v-if="row.lateBy > 0" class="font-medium text-brick"
            >{{ row.lateBy }} {{ plural(row.lateBy, 'day', 'days') }} late</span
          ></template
        >
      </UiDataTable>
      <UiEmptyState
        v-else
        title="Nothing wants buying"
        :summary="
          buying?.planId
            ? 'The working plan proposes no purchase.'
            : 'Make a working plan; what it proposes to buy is gathered here.'
        "
        ><UiButton v-if="!buying?.planId" @click="navigateTo('/planning')">Go to Plan</UiButton></UiEmptyState
      >
    </UiSheet>
  </div>
</template>
