<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const emit = defineEmits<{ moved: [] }>()
const session = useSession()
const references = useReferences()
const site = ref<number | null>(null)
const short = ref('')
const extra = computed(() => ({ short: short.value, ...(site.value !== null && { site: site.value }) }))
const load = (query: Record<string, unknown>) => $fetch('/api/stock/by-site', { query })
const list = useTemplateRef('list')
type Row = Awaited<ReturnType<typeof load>>['rows'][number]
const bringing = ref<Row | null>(null)
const FIGURE = { kind: 'quantity', unit: 'symbol', width: 105 } as const
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', isFixed: true, text: (row: Row) => `${row.code} ${row.name}` },
  { key: 'site', name: 'Site', width: 150 },
  { key: 'onHand', name: 'On hand', ...FIGURE },
  { key: 'allocated', name: 'Allocated', ...FIGURE },
  { key: 'available', name: 'Available', ...FIGURE },
  { key: 'held', name: 'On hold', ...FIGURE },
  { key: 'coming', name: 'On order', ...FIGURE },
  { key: 'inTransit', name: 'In transit', ...FIGURE },
  { key: 'backOrder', name: 'Back order', ...FIGURE },
  { key: 'safety', name: 'Safety stock', ...FIGURE, isHidden: true },
  { key: 'act', name: '', isAct: true, width: 130 },
]
async function done(): Promise<void> {
  bringing.value = null
  emit('moved')
  await list.value?.refresh()
}
</script>

<template>
  <UiSheet flush>
    <UiDataTable
      ref="list"
      list="stock by site"
      label="Stock by site"
      search-label="Filter item or lot"
      :columns="COLUMNS"
      :load="load"
      :extra="extra"
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
          v-model="short"
          label="Which"
          hide-label
          :options="[
            { value: '', name: 'Everything' },
            { value: 'yes', name: 'Only what is short' },
          ]"
        />
      </template>
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template v-for="key in ['onHand', 'allocated', 'held'] as const" :key="key" #[key]="{ row }"
        ><UiQty v-if="row[key] !== '0'" :of="row[key]" :unit="row.symbol"
      /></template>
      <template #available="{ row }"><UiQty strong :of="row.available" :unit="row.symbol" /></template>
      <template #coming="{ row }"
        ><span v-if="row.coming !== '0'" class="inline-flex items-center gap-2"
          ><GoodsBlock state="coming" class="h-3 w-4 border" /><UiQty :of="row.coming" :unit="row.symbol" /></span
      ></template>
      <template #inTransit="{ row }"
        ><span v-if="row.inTransit !== '0'" class="inline-flex items-center gap-2"
          ><GoodsBlock state="coming" class="h-3 w-4 border" /><UiQty :of="row.inTransit" :unit="row.symbol" /></span
      ></template>
      <template #backOrder="{ row }"
        ><span v-if="row.backOrder !== '0'" class="inline-flex items-center gap-2 font-medium text-brick"
          ><GoodsBlock state="missing" class="h-3 w-5" /><UiQty :of="row.backOrder" :unit="row.symbol" /></span
      ></template>
      <template #act="{ row }"
        ><UiButton
          v-if="
            session.allows('stock') && references.sites.length > 1 && (row.backOrder !== '0' || row.available === '0')
          "
          small
          @click="bringing = row"
          >Transfer some here</UiButton
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="Nothing here"
          :summary="
            short
              ? 'No site is short of anything.'
              : 'What is on hand, on order or wanted is summed up here, site by site.'
          "
      /></template>
    </UiDataTable>
    <p class="px-4 py-2 text-fine text-soft">
      Available is on hand less what is allocated. A back order is what orders want beyond it.
    </p>
    <StockBring v-if="bringing" :to="bringing" @done="done" @close="bringing = null" />
  </UiSheet>
</template>
