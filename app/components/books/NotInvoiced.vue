<script setup lang="ts">
import type { NotInvoicedRow } from '~~/shared/books/answers'

const COLUMNS = [
  { key: 'day', name: 'Received' },
  { key: 'order', name: 'Order' },
  { key: 'code', name: 'Item' },
  { key: 'where', name: 'Site and lot' },
  { key: 'quantity', name: 'Quantity', right: true },
  { key: 'amount', name: 'Not invoiced', right: true },
  { key: 'inStock', name: 'Still in stock', right: true },
  { key: 'used', name: 'Used or sold', right: true },
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
      <FormText v-model="asOf" class="w-44" type="date" label="On the evening of" />
      <UiButton v-if="asOf" small @click="asOf = ''">Now</UiButton>
      <p class="ml-auto" data-test="open-total">
        {{ asOf ? day(asOf) : 'Now' }} <b class="font-semibold">{{ money(add('amount')) }}</b><span class="text-soft"
          >, of it {{ money(add('inStockAmount')) }} still in stock and {{ money(add('usedAmount')) }} used or
          sold</span
        >
      </p>
      <a :href="`/api/export/not-invoiced?asOf=${asOf}`" class="text-soft underline" download>Export CSV</a>
    </div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiTable v-if="data?.length" :columns="COLUMNS" :rows="data" label="Received, not invoiced">
      <template #day="{ row }">{{ day(row.day) }}</template>
      <template #order="{ row }"
        ><NuxtLink v-if="row.orderId" :to="`/purchasing/${row.orderId}`" class="underline">{{ row.order }}</NuxtLink
        >{{ ' ' }}<span class="text-soft">{{ row.supplier }}</span></template
      >
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #where="{ row }">{{ place(row) }}</template>
      <template #quantity="{ row }"><UiQty :of="row.quantity" :unit="row.symbol" /></template>
      <template #amount="{ row }">{{ money(row.amount) }}</template>
      <template #inStock="{ row }"
        ><span v-if="row.inStock !== '0'"
          >{{ money(row.inStockAmount) }}
          <span class="block text-fine text-soft"><UiQty :of="row.inStock" :unit="row.symbol" /></span></span
      ></template>
      <template #used="{ row }"
        ><span v-if="row.used !== '0'"
          >{{ money(row.usedAmount) }}
          <span class="block text-fine text-soft"><UiQty :of="row.used" :unit="row.symbol" /></span></span
      ></template>
    </UiTable>
    <UiEmpty
      v-else-if="data"
      title="Everything is invoiced"
      summary="Receipts whose invoice has not come yet are listed here, with what of them is still in stock."
    />
  </UiSheet>
</template>
