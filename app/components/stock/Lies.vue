<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { STOCK_STATUSES } from '~~/shared/stock/requests'

const props = defineProps<{
  search?: string
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
const sort = ref('code')
const page = ref(1)
const slow = refDebounced(
  toRef(() => props.search ?? ''),
  150,
)
const slowTrait = refDebounced(trait, 150)
watch([slow, slowTrait, bin, site, status, asOf], () => {
  page.value = 1
})
const bins = computed(() => references.bins.filter((bin) => site.value === null || bin.siteId === site.value))
const own = computed(() => ({
  ...(props.item !== undefined && { item: props.item }),
  ...(props.lot !== undefined && { lot: props.lot }),
  ...(props.piece !== undefined && { piece: props.piece }),
}))
const { data, refresh, error } = await useFetch('/api/stock/balances', {
  query: computed(() => ({
    search: slow.value,
    sort: sort.value,
    page: page.value,
    size: 50,
    status: status.value,
    value: slowTrait.value,
    asOf: asOf.value,
    ...own.value,
    ...(bin.value !== null && { bin: bin.value }),
    ...(site.value !== null && { site: site.value }),
  })),
})
type Row = NonNullable<typeof data.value>['rows'][number]
const moving = ref<Row | null>(null)
const traits = (row: Row): string =>
  Object.entries(row.traits)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
const COLUMNS = computed(() => [
  ...(props.item === undefined ? [{ key: 'code', name: 'Item', sort: 'code' }] : []),
  { key: 'bin', name: 'Bin', sort: 'bin' },
  { key: 'lot', name: 'Lot, piece' },
  { key: 'expiresOn', name: 'Expires', sort: 'expires' },
  { key: 'status', name: 'Status' },
  { key: 'onHand', name: asOf.value ? 'Was there' : 'On hand', right: true, sort: 'onHand' },
  { key: 'allocated', name: 'Allocated', right: true },
  ...(asOf.value ? [] : [{ key: 'act', name: '' }]),
])
async function done(): Promise<void> {
  moving.value = null
  emit('moved')
  await refresh()
}
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2">
      <FormSelect
        v-model="site"
        label="Site"
        hide-label
        empty="All sites"
        :options="references.choices(references.sites)"
      />
      <FormSelect
        v-model="bin"
        label="Bin"
        hide-label
        empty="All bins"
        :options="bins.map((b) => ({ value: b.id, name: b.name }))"
      />
      <FormSelect
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
      <label class="ml-auto flex items-center gap-2 text-soft"
        >As of
        <input
          v-model="asOf"
          type="date"
          :max="session.today"
          aria-label="As of the evening of"
          class="h-9 rounded-block border border-line bg-sheet px-2 text-ink"
          :class="!asOf && 'empty-date'"
      /></label>
      <UiButton v-if="asOf" small @click="asOf = ''">Today</UiButton>
    </div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Balances" :sort="sort" @sort="sort = $event">
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #bin="{ row }"
        >{{ row.bin
        }}<span v-if="row.site && row.siteId !== references.sites[0]?.id" class="text-soft"
          >, {{ row.site }}</span
        ></template
      >
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
    </UiTable>
    <UiEmpty
      v-if="data && data.rows.length === 0"
      title="Nothing lies here"
      summary="Receive goods, record a build, or enter opening stock: by hand as a correction, or by file."
      ><UiButton @click="navigateTo('/catalogue/files?table=opening-stock')">Opening stock by file</UiButton></UiEmpty
    >
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    <StockMove v-if="moving" :from="moving" @done="done" @close="moving = null" />
  </UiSheet>
</template>
