<script setup lang="ts">
import type { BillRow } from '~~/shared/structure/answers'

const session = useSession()
const { day } = usePrint()
const search = ref('')
const state = ref('')
const page = ref(1)
watch([search, state], () => {
  page.value = 1
})
const { data, refresh } = await useFetch<{ rows: BillRow[]; total: number }>('/api/structure/bills', {
  query: computed(() => ({ search: search.value, state: state.value, page: page.value, size: 50 })),
})
const using = ref(false)
const drafts = computed(() => (data.value?.rows ?? []).filter((row) => row.draftId !== null))
const field = useTemplateRef('field')
const mayEdit = computed(() => session.allows('catalogue'))
const COLUMNS = [
  { key: 'code', name: 'Item' },
  { key: 'source', name: 'Comes by' },
  { key: 'revision', name: 'Bill' },
  { key: 'lines', name: 'Components', right: true },
  { key: 'drafts', name: 'Drafts', right: true },
  { key: 'breakDowns', name: 'Breaks down', right: true },
]
const STATES = [
  ['', 'All'],
  ['current', 'In use'],
  ['draft', 'With a draft'],
  ['to come', 'To come'],
  ['none', 'Without a bill'],
] as const
const describe = (row: BillRow): string => {
  if (row.state === null) {
    if (['made', 'kit'].includes(row.source)) {
      return 'no bill yet'
    }
    return ''
  }
  if (row.state === 'current') {
    return `revision ${row.revision}, since ${day(row.fromOn)}`
  }
  if (row.state === 'to come') {
    return `revision ${row.revision}, from ${day(row.fromOn)}`
  }
  return `revision ${row.revision}, ${row.state}`
}
const addressOf = (row: BillRow): string =>
  row.state === null && row.breakDowns > 0 && !['made', 'kit'].includes(row.source)
    ? `/catalogue/${row.id}?part=break-down`
    : `/structure/${row.id}`
useKeys([{ key: 'f', summary: 'filter this list', act: () => field.value?.focus() }])
useHead({ title: 'Bills, kits and break-downs · Tsumiki' })
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead title="Bills, kits and break-downs" summary="What things are made of, what kits hold, and what bulk gives.">
      <UiSearch ref="field" v-model="search" label="Filter by code or name" />
      <select v-model="state" aria-label="Which bills" class="h-9 rounded-block border border-line bg-sheet px-2">
        <option v-for="[value, name] in STATES" :key="value" :value="value">{{ name }}</option>
      </select>
      <a href="/api/catalogue/tables/bill-lines?format=xlsx" class="text-soft underline" download>XLSX</a
      ><a href="/api/catalogue/tables/bill-lines" class="text-soft underline" download>CSV</a
      ><a href="/api/structure/bills/file" class="text-soft underline" download>JSON</a>
      <NuxtLink v-if="mayEdit" to="/catalogue/files?table=bill-lines" class="text-soft underline"
        >Bring in a file</NuxtLink
      >
    </UiHead>
    <p v-if="mayEdit && state === 'draft' && drafts.length" class="mb-3 flex items-center gap-3 text-soft">
      Drafts count for nothing yet. <UiButton small @click="using = true">Use drafts from a day on</UiButton>
    </p>
    <UiSheet flush>
      <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Bills" :open="(row) => navigateTo(addressOf(row))">
        <template #code="{ row }"><UiItemChip :id="row.id" :code="row.code" :name="row.name" /></template>
        <template #revision="{ row }"
          ><span :class="row.state === null && ['made', 'kit'].includes(row.source) ? 'text-brick' : ''">{{
            describe(row)
          }}</span></template
        >
        <template #lines="{ row }">{{ row.lines || '' }}</template><template #drafts="{ row }">{{
          row.drafts || ''
        }}</template
        ><template #breakDowns="{ row }">{{
          row.breakDowns ? `${row.breakDowns} ${plural(row.breakDowns, 'way', 'ways')}` : ''
        }}</template>
      </UiTable>
      <UiEmpty
        v-if="data?.rows.length === 0"
        :title="search || state ? 'None fits' : 'Nothing is made yet'"
        :summary="
          search || state
            ? 'Change the filter.'
            : 'Say of an item that it is made or a kit; then write its bill here, or bring in a file.'
        "
      />
      <UiPages v-if="data && data.total > 50" v-model="page" :total="data.total" :size="50" />
    </UiSheet>
    <StructureUseMany
      v-if="using"
      :rows="drafts"
      @done="
        () => {
          using = false
          refresh()
        }
      "
      @close="using = false"
    />
  </div>
</template>
