<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import type { NotInvoicedRow } from '~~/shared/books/answers'

const COLUMNS: readonly DataColumn[] = [
  { key: 'day', name: 'Received', kind: 'day' },
  {
    key: 'order',
    name: 'Order',
    width: 220,
    isFixed: true,
    text: (row: NotInvoicedRow) => `${row.order} ${row.supplier}`,
  },
  { key: 'code', name: 'Item', text: (row: NotInvoicedRow) => `${row.code} ${row.name}` },
  { key: 'siteName', name: 'Site, lot', width: 160, text: (row: NotInvoicedRow) => place(row) },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol' },
  { key: 'amount', name: 'Not invoiced', kind: 'money', hasTotal: true },
  { key: 'inStockAmount', name: 'Still in stock', kind: 'money', hasTotal: true },
  { key: 'usedAmount', name: 'Used or sold', kind: 'money', hasTotal: true },
]
const { money, day } = usePrint()
const asOf = ref('')
const { data, error } = await useFetch('/api/books/not-invoiced', { query: computed(() => ({ asOf: asOf.value })) })
const add = (field: 'amount' | 'inStockAmount' | 'usedAmount'): bigint =>
  (data.value ?? []).reduce((sum, row) => sum + BigInt(row[field]), 0n)
const place = (row: NotInvoicedRow): string => [row.siteName, row.lot].filter(Boolean).join(' · ')
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2">
      <UiDateField v-model="asOf" class="w-44" label="On the evening of" />
      <UiButton v-if="asOf" small @click="asOf = ''">Now</UiButton>
      <p class="ml-auto" data-test="open-total">
        {{ asOf ? day(asOf) : 'Now' }} <b class="font-semibold">{{ money(add('amount')) }}</b><span class="text-soft"
          >, of it {{ money(add('inStockAmount')) }} still in stock and {{ money(add('usedAmount')) }} used or
          sold</span
        >
      </p>
    </div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiDataTable
      v-if="data?.length"
      list="goods received not invoiced"
      :columns="COLUMNS"
      :rows="data"
      label="Goods received not invoiced"
    >
      <template #order="{ row }"
        ><NuxtLink v-if="row.orderId" :to="`/purchasing/${row.orderId}`" class="underline">{{ row.order }}</NuxtLink
        >{{ ' ' }}<span class="text-soft">{{ row.supplier }}</span></template
      >
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #siteName="{ row }">{{ place(row) }}</template>
      <template #quantity="{ row }"><UiQty :of="row.quantity" :unit="row.symbol" /></template>
      <template #inStockAmount="{ row }"
        ><span v-if="row.inStock !== '0'"
          >{{ money(row.inStockAmount) }}
          <span class="block text-fine text-soft"><UiQty :of="row.inStock" :unit="row.symbol" /></span></span
      ></template>
      <template #usedAmount="{ row }"
        ><span v-if="row.used !== '0'"
          >{{ money(row.usedAmount) }}
          <span class="block text-fine text-soft"><UiQty :of="row.used" :unit="row.symbol" /></span></span
      ></template>
    </UiDataTable>
    <UiEmptyState
      v-else-if="data"
      title="Everything is invoiced"
      summary="Receipts whose invoice has not come yet are listed here, with what of them is still in stock."
    />
  </UiSheet>
</template>
