<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import { toMajor } from '~~/core/money'
import { ratio, toDecimal } from '~~/core/units/exact'
const { money, day } = usePrint()
const by = ref<'item' | 'site' | 'group' | 'lot'>('item')
const asOf = ref('')
const { data, error } = await useFetch('/api/books/value', {
  query: computed(() => ({ by: by.value, asOf: asOf.value })),
})
const { data: sums } = await useFetch('/api/books/value', {
  query: computed(() => ({ by: 'group' as const, asOf: asOf.value })),
})
const groups = computed(() => [...(sums.value ?? [])].sort((a, b) => Number(BigInt(b.value) - BigInt(a.value))))
const add = (field: 'value' | 'uninvoiced'): bigint =>
  (data.value ?? []).reduce((sum, row) => sum + BigInt(row[field]), 0n)
const each = (row: { quantity: string | null; value: string }): string =>
  row.quantity === null || row.quantity === '0' ? '' : toDecimal(toMajor(row.value).div(ratio(row.quantity)), 4)
type Row = NonNullable<typeof data.value>[number]
const isByItem = computed(() => by.value === 'item' || by.value === 'lot')
const COLUMNS = computed<readonly DataColumn[]>(() => [
  ...(by.value === 'site' ? [{ key: 'site', name: 'Site' }] : [{ key: 'group', name: 'Group', width: 160 }]),
  ...(isByItem.value ? [{ key: 'code', name: 'Item', text: (row: Row) => `${row.code} ${row.name}` }] : []),
  ...(by.value === 'lot'
    ? [
        { key: 'site', name: 'Site' },
        { key: 'lot', name: 'Lot' },
      ]
    : []),
  ...(isByItem.value
    ? [
        { key: 'quantity', name: 'Quantity', kind: 'quantity' as const, unit: 'symbol' },
        { key: 'each', name: 'Unit cost', kind: 'number' as const, text: each, isFilterable: false, isSortable: false },
      ]
    : []),
  { key: 'value', name: 'Value', kind: 'money', hasTotal: true },
  { key: 'uninvoiced', name: 'Not invoiced', kind: 'money', hasTotal: true },
])
</script>

<template>
  <div class="grid grid-cols-1 md:grid-cols-[17rem_1fr] items-start gap-4">
    <UiSheet title="By group"
      ><ul class="grid gap-2">
        <li v-for="group in groups" :key="group.id">
          <span class="flex justify-between gap-2"
            ><span>{{ group.name }}</span
            ><span>{{ money(group.value) }}</span></span
          ><span
            class="block h-3"
            :style="{
              width: `${Math.max(1, Number((BigInt(group.value) * 1000n) / (BigInt(groups[0]!.value) || 1n)) / 10)}%`,
            }"
            ><GoodsBlock state="on hand" class="h-3 w-full"
          /></span>
        </li></ul
    ></UiSheet>
    <UiSheet flush>
      <div class="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2">
        <UiChoice
          v-model="by"
          label="Added up"
          hide-label
          :options="[
            { value: 'item', name: 'By item' },
            { value: 'group', name: 'By group' },
            { value: 'site', name: 'By site' },
            { value: 'lot', name: 'By item, site and lot' },
          ]"
        />
        <UiDateField v-model="asOf" class="w-44" label="On the evening of" placeholder="On the evening of" hide-label />
        <UiButton v-if="asOf" small @click="asOf = ''">Now</UiButton>
        <p class="ml-auto" data-test="value-total">
          {{ asOf ? day(asOf) : 'Now' }} <b class="font-semibold">{{ money(add('value')) }}</b><span class="text-soft"
            >, of it {{ money(add('uninvoiced')) }} not invoiced; without it
            {{ money(add('value') - add('uninvoiced')) }}</span
          >
        </p>
      </div>
      <UiProblem v-if="error" :text="problemOf(error).detail" />
      <UiDataTable
        :key="by"
        :list="`stock value by ${by}`"
        is-embedded
        :columns="COLUMNS"
        :rows="data ?? []"
        label="Value of stock"
      >
        <template #code="{ row }"
          ><UiItemChip v-if="row.itemId" :id="row.itemId" :code="row.code" :name="row.name"
        /></template>
        <template #quantity="{ row }"><UiQty v-if="row.quantity" :of="row.quantity" :unit="row.symbol" /></template>
        <template #each="{ row }"
          ><span class="text-soft">{{ each(row) }}</span></template
        >
        <template #uninvoiced="{ row }"
          ><span v-if="row.uninvoiced !== '0'" class="text-soft">{{ money(row.uninvoiced) }}</span></template
        >
      </UiDataTable>
      <UiEmptyState
        v-if="data?.length === 0"
        title="No stock yet"
        summary="Receive goods or enter opening stock; its value is kept here."
      />
    </UiSheet>
  </div>
</template>
