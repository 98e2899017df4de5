<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { STOCK_STATUSES } from '~~/core/stock'
import type { DataColumn } from '~/composables/ui/data-column'

const props = defineProps<{
  start?: Readonly<Record<string, unknown>>
  item?: number
  lot?: number
  piece?: number
}>()
const emit = defineEmits<{
  correct: [from: { itemId: number; binId: number; lot: string; piece: string; status: string }]
  moved: []
}>()
const session = useSession()
const references = useReferences()
const { day, isPast } = usePrint()
const bin = ref<number | null>(props.start?.bin ? Number(props.start.bin) : null)
const site = ref<number | null>(null)
const status = ref('')
const trait = ref('')
const asOf = ref('')
const slowTrait = refDebounced(trait, 150)
const bins = computed(() => references.bins.filter((bin) => site.value === null || bin.siteId === site.value))
const own = computed(() => ({
  ...(props.item !== undefined && { item: props.item }),
  ...(props.lot !== undefined && { lot: props.lot }),
  ...(props.piece !== undefined && { piece: props.piece }),
}))
const extra = computed(() => ({
  status: status.value,
  value: slowTrait.value,
  asOf: asOf.value,
  ...own.value,
  ...(bin.value !== null && { bin: bin.value }),
  ...(site.value !== null && { site: site.value }),
}))
const load = (query: Record<string, unknown>) => $fetch('/api/stock/balances', { query })
const list = useTemplateRef('list')
type Row = Awaited<ReturnType<typeof load>>['rows'][number]
const moving = ref<Row | null>(null)
const traits = (row: Row): string =>
  Object.entries(row.traits)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
const COLUMNS = computed<readonly DataColumn[]>(() => [
  ...(props.item === undefined
    ? [{ key: 'code', name: 'Item', isFixed: true, least: 190, text: (row: Row) => `${row.code} ${row.name}` }]
    : []),
  { key: 'bin', name: 'Bin', width: 105 },
  { key: 'site', name: 'Site', width: 100, isHidden: references.sites.length < 2 },
  { key: 'lot', name: 'Lot, piece', width: 95, text: (row: Row) => [row.lot, row.piece].filter(Boolean).join(' ') },
  { key: 'expiresOn', name: 'Expires', kind: 'day', width: 70 },
  { key: 'status', name: 'Status', width: 105 },
  { key: 'onHand', name: asOf.value ? 'Was there' : 'On hand', kind: 'quantity', unit: 'symbol', width: 95 },
  { key: 'allocated', name: 'Allocated', kind: 'quantity', unit: 'symbol', width: 80 },
  ...(asOf.value ? [] : [{ key: 'act', name: '', isAct: true, width: 130 }]),
])
async function done(): Promise<void> {
  moving.value = null
  emit('moved')
  await list.value?.refresh()
}
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      ref="list"
      list="stock on hand"
      label="Balances"
      search-label="Filter item or lot"
      :columns="COLUMNS"
      :load="load"
      :extra="extra"
      :is-embedded="item !== undefined || lot !== undefined || piece !== undefined"
    >
      <template #filters>
        <UiChoice
          v-model="site"
          label="Site"
          hide-label
          empty="All sites"
          :options="references.choices(references.sites)"
        />
        <UiChoice
          v-model="bin"
          label="Bin"
          hide-label
          empty="All bins"
          :options="bins.map((b) => ({ value: b.id, name: b.name }))"
        />
        <UiChoice
          v-model="status"
          label="Status"
          hide-label
          :options="[
            { value: '', name: 'Any status' },
            ...STOCK_STATUSES.map((s) => ({ value: s, name: s })),
            { value: 'on the way', name: 'on the way' },
          ]"
        />
        <UiSearch v-model="trait" label="Trait, such as a dye lot" />
        <UiDateField v-model="asOf" class="w-44 ml-auto" label="As of the evening of" placeholder="As of" hide-label />
        <UiButton v-if="asOf" small @click="asOf = ''">Today</UiButton>
      </template>
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #bin="{ row }">{{ row.bin }}</template>
      <template #lot="{ row }"
        ><StockLotLink :lot-id="row.lotId" :lot="row.lot" :piece-id="row.pieceId" :piece="row.piece" /><span
          v-if="traits(row)"
          class="block text-fine text-soft"
          >{{ traits(row) }}</span
        ></template
      >
      <template #expiresOn="{ row }"
        ><span :class="isPast(row.expiresOn) && 'font-semibold text-brick'">{{ day(row.expiresOn) }}</span></template
      >
      <template #status="{ row }"
        ><span class="flex items-center gap-2"
          ><GoodsBlock
            :state="row.status === 'available' ? 'on hand' : row.status === 'on the way' ? 'coming' : 'held'"
            class="h-3 w-5 border"
          />{{ row.status }}</span
        ></template
      >
      <template #onHand="{ row }"><UiQty strong :of="row.onHand" :unit="row.symbol" /></template>
      <template #allocated="{ row }"
        ><UiQty v-if="row.allocated !== '0'" :of="row.allocated" :unit="row.symbol"
      /></template>
      <template #act="{ row }"
        ><span v-if="session.allows('stock') && row.status !== 'on the way'" class="flex justify-end gap-1"
          ><UiButton small @click="moving = row">Move</UiButton
          ><UiButton
            small
            @click="
              emit('correct', {
                itemId: row.itemId,
                binId: row.binId,
                lot: row.lot ?? '',
                piece: row.piece ?? '',
                status: row.status,
              })
            "
            >Correct</UiButton
          ></span
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="Nothing lies here"
          summary="Receive goods, record a build, or enter opening stock: by hand as a correction, or by file."
          ><UiButton @click="navigateTo('/catalogue/files?table=opening-stock')"
            >Opening stock by file</UiButton
          ></UiEmptyState
        ></template
      >
    </UiDataTable>
    <StockMove v-if="moving" :from="moving" @done="done" @close="moving = null" />
  </UiSheet>
</template>
