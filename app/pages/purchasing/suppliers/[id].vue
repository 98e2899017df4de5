<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import type { SuppliedItem } from '~~/shared/purchasing/supplier-page'
import type { DataColumn } from '~/composables/ui/data-column'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const { day, isPast, money, price } = usePrint()
const { data: supplier } = orNotFound(await useFetch(() => `/api/purchasing/suppliers/${id.value}`))
useHead({ title: () => `${supplier.value?.name} · Tsumiki` })

const loadOrders = (query: Record<string, unknown>) => $fetch('/api/purchasing/orders', { query })
const ORDERS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Order', width: 110, isFixed: true },
  { key: 'state', name: 'State', width: 130 },
  { key: 'summary', name: 'Items', wrap: true },
]
const ITEMS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', text: (row: SuppliedItem) => `${row.code} ${row.name}` },
  { key: 'lastOn', name: 'Last ordered', kind: 'day', width: 110 },
  { key: 'lastPrice', name: 'Last price', kind: 'price', width: 150, isCost: true },
  { key: 'change', name: 'In a year', width: 100, isCost: true, text: (row: SuppliedItem) => changeOf(row) },
  { key: 'received', name: 'Came in a year', kind: 'quantity', unit: 'symbol', width: 140 },
]
/** By how much of itself a price rose or fell within a year. */
function changeOf({ lastPrice, priceBefore }: SuppliedItem): string {
  if (!priceBefore || ratio(priceBefore).equals(0)) {
    return ''
  }
  const percent = ratio(lastPrice).div(ratio(priceBefore)).sub(1).mul(100).round(1).valueOf()
  return percent === 0 ? 'the same' : `${percent > 0 ? '+' : '−'}${Math.abs(percent)} %`
}
const share = (of: number): string =>
  supplier.value!.lines === 0 ? '' : `${Math.round((of / supplier.value!.lines) * 100)} %`
const contact = computed(() => {
  const { contact, phone, email, paymentTerms } = supplier.value!
  return [contact, phone, email, paymentTerms].filter(Boolean).join(' · ')
})

/** The item whose prices are drawn: the one that was looked at, else the first that was ordered more than once. */
const looked = ref<number | null>(null)
const drawn = computed(() => {
  const items = supplier.value?.items ?? []
  return items.find((item) => item.id === looked.value) ?? items.find((item) => (item.prices?.length ?? 0) > 1) ?? null
})
const chart = computed(() => ({
  series: [
    {
      name: drawn.value?.code ?? '',
      data: (drawn.value?.prices ?? []).map(({ on, price: of }) => ({ x: new Date(on).getTime(), y: Number(of) })),
    },
  ],
  options: {
    chart: { type: 'line' as const },
    colors: ['willow'],
    stroke: { width: 2, curve: 'stepline' as const },
    markers: { size: 4 },
    xaxis: { type: 'datetime' as const },
    yaxis: { labels: { formatter: (value: number) => price(String(value), supplier.value?.currency) } },
    tooltip: { y: { formatter: (value: number) => price(String(value), supplier.value?.currency) } },
  },
}))
</script>

<template>
  <div v-if="supplier">
    <UiHead :title="supplier.name" :summary="contact">
      <UiTag v-if="supplier.retired">retired</UiTag>
      <UiButton @click="navigateTo(`/catalogue/lists/suppliers?open=${supplier.id}`)">Details</UiButton>
      <UiButton
        v-if="session.allows('buy') && !supplier.retired"
        primary
        @click="navigateTo({ path: '/purchasing/new', query: { supplier: supplier.id } })"
        >New purchase order</UiButton
      >
    </UiHead>
    <p class="mb-4" data-test="record">
      <template v-if="supplier.lines > 0">
        Of {{ supplier.lines }} {{ plural(supplier.lines, 'line', 'lines') }} that
        {{ plural(supplier.lines, 'was', 'were') }} due within a year, <b>{{ share(supplier.onTime) }}</b> came on time
        and in full, {{ share(supplier.inFull) }} in full.
      </template>
      <template v-else>Nothing of theirs was due within a year.</template>
      <template v-if="supplier.inspected > 0">
        Of {{ supplier.inspected }} {{ plural(supplier.inspected, 'inspection', 'inspections') }} of their goods,
        <b>{{ supplier.rejected }}</b> ({{ Math.round((supplier.rejected / supplier.inspected) * 100) }} %) sorted or
        rejected what came.
      </template>
      <template v-if="session.allows('costs') && supplier.notInvoiced && supplier.notInvoiced !== '0'">
        Received and not invoiced: <b>{{ money(supplier.notInvoiced) }}</b>.
      </template>
      <template v-if="session.allows('costs') && supplier.creditsExpected && supplier.creditsExpected !== '0'">
        Expected for what went back: <b>{{ money(supplier.creditsExpected) }}</b>.
      </template>
    </p>
    <UiSheet title="Purchase orders" flush class="mb-4">
      <UiDataTable
        list="orders of a supplier"
        label="Purchase orders"
        is-embedded
        :columns="ORDERS"
        :load="loadOrders"
        :extra="{ supplierId: supplier.id }"
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
        <template #empty
          ><UiEmptyState title="No orders yet" summary="What is ordered of them stands here."
        /></template>
      </UiDataTable>
    </UiSheet>
    <div class="grid items-start gap-4" :class="drawn && session.allows('costs') && 'lg:grid-cols-[1fr_26rem]'">
      <UiSheet title="What they deliver" flush>
        <UiDataTable
          list="items of a supplier"
          label="What they deliver"
          is-embedded
          :columns="ITEMS"
          :rows="supplier.items"
          :open="(row) => (looked = row.id)"
          :marked="(row) => row.id === drawn?.id"
        >
          <template #code="{ row }"><UiItemChip :id="row.id" :code="row.code" :name="row.name" /></template>
          <template #lastPrice="{ row }"
            >{{ price(row.lastPrice, supplier.currency) }}
            <span class="text-soft">/ {{ references.symbol(row.unit) }}</span></template
          >
          <template #empty
            ><UiEmptyState title="Nothing yet" summary="What was ordered of them is listed here with its prices."
          /></template>
        </UiDataTable>
      </UiSheet>
      <UiSheet v-if="drawn && session.allows('costs')" :title="`Price of ${drawn.code}, by order`">
        <UiChart
          :label="`Price of ${drawn.code} by day of the order`"
          :series="chart.series"
          :options="chart.options"
          :height="240"
        />
        <UiLinesTable is-grid class="mt-2 w-full" :aria-label="`Prices of ${drawn.code}`">
          <thead>
            <tr class="border-b border-line text-fine text-soft">
              <th class="py-1 text-left font-medium">Ordered</th>
              <th class="py-1 text-right font-medium">Price / {{ references.symbol(drawn.unit) }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(paid, index) in drawn.prices" :key="index" class="border-b border-line/60 last:border-0">
              <td class="py-1">{{ day(paid.on) }}</td>
              <td class="py-1 text-right">{{ price(paid.price, supplier.currency) }}</td>
            </tr>
          </tbody>
        </UiLinesTable>
      </UiSheet>
    </div>
  </div>
</template>
