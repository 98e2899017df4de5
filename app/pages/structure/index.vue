<script setup lang="ts">
import type { Paged } from '~~/shared/primitives'
import type { BillRow } from '~~/shared/structure/answers'
import type { DataColumn } from '~/composables/ui/data-column'

const session = useSession()
const { day } = usePrint()
const state = ref('')
const loadBills = (query: Record<string, unknown>) =>
  $fetch('/api/structure/bills', { query }) as Promise<Paged<BillRow>>
const bills = useTemplateRef('bills')
const drafts = ref<readonly BillRow[]>([])
const using = ref(false)
/** The bills that are listed and have a draft, to take them into use at once. */
async function chooseDrafts(): Promise<void> {
  const listed = ((await bills.value?.all()) ?? []) as readonly BillRow[]
  drafts.value = listed.filter((row) => row.draftId !== null)
  using.value = true
}
const mayEdit = computed(() => session.allows('catalogue'))
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', isFixed: true, text: (row: BillRow) => `${row.code} ${row.name}` },
  { key: 'source', name: 'Source', width: 140 },
  { key: 'revision', name: 'Revision', width: 240, text: (row: BillRow) => describe(row) },
  { key: 'fromOn', name: 'Effective from', kind: 'day', isHidden: true },
  { key: 'lines', name: 'Components', kind: 'number', width: 120 },
  { key: 'drafts', name: 'Drafts', kind: 'number' },
  { key: 'breakDowns', name: 'Break-downs', kind: 'number', width: 120 },
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
useHead({ title: 'Bills, kits and break-downs · Tsumiki' })
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead title="Bills, kits and break-downs" summary="What things are made of, what kits hold, and what bulk gives.">
      <a href="/api/catalogue/tables/bill-lines?format=xlsx" class="text-soft underline" download>XLSX</a
      ><a href="/api/catalogue/tables/bill-lines" class="text-soft underline" download>CSV</a
      ><a v-if="session.allows('costs')" href="/api/structure/bills/file" class="text-soft underline" download>JSON</a>
      <NuxtLink v-if="mayEdit" to="/catalogue/files?table=bill-lines" class="text-soft underline"
        >Import a file</NuxtLink
      >
    </UiHead>
    <p v-if="mayEdit && state === 'draft' && bills?.total" class="mb-3 flex items-center gap-3 text-soft">
      Drafts count for nothing yet. <UiButton small @click="chooseDrafts">Use drafts from a day on</UiButton>
    </p>
    <UiSheet flush>
      <UiDataTable
        ref="bills"
        list="bills"
        label="Bills"
        search-label="Filter by code or name"
        :columns="COLUMNS"
        :load="loadBills"
        :extra="{ state }"
        :open="(row) => navigateTo(addressOf(row))"
      >
        <template #filters
          ><UiChoice
            v-model="state"
            class="w-40"
            label="Which bills"
            hide-label
            :options="STATES.map(([value, name]) => ({ value, name }))"
        /></template>
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
        <template #empty
          ><UiEmptyState
            :title="state ? 'None fits' : 'Nothing is made yet'"
            :summary="
              state
                ? 'Change the filter.'
                : 'Say of an item that it is made or a kit; then write its bill here, or import a file.'
            "
        /></template>
      </UiDataTable>
    </UiSheet>
    <StructureUseMany
      v-if="using"
      :rows="drafts"
      @done="
        () => {
          using = false
          bills?.refresh()
        }
      "
      @close="using = false"
    />
  </div>
</template>
