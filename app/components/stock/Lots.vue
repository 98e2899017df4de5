<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import type { DataColumn } from '~/composables/ui/data-column'

const references = useReferences()
const { day, isPast } = usePrint()
const names = computed(() =>
  [...new Set(references.groups.flatMap((group) => group.traits.map((trait) => trait.name)))].sort(),
)
const form = reactive({ trait: '', value: '', held: 'yes', expiresBy: '', group: null as number | null })
const slowValue = refDebounced(toRef(form, 'value'), 150)
const extra = computed(() => ({
  trait: form.trait,
  value: slowValue.value,
  held: form.held,
  expiresBy: form.expiresBy,
  ...(form.group !== null && { group: form.group }),
}))
const load = (query: Record<string, unknown>) => $fetch('/api/stock/lots', { query })
type Row = Awaited<ReturnType<typeof load>>['rows'][number]
const traits = (row: { traits: Record<string, string> }): string =>
  Object.entries(row.traits)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', width: 260, isFixed: true, text: (row: Row) => `${row.code} ${row.name}` },
  { key: 'lot', name: 'Lot, piece', width: 150, text: (row: Row) => [row.lot, row.piece].filter(Boolean).join(' ') },
  {
    key: 'traits',
    name: 'Traits',
    wrap: true,
    isSortable: false,
    isFilterable: false,
    text: (row: Row) => traits(row),
  },
  { key: 'supplierNumber', name: 'Supplier’s lot number', width: 150, isHidden: true },
  { key: 'receivedOn', name: 'Received', kind: 'day' },
  { key: 'expiresOn', name: 'Expires', kind: 'day' },
  { key: 'bestBeforeOn', name: 'Best before', kind: 'day', isHidden: true },
  { key: 'onHand', name: 'Remains', kind: 'quantity', unit: 'symbol', width: 190 },
  { key: 'held', name: 'On hold', kind: 'quantity', unit: 'symbol', isHidden: true },
  { key: 'where', name: 'Bins', wrap: true },
]
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="lots"
      label="Lots and pieces"
      search-label="Filter item or lot"
      :columns="COLUMNS"
      :load="load"
      :extra="extra"
      :open="(row) => navigateTo(row.pieceId ? `/stock/pieces/${row.pieceId}` : `/stock/lots/${row.lotId}`)"
    >
      <template #filters>
        <UiChoice v-model="form.group" label="Group" hide-label empty="All groups" :options="references.groupChoices" />
        <UiChoice
          v-model="form.trait"
          label="Trait"
          hide-label
          :options="[{ value: '', name: 'Any trait' }, ...names.map((n) => ({ value: n, name: n }))]"
        />
        <UiSearch v-model="form.value" label="Its value" />
        <UiDateField v-model="form.expiresBy" class="w-44" label="Expires by" placeholder="Expires by" hide-label />
        <UiChoice
          v-model="form.held"
          label="Which"
          hide-label
          :options="[
            { value: 'yes', name: 'In stock' },
            { value: '', name: 'All there ever were' },
          ]"
        />
      </template>
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #lot="{ row }"
        ><StockLotLink :lot-id="row.lotId" :lot="row.lot" :piece-id="row.pieceId" :piece="row.piece"
      /></template>
      <template #traits="{ row }">{{ traits(row) }}</template>
      <template #expiresOn="{ row }"
        ><span :class="isPast(row.expiresOn) && row.onHand !== '0' && 'font-semibold text-brick'">{{
          day(row.expiresOn)
        }}</span></template
      >
      <template #onHand="{ row }"
        ><span class="inline-flex items-center gap-2"
          ><span v-if="row.original" class="w-16"><StockRemains :original="row.original" :remains="row.onHand" /></span
          ><UiQty strong :of="row.onHand" :unit="row.symbol" /></span
      ></template>
      <template #empty
        ><UiEmptyState
          title="No lots here"
          summary="Lots and pieces come with goods in, with builds, and with opening stock, of items that are tracked by lot or by piece."
      /></template>
    </UiDataTable>
  </UiSheet>
</template>
