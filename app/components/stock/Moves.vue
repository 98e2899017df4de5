<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import type { DataColumn } from '~/composables/ui/data-column'

const props = defineProps<{ item?: number; lot?: number; piece?: number }>()
const { money, printed } = usePrint()
const references = useReferences()
const extra = computed(() => ({
  ...(props.item !== undefined && { item: props.item }),
  ...(props.lot !== undefined && { lot: props.lot }),
  ...(props.piece !== undefined && { piece: props.piece }),
}))
const load = (query: Record<string, unknown>) => $fetch('/api/stock/moves', { query })
type Row = Awaited<ReturnType<typeof load>>['rows'][number]
const valueOf = (row: Row): string => (BigInt(row.value) + BigInt(row.adjusted)).toString()
/** Below zero where it went away. */
const signOf = (row: Row): string => {
  if (row.incoming === row.outgoing) {
    return ''
  }
  return row.incoming ? '+' : '−'
}
const residue = (row: { residueNumerator: string; residueDenominator: string }): string =>
  row.residueNumerator === '0' ? '' : printed(ratio(row.residueNumerator).div(ratio(row.residueDenominator)), 6)
const LINKS: Readonly<Record<string, string>> = {
  'purchase order': '/purchasing/',
  'sales order': '/demand/orders/',
  build: '/workshop/builds/',
  'break-down': '/workshop/break-downs/',
  transfer: '/stock/transfers/',
  'stock count': '/stock/counts/',
}
const linkOf = (row: { documentKind: string | null; documentId: number | null }): string | undefined =>
  row.documentKind && row.documentId !== null && LINKS[row.documentKind]
    ? `${LINKS[row.documentKind]}${row.documentId}`
    : undefined
const isTold = (status: string | null): boolean => status !== null && status !== 'available' && status !== 'on the way'
const COLUMNS: readonly DataColumn[] = [
  { key: 'effectiveOn', name: 'Day', kind: 'day', width: 90 },
  {
    key: 'label',
    name: 'What',
    wrap: true,
    isFixed: true,
    text: (row: Row) => [row.label, row.reason].filter(Boolean).join(' · '),
  },
  { key: 'code', name: 'Item', width: 140 },
  { key: 'lot', name: 'Lot, piece', width: 130, text: (row: Row) => [row.lot, row.piece].filter(Boolean).join(' ') },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol', width: 140 },
  { key: 'from', name: 'From', width: 150 },
  { key: 'to', name: 'To', width: 150 },
  { key: 'value', name: 'Value', kind: 'money', width: 110, isCost: true },
  { key: 'who', name: 'Who', width: 80 },
]
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      list="moves"
      label="Moves"
      search-label="Filter item or lot"
      :columns="COLUMNS"
      :load="load"
      :extra="extra"
      :muted="(row) => row.reversed"
      :is-embedded="item !== undefined || lot !== undefined || piece !== undefined"
    >
      <template #label="{ row }"
        ><component
          :is="linkOf(row) ? 'a' : 'span'"
          :href="linkOf(row)"
          :class="[row.reversed && 'line-through', linkOf(row) && 'hover:underline']"
          >{{ row.label }}</component
        ><span v-if="row.reason" class="text-soft"> · {{ row.reason }}</span></template
      >
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" /></template>
      <template #lot="{ row }"
        ><StockLotLink :lot-id="row.lotId" :lot="row.lot" :piece-id="row.pieceId" :piece="row.piece"
      /></template>
      <template #quantity="{ row }">
        <span
          class="inline-flex items-center gap-2"
          :title="`typed: ${row.entered} ${references.symbol(row.enteredUnit)}`"
          ><GoodsBlock
            :state="row.incoming && row.outgoing ? 'held' : row.incoming ? 'on hand' : 'allocated'"
            class="h-3 w-3 border" /><span>{{ signOf(row) }}<UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></span>
        <span v-if="residue(row)" class="block text-fine text-soft">residue {{ residue(row) }} {{ row.symbol }}</span>
      </template>
      <template #from="{ row }"
        >{{ row.from }}<span v-if="isTold(row.fromStatus)" class="text-soft"> {{ row.fromStatus }}</span></template
      >
      <template #to="{ row }"
        >{{ row.to }}<span v-if="isTold(row.toStatus)" class="text-soft"> {{ row.toStatus }}</span></template
      >
      <template #value="{ row }"
        >{{ money(valueOf(row))
        }}<span
          v-if="row.adjusted !== '0'"
          class="block text-fine text-soft"
          title="An invoice, a late entry or a change of method came later"
          >was {{ money(row.value) }}</span
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="No moves"
          summary="Every receipt, build, shipment and correction will be written here, for ever."
      /></template>
    </UiDataTable>
  </UiSheet>
</template>
