<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { ratio } from '~~/core/units/exact'

const props = defineProps<{ item?: number; search?: string; lot?: number; piece?: number }>()
const { day, money, printed } = usePrint()
const references = useReferences()
const page = ref(1)
const slow = refDebounced(
  toRef(() => props.search ?? ''),
  150,
)
const query = computed(() => ({
  ...(props.item !== undefined && { item: props.item }),
  ...(props.lot !== undefined && { lot: props.lot }),
  ...(props.piece !== undefined && { piece: props.piece }),
  search: slow.value,
  page: page.value,
  size: 50,
}))
const { data } = await useFetch('/api/stock/moves', { query })
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
const COLUMNS = [
  { key: 'effectiveOn', name: 'Day' },
  { key: 'label', name: 'What', wrap: true },
  { key: 'code', name: 'Item' },
  { key: 'lot', name: 'Lot, piece' },
  { key: 'quantity', name: 'Quantity', right: true },
  { key: 'way', name: 'From → to' },
  { key: 'value', name: 'Value', right: true },
  { key: 'who', name: 'Who' },
]
</script>

<template>
  <UiSheet flush>
    <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Moves" :muted="(row) => row.reversed">
      <template #effectiveOn="{ row }">{{ day(row.effectiveOn) }}</template>
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
            class="h-3 w-3 border" /><span
            >{{ row.incoming && !row.outgoing ? '+' : row.outgoing && !row.incoming ? '−' : ''
            }}<UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></span>
        <span v-if="residue(row)" class="block text-fine text-soft">residue {{ residue(row) }} {{ row.symbol }}</span>
      </template>
      <template #way="{ row }"
        ><span class="text-soft"
          >{{ row.from
          }}<template v-if="row.fromStatus && row.fromStatus !== 'available' && row.fromStatus !== 'on the way'">
            {{ row.fromStatus }}</template
          ></span
        >
        → {{ row.to
        }}<template v-if="row.toStatus && row.toStatus !== 'available' && row.toStatus !== 'on the way'">
          {{ row.toStatus }}</template
        ></template
      >
      <template #value="{ row }"
        >{{ money((BigInt(row.value) + BigInt(row.adjusted)).toString())
        }}<span
          v-if="row.adjusted !== '0'"
          class="block text-fine text-soft"
          title="An invoice, a late entry or a change of method came later"
          >was {{ money(row.value) }}</span
        ></template
      >
    </UiTable>
    <UiEmpty
      v-if="data && data.rows.length === 0"
      title="No moves"
      summary="Every receipt, build, shipment and correction will be written here, for ever."
    />
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
  </UiSheet>
</template>
