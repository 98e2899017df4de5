<script setup lang="ts">
const session = useSession()
const { day, isPast } = usePrint()
const tab = ref('orders')
const { search, status, page, query } = useList<'' | 'open' | 'done'>('open')
const { data, error } = await useFetch('/api/purchasing/orders', { query })
const { data: buying } = await useFetch('/api/planning/buying-list')
const field = useTemplateRef('field')
useKeys([
  {
    key: 'n',
    summary: 'new purchase order',
    act: () => {
      void navigateTo('/purchasing/new')
    },
  },
  { key: 'f', summary: 'filter this list', act: () => field.value?.focus() },
])
useHead({ title: 'Purchasing · Tsumiki' })
const COLUMNS = [
  { key: 'dueOn', name: 'Due' },
  { key: 'number', name: 'Order' },
  { key: 'supplier', name: 'Supplier' },
  { key: 'summary', name: 'Brings', wrap: true },
  { key: 'state', name: 'State' },
]
const LIST = [
  { key: 'code', name: 'Item' },
  { key: 'quantity', name: 'Quantity', right: true },
  { key: 'supplier', name: 'Supplier' },
  { key: 'releaseOn', name: 'Order by' },
  { key: 'dueOn', name: 'Needed' },
  { key: 'late', name: '' },
]
</script>

<template>
  <div>
    <UiHead title="Purchasing" summary="What is on its way, and what wants buying.">
      <template v-if="tab === 'orders'">
        <UiSearch ref="field" v-model="search" label="Filter orders" />
        <FormSelect
          v-model="status"
          label="Status"
          hide-label
          :options="[
            { value: 'open', name: 'Open orders' },
            { value: 'done', name: 'Received' },
            { value: '', name: 'All orders' },
          ]"
        />
        <a href="/api/export/purchase-orders" class="text-soft underline" download>Export CSV</a>
      </template>
      <UiButton v-if="session.allows('buy')" primary @click="navigateTo('/purchasing/new')"
        >New purchase order</UiButton
      >
    </UiHead>
    <UiTabs
      v-model="tab"
      :tabs="[
        { key: 'orders', name: 'Purchase orders', count: data?.total },
        { key: 'list', name: 'Buying list', count: buying?.orders.length },
      ]"
    />
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet v-if="tab === 'orders'" flush>
      <UiTable
        :columns="COLUMNS"
        :rows="data?.rows ?? []"
        label="Purchase orders"
        :open="(row) => navigateTo(`/purchasing/${row.id}`)"
        :muted="(row) => row.status !== 'open'"
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
        <template #state="{ row }"
          ><span class="flex items-center gap-2"
            ><GoodsBlock :state="row.status === 'open' ? 'coming' : 'on hand'" class="h-3 w-5 border" />{{
              row.status === 'open'
                ? `${row.openLines} of ${row.lines} ${plural(row.lines, 'line', 'lines')} to come`
                : 'received'
            }}</span
          ></template
        >
      </UiTable>
      <UiEmpty
        v-if="data && data.rows.length === 0"
        title="No purchase orders here"
        summary="Release them from a plan, or enter one by hand."
      />
      <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    </UiSheet>
    <UiSheet v-else flush>
      <div v-if="buying?.planId" class="flex justify-end border-b border-line px-4 py-2">
        <UiButton primary @click="navigateTo(`/planning/${buying.planId}`)">Review and release in the plan</UiButton>
      </div>
      <UiTable v-if="buying?.orders.length" :columns="LIST" :rows="buying.orders" label="Buying list">
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><GoodsOrdered :of="row.quantity" :unit="row.symbol" :in-unit="row.inUnit"
        /></template>
        <template #releaseOn="{ row }">{{ day(row.releaseOn) }}</template>
        <template #dueOn="{ row }">{{ day(row.dueOn) }}</template>
        <template #late="{ row }"
          ><span v-if="row.lateBy > 0" class="font-medium text-brick"
            >{{ row.lateBy }} {{ plural(row.lateBy, 'day', 'days') }} late</span
          ></template
        >
      </UiTable>
      <UiEmpty
        v-else
        title="Nothing wants buying"
        :summary="
          buying?.planId
            ? 'The working plan proposes no purchase.'
            : 'Make a working plan; what it proposes to buy is gathered here.'
        "
        ><UiButton v-if="!buying?.planId" @click="navigateTo('/planning')">Go to Plan</UiButton></UiEmpty
      >
    </UiSheet>
  </div>
</template>
