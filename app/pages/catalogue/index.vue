<script setup lang="ts">
import type { ItemRow } from '~~/shared/catalogue/answers'
import type { DataColumn } from '~/composables/ui/data-column'
import { ITEM_SOURCES, ITEM_STATUSES } from '~~/shared/catalogue/words'
import type { Paged } from '~~/shared/primitives'
const session = useSession()
const references = useReferences()
const route = useRoute()
const filters = reactive({
  status: 'active' as string,
  source: '' as string,
  group: route.query.group ? Number(route.query.group) : (null as number | null),
})
const extra = computed(() => ({
  status: filters.status,
  source: filters.source,
  ...(filters.group !== null && { group: filters.group }),
}))
const load = (query: Record<string, unknown>) => $fetch<Paged<ItemRow>>('/api/catalogue/items', { query })
const list = useTemplateRef('list')
/** Whether there is any item at all, whatever is filtered. */
const isBare = ref(false)
void load({ size: 1 }).then((found) => (isBare.value = found.total === 0))
const chosen = ref<readonly ItemRow[]>([])
const setting = ref(false)
const labelling = ref<{ id: number; code: string; units: { value: string; name: string }[] }[]>([])
async function label(items: readonly ItemRow[]): Promise<void> {
  labelling.value = await Promise.all(
    items.slice(0, 100).map(async ({ id }) => {
      const sheet = await $fetch(`/api/catalogue/items/${id}/sheet`)
      return { id, code: sheet.code, units: sheet.units }
    }),
  )
}
function set(items: readonly ItemRow[]): void {
  chosen.value = items
  setting.value = true
}
const { money, price } = usePrint()
const mayEdit = computed(() => session.allows('catalogue'))
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', width: 140, isFixed: true },
  { key: 'name', name: 'Name', isFixed: true },
  { key: 'group', name: 'Group', width: 125 },
  { key: 'source', name: 'Source', width: 105, choices: ITEM_SOURCES.map((value) => ({ value, name: value })) },
  { key: 'stack', name: 'Stack', width: 125, isSortable: false, isFilterable: false, phone: 'off', text: () => '' },
  { key: 'onHand', name: 'On hand', kind: 'quantity', unit: 'symbol', width: 115 },
  { key: 'coming', name: 'Coming', kind: 'quantity', unit: 'symbol', width: 100 },
  { key: 'wanted', name: 'Wanted', kind: 'quantity', unit: 'symbol', width: 100 },
  { key: 'value', name: 'Value', kind: 'money', width: 100, isCost: true },
  { key: 'name2', name: 'Second language', isHidden: true },
  { key: 'supplier', name: 'Supplier', width: 140, isHidden: true },
  { key: 'supplierCode', name: 'Supplier’s code', width: 120, isHidden: true },
  { key: 'barcode', name: 'Barcode', width: 130, isHidden: true },
  { key: 'price', name: 'Price', kind: 'price', width: 110, isHidden: true },
  { key: 'safetyStock', name: 'Safety stock', kind: 'quantity', unit: 'symbol', width: 110, isHidden: true },
  { key: 'tracking', name: 'Tracking', width: 100, isHidden: true },
]
useKeys([
  {
    key: 'n',
    summary: 'new item',
    act: () => {
      void navigateTo('/catalogue/new')
    },
  },
])
useHead({ title: 'Catalogue · Tsumiki' })
async function done(): Promise<void> {
  setting.value = false
  list.value?.clear()
  await list.value?.refresh()
}
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead title="Items" summary="Everything bought, made, packed and sold.">
      <UiButton v-if="mayEdit" primary @click="navigateTo('/catalogue/new')">New item</UiButton>
    </UiHead>
    <CatalogueSetUp v-if="isBare && mayEdit" />
    <UiSheet v-else flush>
      <UiDataTable
        ref="list"
        list="items"
        label="Items"
        search-label="Filter by name or code"
        sort="code"
        is-choosable
        :columns="COLUMNS"
        :load="load"
        :extra="extra"
        :open="(row) => navigateTo(`/catalogue/${row.id}`)"
        :muted="(row) => row.status !== 'active'"
      >
        <template #filters>
          <UiChoice
            v-model="filters.group"
            label="Group"
            hide-label
            empty="All groups"
            class="w-36"
            :options="references.groupChoices"
          />
          <UiChoice
            v-model="filters.source"
            label="Source"
            hide-label
            class="w-36"
            :options="[{ value: '', name: 'Every source' }, ...ITEM_SOURCES.map((s) => ({ value: s, name: s }))]"
          />
          <UiChoice
            v-model="filters.status"
            label="Status"
            hide-label
            class="w-28"
            :options="[{ value: '', name: 'Any status' }, ...ITEM_STATUSES.map((s) => ({ value: s, name: s }))]"
          />
        </template>
        <template #acts="{ chosen: items }">
          <UiButton v-if="mayEdit" primary @click="set(items)">Set a field of {{ items.length }}</UiButton
          ><UiButton @click="label(items)">Print labels</UiButton>
        </template>
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
        <template #empty><UiEmptyState title="No item fits" summary="Change the filter, or add the item." /></template>
      </UiDataTable>
    </UiSheet>
    <CatalogueSetMany v-if="setting" :ids="chosen.map((item) => item.id)" @done="done" @close="setting = false" />
    <CatalogueLabels v-if="labelling.length" :items="labelling" @close="labelling = []" />
  </div>
</template>
