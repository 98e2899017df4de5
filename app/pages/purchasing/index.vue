<script setup lang="ts">
import type { BuyingList } from '~~/shared/purchasing/buying'
import type { DataColumn } from '~/composables/ui/data-column'
import { PURCHASE_STATES, type PurchaseState } from '~~/shared/purchasing/state'

const session = useSession()
const { day, isPast } = usePrint()
const tab = useTab(['orders', 'arrivals', 'list', 'quotations', 'blankets'])
const status = ref<'' | 'open' | 'done' | PurchaseState>('open')
const loadOrders = (query: Record<string, unknown>) => $fetch('/api/purchasing/orders', { query })
const { data: buying } = useLazyFetch<BuyingList>('/api/purchasing/buying', { key: 'buying-list' })
const orders = useTemplateRef('orders')
/** Goods came that are on no order. */
const unordered = ref(false)
function received(): void {
  unordered.value = false
  orders.value?.refresh()
  void refreshToday()
}
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
      <UiButton v-if="session.allows('receive')" @click="unordered = true">Goods in without an order</UiButton>
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
        { key: 'list', name: 'Buying list', count: buying?.needs.length },
        ...(session.allows('costs')
          ? [
              { key: 'quotations', name: 'Quotations' },
              { key: 'blankets', name: 'Blanket orders' },
            ]
          : []),
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
    <Suspense v-else-if="tab === 'list'"><PurchasingBuyingList /></Suspense>
    <PurchasingQuotationRequests v-else-if="tab === 'quotations'" />
    <PurchasingBlanketOrders v-else />
    <PurchasingUnordered v-if="unordered" @done="received" @close="unordered = false" />
  </div>
</template>
