<script setup lang="ts">
import { refDebounced } from '@vueuse/core'

const props = defineProps<{ search: string }>()
const emit = defineEmits<{ moved: [] }>()
const session = useSession()
const references = useReferences()
const site = ref<number | null>(null)
const short = ref('')
const sort = ref('code')
const page = ref(1)
const slow = refDebounced(
  toRef(() => props.search),
  150,
)
watch([slow, site, short], () => {
  page.value = 1
})
const { data, error, refresh } = await useFetch('/api/stock/by-site', {
  query: computed(() => ({
    search: slow.value,
    sort: sort.value,
    page: page.value,
    size: 50,
    short: short.value,
    ...(site.value !== null && { site: site.value }),
  })),
})
type Row = NonNullable<typeof data.value>['rows'][number]
const bringing = ref<Row | null>(null)
const COLUMNS = [
  { key: 'code', name: 'Item', sort: 'code' },
  { key: 'site', name: 'Site', sort: 'site' },
  { key: 'onHand', name: 'On hand', right: true },
  { key: 'allocated', name: 'Allocated', right: true },
  { key: 'available', name: 'Available', right: true },
  { key: 'held', name: 'On hold', right: true },
  { key: 'coming', name: 'On order', right: true },
  { key: 'inTransit', name: 'In transit', right: true },
  { key: 'backOrder', name: 'Back order', right: true },
  { key: 'act', name: '' },
]
async function done(): Promise<void> {
  bringing.value = null
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
        v-model="short"
        label="Which"
        hide-label
        :options="[
          { value: '', name: 'Everything' },
          { value: 'yes', name: 'Only what is short' },
        ]"
      />
      <p class="ml-auto text-fine text-soft">
        Available is on hand less what is allocated. A back order is what orders want beyond it.
      </p>
    </div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiTable
      :columns="COLUMNS"
      :rows="data?.rows ?? []"
      label="Stock by site"
      :sort="sort"
      @sort="sort = $event.replace('-', '')"
    >
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
          >Bring some here</UiButton
        ></template
      >
    </UiTable>
    <UiEmpty
      v-if="data && data.rows.length === 0"
      title="Nothing here"
      :summary="
        short ? 'No site is short of anything.' : 'What is on hand, on order or wanted is summed up here, site by site.'
      "
    />
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    <StockBring v-if="bringing" :to="bringing" @done="done" @close="bringing = null" />
  </UiSheet>
</template>
