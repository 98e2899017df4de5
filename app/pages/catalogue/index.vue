<script setup lang="ts">
import type { ItemRow } from '~~/shared/catalogue/answers'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { ITEM_SOURCES, ITEM_STATUSES } from '~~/shared/catalogue/words'
import type { Paged } from '~~/shared/primitives'
const session = useSession()
const references = useReferences()
const route = useRoute()
const search = ref(String(route.query.search ?? ''))
const filters = reactive({
  status: 'active' as string,
  source: '' as string,
  group: route.query.group ? Number(route.query.group) : (null as number | null),
})
const sort = useLocalStorage('tsumiki-item-sort', 'code')
const slow = refDebounced(search, 150)
const query = computed(() => ({
  search: slow.value,
  sort: sort.value,
  status: filters.status,
  source: filters.source,
  ...(filters.group !== null && { group: filters.group }),
}))
const list = useLongList<ItemRow>(
  (asked) => $fetch<Paged<ItemRow>>('/api/catalogue/items', { query: asked }),
  () => query.value,
)
await list.begin()

const chosen = ref(new Set<number>())
watch(query, () => {
  chosen.value = new Set()
})
/** With the shift key a whole run is chosen, as far as it is read. */
function choose(row: ItemRow, isOn: boolean, from: number | null, index?: number): void {
  const next = new Set(chosen.value)
  const run =
    from === null || index === undefined
      ? [row]
      : Array.from({ length: Math.abs(index - from) + 1 }, (_, step) =>
          list.rowAt(Math.min(index, from) + step),
        ).filter((entry) => entry !== undefined)
  for (const entry of run) {
    if (isOn) {
      next.add(entry.id)
    } else {
      next.delete(entry.id)
    }
  }
  chosen.value = next
}
async function chooseAll(isOn: boolean): Promise<void> {
  chosen.value = new Set(isOn ? await $fetch('/api/catalogue/items/ids', { query: query.value }) : [])
}
const setting = ref(false)
const labelling = ref<{ id: number; code: string; units: { value: string; name: string }[] }[]>([])
async function label(): Promise<void> {
  labelling.value = await Promise.all(
    [...chosen.value].slice(0, 100).map(async (id) => {
      const sheet = await $fetch(`/api/catalogue/items/${id}/sheet`)
      return { id, code: sheet.code, units: sheet.units }
    }),
  )
}
const field = useTemplateRef('field')
const { money, price } = usePrint()
const mayEdit = computed(() => session.allows('catalogue'))
const COLUMNS = [
  { key: 'code', name: 'Item', sort: 'code', width: '10rem' },
  { key: 'name', name: 'Name', sort: 'name' },
  { key: 'group', name: 'Group', sort: 'group', width: '9rem' },
  { key: 'source', name: 'Comes by', width: '8.5rem' },
  { key: 'stack', name: 'Stack', width: '9rem' },
  { key: 'onHand', name: 'On hand', right: true, sort: 'onHand', width: '8rem' },
  { key: 'coming', name: 'Coming', right: true, width: '7rem' },
  { key: 'wanted', name: 'Wanted', right: true, width: '7rem' },
  { key: 'value', name: 'Value', right: true, width: '7rem' },
  { key: 'name2', name: 'Second language' },
  { key: 'supplier', name: 'Supplier', width: '10rem' },
  { key: 'supplierCode', name: 'Their code', width: '8rem' },
  { key: 'barcode', name: 'Barcode', width: '9rem' },
  { key: 'price', name: 'Price', right: true, width: '8rem' },
  { key: 'safetyStock', name: 'Safety stock', right: true, width: '8rem' },
  { key: 'tracking', name: 'Tracked by', width: '7rem' },
]
const shown = useLocalStorage('tsumiki-item-columns', [
  'code',
  'name',
  'group',
  'source',
  'stack',
  'onHand',
  'coming',
  'wanted',
  'value',
])
const columns = computed(() => COLUMNS.filter((column) => shown.value.includes(column.key)))
useKeys([
  {
    key: 'n',
    summary: 'new item',
    act: () => {
      void navigateTo('/catalogue/new')
    },
  },
  { key: 'f', summary: 'filter this list', act: () => field.value?.focus() },
  {
    key: 'S',
    summary: 'set a field of the chosen items',
    act: () => {
      if (chosen.value.size > 0 && mayEdit.value) {
        setting.value = true
      }
    },
  },
])
useHead({ title: 'Catalogue · Tsumiki' })
async function done(): Promise<void> {
  setting.value = false
  await list.begin()
}
const isBare = computed(
  () => list.total.value === 0 && search.value === '' && filters.source === '' && filters.group === null,
)
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead
      title="Items"
      :summary="
        chosen.size
          ? `${chosen.size} chosen`
          : `${list.total.value} ${plural(list.total.value, 'item', 'items')}: everything bought, made, packed and sold.`
      "
    >
      <template v-if="chosen.size">
        <UiButton v-if="mayEdit" primary @click="setting = true">Set a field of {{ chosen.size }}</UiButton
        ><UiButton @click="label">Print labels</UiButton
        ><UiButton @click="chooseAll(true)">Choose all {{ list.total.value }}</UiButton
        ><UiButton @click="chooseAll(false)">Choose none</UiButton>
      </template>
      <template v-else>
        <UiSearch ref="field" v-model="search" label="Filter by name or code" />
        <FormSelect
          v-model="filters.group"
          label="Group"
          hide-label
          empty="All groups"
          class="w-36"
          :options="references.groupChoices"
        />
        <FormSelect
          v-model="filters.source"
          label="Comes by"
          hide-label
          class="w-44"
          :options="[{ value: '', name: 'Bought and made' }, ...ITEM_SOURCES.map((s) => ({ value: s, name: s }))]"
        />
        <FormSelect
          v-model="filters.status"
          label="Status"
          hide-label
          class="w-32"
          :options="[{ value: '', name: 'Any status' }, ...ITEM_STATUSES.map((s) => ({ value: s, name: s }))]"
        />
        <UiColumns v-model="shown" :columns="COLUMNS" :fixed="['code', 'name']" />
        <UiButton v-if="mayEdit" primary @click="navigateTo('/catalogue/new')">New item</UiButton>
      </template>
    </UiHead>
    <UiProblem v-if="list.error.value" :text="problemOf(list.error.value).detail" />
    <CatalogueSetUp v-if="isBare && mayEdit" />
    <UiSheet v-else flush :class="list.pending.value && 'opacity-70'">
      <UiLongTable
        :columns="columns"
        :total="list.total.value"
        :row-at="list.rowAt"
        label="Items"
        :sort="sort"
        :open="(row) => navigateTo(`/catalogue/${row.id}`)"
        :muted="(row) => row.status !== 'active'"
        :chosen="chosen"
        @sort="sort = $event"
        @show="list.show"
        @choose="choose"
      >
        <template #all
          ><input
            type="checkbox"
            :checked="chosen.size > 0 && chosen.size === list.total.value"
            aria-label="Choose all"
            class="size-4 align-middle accent-[var(--maple)]"
            @change="chooseAll(($event.target as HTMLInputElement).checked)"
        /></template>
        <template #code="{ row }"><UiItemChip :id="row.id" :code="row.code" /></template>
        <template #name="{ row }"
          ><img
            v-if="row.pictureId"
            :src="`/api/catalogue/pictures/${row.pictureId}?size=small`"
            alt=""
            loading="lazy"
            class="mr-2 inline-block size-7 rounded-block object-cover"
          /><span :title="row.name">{{ row.name }}</span
          >{{ ' ' }} <UiTag v-if="row.status !== 'active'">{{ row.status }}</UiTag></template
        >
        <template #stack="{ row }"
          ><GoodsBar :on-hand="row.onHand" :allocated="row.allocated" :coming="row.coming" :wanted="row.wanted"
        /></template>
        <template #onHand="{ row }"><UiQty :of="row.onHand" :unit="row.symbol" :decimals="4" /></template>
        <template #coming="{ row }"
          ><UiQty v-if="row.coming !== '0'" :of="row.coming" :unit="row.symbol" :decimals="4"
        /></template>
        <template #wanted="{ row }"
          ><UiQty v-if="row.wanted !== '0'" :of="row.wanted" :unit="row.symbol" :decimals="4"
        /></template>
        <template #price="{ row }"
          ><template v-if="row.price"
            >{{ price(row.price) }} <span class="text-soft">/ {{ row.sellingSymbol }}</span></template
          ></template
        >
        <template #safetyStock="{ row }"
          ><UiQty v-if="row.safetyStock !== '0'" :of="row.safetyStock" :unit="row.symbol"
        /></template>
        <template #tracking="{ row }">{{ row.tracking === 'none' ? '' : row.tracking }}</template>
        <template #value="{ row }">{{ row.value === '0' ? '' : money(row.value) }}</template>
      </UiLongTable>
      <UiEmpty v-if="list.total.value === 0" title="No item fits" summary="Change the filter, or add the item." />
    </UiSheet>
    <CatalogueSetMany v-if="setting" :ids="[...chosen]" @done="done" @close="setting = false" />
    <CatalogueLabels v-if="labelling.length" :items="labelling" @close="labelling = []" />
  </div>
</template>
