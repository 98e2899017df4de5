<script setup lang="ts">
import { refDebounced } from '@vueuse/core'

const props = defineProps<{ search: string }>()
const references = useReferences()
const { day, isPast } = usePrint()
const names = computed(() =>
  [...new Set(references.groups.flatMap((group) => group.traits.map((trait) => trait.name)))].sort(),
)
const form = reactive({ trait: '', value: '', held: 'yes', expiresBy: '', group: null as number | null, sort: 'code' })
const page = ref(1)
const slow = refDebounced(
  toRef(() => props.search),
  150,
)
const slowValue = refDebounced(toRef(form, 'value'), 150)
watch([slow, slowValue, () => form.trait, () => form.held, () => form.expiresBy, () => form.group], () => {
  page.value = 1
})
const { data, error } = await useFetch('/api/stock/lots', {
  query: computed(() => ({
    search: slow.value,
    trait: form.trait,
    value: slowValue.value,
    held: form.held,
    expiresBy: form.expiresBy,
    sort: form.sort,
    page: page.value,
    size: 50,
    ...(form.group !== null && { group: form.group }),
  })),
})
const traits = (row: { traits: Record<string, string> }): string =>
  Object.entries(row.traits)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
const COLUMNS = [
  { key: 'code', name: 'Item', sort: 'code' },
  { key: 'lot', name: 'Lot, piece' },
  { key: 'traits', name: 'Traits', wrap: true },
  { key: 'receivedOn', name: 'Received' },
  { key: 'expiresOn', name: 'Expires', sort: 'expires' },
  { key: 'onHand', name: 'Remains', right: true },
  { key: 'where', name: 'Lies', wrap: true },
]
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2">
      <FormSelect v-model="form.group" label="Group" hide-label empty="All groups" :options="references.groupChoices" />
      <FormSelect
        v-model="form.trait"
        label="Trait"
        hide-label
        :options="[{ value: '', name: 'Any trait' }, ...names.map((n) => ({ value: n, name: n }))]"
      />
      <UiSearch v-model="form.value" label="Its value" />
      <label class="flex items-center gap-2 text-soft"
        >Expires by
        <input
          v-model="form.expiresBy"
          type="date"
          aria-label="Expires by"
          class="h-9 rounded-block border border-line bg-sheet px-2 text-ink"
          :class="!form.expiresBy && 'empty-date'"
      /></label>
      <FormSelect
        v-model="form.held"
        class="ml-auto"
        label="Which"
        hide-label
        :options="[
          { value: 'yes', name: 'In stock' },
          { value: '', name: 'All there ever were' },
        ]"
      />
    </div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiTable
      :columns="COLUMNS"
      :rows="data?.rows ?? []"
      label="Lots and pieces"
      :sort="form.sort"
      :open="(row) => navigateTo(row.pieceId ? `/stock/pieces/${row.pieceId}` : `/stock/lots/${row.lotId}`)"
      @sort="form.sort = $event.replace('-', '')"
    >
      <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
      <template #lot="{ row }"
        ><StockLotLink :lot-id="row.lotId" :lot="row.lot" :piece-id="row.pieceId" :piece="row.piece"
      /></template>
      <template #traits="{ row }">{{ traits(row) }}</template>
      <template #receivedOn="{ row }">{{ day(row.receivedOn) }}</template>
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
    </UiTable>
    <UiEmpty
      v-if="data && data.rows.length === 0"
      title="No lots here"
      summary="Lots and pieces come with goods in, with builds, and with opening stock, of items that are tracked by lot or by piece."
    />
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
  </UiSheet>
</template>
