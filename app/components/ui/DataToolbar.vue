<script setup lang="ts">
import type { ListFilter } from '~~/shared/list-filter'
import type { DataColumn } from '~/composables/ui/data-column'
import type { ListState } from '~/composables/ui/use-list-state'
import { saveTable } from '~/composables/ui/table-file'

/** What stands above a list: search, filters, how many there are, and what can be done with all that is shown. */
const props = defineProps<{
  label: string
  list: string
  searchLabel?: string
  state: ListState
  columns: readonly DataColumn[]
  total: number
  unnarrowed: number | null
  chosenCount: number
  all: (onRead?: (count: number) => void) => Promise<readonly object[]>
  copy: () => Promise<void>
}>()
const search = defineModel<string>('search', { required: true })
const filters = defineModel<ListFilter[]>('filters', { required: true })
const emit = defineEmits<{ chooseAll: []; clear: [] }>()
const { digits } = usePrint()
const notices = useNotices()
const field = useTemplateRef('field')
const printed = shallowRef<readonly object[] | null>(null)
/** How many rows of a long list are read for a file. */
const read = ref<number | null>(null)

const count = computed(() => {
  const total = digits(String(props.total))
  const rows = plural(props.total, 'row', 'rows')
  return props.unnarrowed === null || props.unnarrowed === props.total
    ? `${total} ${rows}`
    : `${total} of ${digits(String(props.unnarrowed))} rows`
})
const shown = computed(() => props.state.shown.value.filter((column) => !column.isAct))
async function readAll(): Promise<readonly object[]> {
  read.value = 0
  try {
    return await props.all((rows) => {
      read.value = rows
    })
  } finally {
    read.value = null
  }
}
async function save(format: 'csv' | 'xlsx'): Promise<void> {
  try {
    await saveTable(props.label, await readAll(), shown.value, format)
  } catch (error) {
    notices.say({ kind: 'problem', text: problemOf(error).detail })
  }
}
async function copyAll(): Promise<void> {
  await props.copy()
  const rows = props.chosenCount || props.total
  notices.say({ kind: 'done', text: `Copied ${digits(String(rows))} ${plural(rows, 'row', 'rows')}.` })
}
async function print(): Promise<void> {
  printed.value = await readAll()
  await nextTick()
  window.print()
  printed.value = null
}
const narrowed = computed(() => (props.state.isNarrowed.value ? `${count.value} shown` : ''))
useKeys([{ key: 'f', summary: 'filter this list', act: () => field.value?.focus() }])
</script>

<template>
  <div class="unprinted border-b border-line">
    <UiToolbar :more="filters.length > 0 ? `Filter (${filters.length}), columns …` : 'Filter, columns …'">
      <template #search
        ><UiSearch ref="field" v-model="search" class="@max-xl:flex-1" :label="searchLabel ?? 'Search this list'"
      /></template>
      <template #choices><slot name="filters" /><UiDataFilters v-model="filters" :columns="columns" /></template>
      <template #told
        ><span class="whitespace-nowrap text-soft @max-xl:basis-full" role="status" data-test="count">{{
          read === null ? count : `reading ${digits(String(read))} …`
        }}</span></template
      >
      <template #tools>
        <slot name="tools" />
        <UiDataViews :list="list" :state="state" />
        <UiDataColumns :columns="columns" :shown="shown" @show="state.showColumns" />
        <UiMenu
          label="Export"
          :acts="[
            { name: 'XLSX', act: () => void save('xlsx') },
            { name: 'CSV', act: () => void save('csv') },
            { name: chosenCount > 0 ? 'Copy the chosen rows' : 'Copy', act: () => void copyAll() },
            { name: 'Print', act: () => void print() },
          ]"
        />
      </template>
    </UiToolbar>
    <div
      v-if="chosenCount > 0"
      class="flex flex-wrap items-center gap-2 border-t border-line/60 bg-wash px-3 py-2"
      data-test="chosen"
    >
      <b class="font-semibold" role="status">{{ digits(String(chosenCount)) }} chosen</b>
      <slot name="acts" />
      <span class="flex-1" />
      <UiButton v-if="chosenCount < total" small @click="emit('chooseAll')"
        >Choose all {{ digits(String(total)) }}</UiButton
      >
      <UiButton small @click="emit('clear')">Choose none</UiButton>
    </div>
    <UiPrintout v-if="printed" :title="label" :narrowed="narrowed" :rows="printed" :columns="shown" />
  </div>
</template>
