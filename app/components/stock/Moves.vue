<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { printAmount, ratio } from '~~/core/units'

const props = defineProps<{ item?: number, search?: string }>()
const { day, money } = usePrint()
const references = useReferences()
const page = ref(1)
const slow = refDebounced(toRef(() => props.search ?? ''), 150)
const query = computed(() => ({ ...props.item !== undefined && { item: props.item }, search: slow.value, page: page.value, size: 50 }))
const { data } = await useFetch('/api/stock/moves', { query })
const residue = (row: { residueNumerator: string, residueDenominator: string }): string => row.residueNumerator === '0' ? '' : printAmount(ratio(row.residueNumerator).div(ratio(row.residueDenominator)), 6)
const COLUMNS = [{ key: 'effectiveOn', name: 'Day' }, { key: 'label', name: 'What', wrap: true }, { key: 'code', name: 'Item' }, { key: 'lot', name: 'Lot' }, { key: 'quantity', name: 'Quantity', right: true }, { key: 'way', name: 'From → to' }, { key: 'value', name: 'Value', right: true }, { key: 'who', name: 'Who' }]
</script>

<template>
  <UiSheet flush>
    <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Moves" :muted="row => row.reversed">
      <template #effectiveOn="{ row }">{{ day(row.effectiveOn) }}</template>
      <template #label="{ row }"><span :class="row.reversed && 'line-through'">{{ row.label }}</span><span v-if="row.reason" class="text-soft"> · {{ row.reason }}</span></template>
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" /></template>
      <template #quantity="{ row }">
        <span class="inline-flex items-center gap-2" :title="`typed: ${row.entered} ${references.symbol(row.enteredUnit)}`"><GoodsBlock :state="row.incoming && row.outgoing ? 'held' : row.incoming ? 'on hand' : 'allocated'" class="h-3 w-3 border" /><span>{{ row.incoming && !row.outgoing ? '+' : row.outgoing && !row.incoming ? '−' : '' }}<UiQty :of="row.quantity" :unit="row.symbol" /></span></span>
        <span v-if="residue(row)" class="block text-fine text-soft">residue {{ residue(row) }} {{ row.symbol }}</span>
      </template>
      <template #way="{ row }"><span class="text-soft">{{ row.from }}</span> → {{ row.to }}</template>
      <template #value="{ row }">{{ money(row.value) }}</template>
    </UiTable>
    <UiEmpty v-if="data && data.rows.length === 0" title="No moves" says="Every receipt, build, shipment and correction will be written here, for ever." />
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
  </UiSheet>
</template>
