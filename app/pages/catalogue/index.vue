<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { ITEM_SOURCES, ITEM_STATUSES } from '~~/shared/catalogue'

const session = useSession()
const references = useReferences()
const route = useRoute()
const search = ref(String(route.query.search ?? ''))
const filters = reactive({ status: 'active' as string, source: '' as string, group: null as number | null })
const sort = ref('code')
const page = ref(1)
const query = computed(() => ({ search: slow.value, sort: sort.value, page: page.value, size: 50, status: filters.status, source: filters.source, ...filters.group !== null && { group: filters.group } }))
const slow = refDebounced(search, 150)
watch([slow, filters], () => { page.value = 1 })

const { data, status, error } = await useFetch('/api/catalogue/items', { query })
const field = useTemplateRef('field')
const { money } = usePrint()
const COLUMNS = [
  { key: 'code', name: 'Item', sort: 'code' }, { key: 'name', name: 'Name', sort: 'name', wrap: true }, { key: 'group', name: 'Group', sort: 'group' }, { key: 'source', name: 'Comes by' },
  { key: 'stack', name: 'Stack', width: '11rem' }, { key: 'onHand', name: 'On hand', right: true, sort: 'onHand' }, { key: 'coming', name: 'Coming', right: true }, { key: 'wanted', name: 'Wanted', right: true }, { key: 'value', name: 'Value', right: true },
]
useKeys([{ key: 'n', says: 'new item', act: () => { void navigateTo('/catalogue/new') } }, { key: 'f', says: 'filter this list', act: () => field.value?.focus() }])
useHead({ title: 'Catalogue · Tsumiki' })
</script>

<template>
  <div>
    <UiHead title="Catalogue" says="Everything bought, made, packed and sold.">
      <UiSearch ref="field" v-model="search" label="Filter by code or name" />
      <FormSelect v-model="filters.group" label="Group" hide-label empty="All groups" :options="references.groups.map(g => ({ value: g.id, name: g.name }))" />
      <FormSelect v-model="filters.source" label="Comes by" hide-label :options="[{ value: '', name: 'Bought and made' }, ...ITEM_SOURCES.map(s => ({ value: s, name: s }))]" />
      <FormSelect v-model="filters.status" label="Status" hide-label :options="[{ value: '', name: 'Any status' }, ...ITEM_STATUSES.map(s => ({ value: s, name: s }))]" />
      <a href="/api/export/items" class="text-soft underline" download>Export CSV</a>
      <UiButton v-if="session.allows('catalogue')" primary @click="navigateTo('/catalogue/new')">New item</UiButton>
    </UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush :class="status === 'pending' && 'opacity-70'">
      <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Items" :sort="sort" :open="row => navigateTo(`/catalogue/${row.id}`)" :muted="row => row.status !== 'active'" @sort="sort = $event">
        <template #code="{ row }"><UiItemChip :id="row.id" :code="row.code" /></template>
        <template #name="{ row }">{{ row.name }} <UiTag v-if="row.status !== 'active'">{{ row.status }}</UiTag></template>
        <template #stack="{ row }"><GoodsBar :on-hand="row.onHand" :allocated="row.allocated" :coming="row.coming" :wanted="row.wanted" /></template>
        <template #onHand="{ row }"><UiQty :of="row.onHand" :unit="row.symbol" :decimals="4" /></template>
        <template #coming="{ row }"><UiQty v-if="row.coming !== '0'" :of="row.coming" :unit="row.symbol" :decimals="4" /></template>
        <template #wanted="{ row }"><UiQty v-if="row.wanted !== '0'" :of="row.wanted" :unit="row.symbol" :decimals="4" /></template>
        <template #value="{ row }">{{ row.value === '0' ? '' : money(row.value) }}</template>
      </UiTable>
      <UiEmpty v-if="data && data.rows.length === 0" title="No item fits" says="Change the filter, or add the item." />
      <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    </UiSheet>
  </div>
</template>
