<script setup lang="ts">
const route = useRoute()
const session = useSession()
const { day, isPast } = usePrint()
const tab = ref(['forecasts', 'history'].includes(String(route.query.tab)) ? String(route.query.tab) : 'orders')
const forecasts = useTemplateRef('forecasts')
const { search, status, page, query } = useList<'' | 'open' | 'done'>('open')
const { data, error } = await useFetch('/api/demand/orders', { query })
const field = useTemplateRef('field')
useKeys([
  {
    key: 'n',
    summary: 'new sales order',
    act: () => {
      void navigateTo('/demand/orders/new')
    },
  },
  { key: 'f', summary: 'filter this list', act: () => field.value?.focus() },
])
useHead({ title: 'Demand · Tsumiki' })
const COLUMNS = [
  { key: 'dueOn', name: 'Due' },
  { key: 'number', name: 'Order' },
  { key: 'customer', name: 'Customer' },
  { key: 'summary', name: 'Wants', wrap: true },
  { key: 'state', name: 'State' },
]
</script>

<template>
  <div>
    <UiHead title="Demand" summary="What customers have ordered, and what they are expected to.">
      <template v-if="tab === 'orders'">
        <UiSearch ref="field" v-model="search" label="Filter orders" />
        <FormSelect
          v-model="status"
          label="Status"
          hide-label
          :options="[
            { value: 'open', name: 'Open orders' },
            { value: 'done', name: 'Shipped' },
            { value: '', name: 'All orders' },
          ]"
        />
        <a href="/api/export/sales-orders" class="text-soft underline" download>Export CSV</a>
        <NuxtLink v-if="session.allows('demand')" to="/catalogue/files?table=sales-orders" class="text-soft underline"
          >From a file</NuxtLink
        >
        <UiButton @click="navigateTo('/demand/shop')">Web shop</UiButton>
      </template>
      <UiButton v-if="session.allows('demand') && tab === 'forecasts'" primary @click="forecasts?.begin()"
        >New forecast</UiButton
      >
      <UiButton v-if="session.allows('demand') && tab === 'orders'" primary @click="navigateTo('/demand/orders/new')"
        >New sales order</UiButton
      >
    </UiHead>
    <UiTabs
      v-model="tab"
      :tabs="[
        { key: 'orders', name: 'Sales orders', count: data?.total },
        { key: 'history', name: 'Sales history' },
        { key: 'forecasts', name: 'Forecasts' },
      ]"
    />
    <Suspense v-if="tab === 'history'"><DemandHistory /></Suspense>
    <Suspense v-else-if="tab === 'forecasts'"><DemandForecasts ref="forecasts" /></Suspense>
    <template v-else>
      <UiProblem v-if="error" :text="problemOf(error).detail" />
      <UiSheet flush>
        <UiTable
          :columns="COLUMNS"
          :rows="data?.rows ?? []"
          label="Sales orders"
          :open="(row) => navigateTo(`/demand/orders/${row.id}`)"
          :muted="(row) => row.status !== 'open'"
        >
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
          <template #state="{ row }">
            <span v-if="row.status !== 'open'">{{ row.status }}</span>
            <span v-else-if="row.shortLines > 0" class="flex items-center gap-2 text-brick"
              ><GoodsBlock state="missing" class="h-3 w-5 border" />{{ row.shortLines }} of {{ row.lines }}
              {{ plural(row.lines, 'line', 'lines') }} cannot be filled</span
            >
            <span v-else class="flex items-center gap-2"
              ><GoodsBlock state="on hand" class="h-3 w-5 border" />can be filled</span
            >
          </template>
        </UiTable>
        <UiEmpty
          v-if="data && data.rows.length === 0"
          title="No orders here"
          summary="Enter what a customer asks for; Tsumiki then shows what is missing for it."
          ><UiButton v-if="session.allows('demand')" primary @click="navigateTo('/demand/orders/new')"
            >New sales order</UiButton
          ></UiEmpty
        >
        <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
      </UiSheet>
    </template>
  </div>
</template>
