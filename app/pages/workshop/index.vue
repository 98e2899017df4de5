<script setup lang="ts">
import type { Paged } from '~~/shared/primitives'
import type { JobRow } from '~~/shared/workshop/answers'
import type { DataColumn } from '~/composables/ui/data-column'

const session = useSession()
const { day, isPast } = usePrint()
const tab = useTab(['list', 'board'])
const state = ref('open')
const kind = ref('')
const loadJobs = (query: Record<string, unknown>) => $fetch('/api/workshop/jobs', { query }) as Promise<Paged<JobRow>>
const jobs = useTemplateRef('jobs')
const making = ref<'build' | 'break-down' | null>(null)
const unpacking = ref(false)
const linkOf = (job: JobRow): string => `/workshop/${job.kind === 'build' ? 'builds' : 'break-downs'}/${job.jobId}`
useHead({ title: 'Workshop · Tsumiki' })
useKeys([
  {
    key: 'n',
    summary: 'plan a build',
    act: () => {
      making.value = 'build'
    },
  },
])
const isOpen = (job: JobRow): boolean => ['draft', 'ready', 'started', 'planned'].includes(job.status)
const drawn = (job: JobRow) => {
  if (job.status === 'done') {
    return 'on hand'
  }
  if (job.status === 'started') {
    return 'making'
  }
  if (job.status === 'ready') {
    return 'allocated'
  }
  if (job.status === 'cancelled') {
    return 'held'
  }
  return 'making planned'
}
const verbOf = (job: JobRow): string => {
  if (job.kind === 'break-down') {
    return 'Break down'
  }
  return job.source === 'kit' ? 'Pack' : 'Build'
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Job', width: 120, isFixed: true },
  { key: 'sort', name: 'Kind', width: 110, text: verbOf },
  { key: 'code', name: 'Item', text: (job: JobRow) => `${job.code} ${job.name}` },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol', width: 130 },
  { key: 'releaseOn', name: 'Start', kind: 'day', width: 90 },
  { key: 'status', name: 'Status', width: 120 },
  { key: 'forWhat', name: 'For', width: 110, isHidden: true },
  { key: 'shortOf', name: 'Shortages', width: 220, wrap: true, isSortable: false, isFilterable: false },
]
</script>

<template>
  <div>
    <UiHead title="Workshop" summary="What is to be built, packed, broken down and cut.">
      <template v-if="session.allows('make')"
        ><UiButton @click="unpacking = true">Unpack a kit</UiButton
        ><UiButton @click="navigateTo('/workshop/cutting')">Cutting</UiButton
        ><UiButton @click="making = 'break-down'">Plan a break-down</UiButton
        ><UiButton primary @click="making = 'build'">Plan a build</UiButton></template
      >
    </UiHead>
    <UiTabs
      v-model="tab"
      :tabs="[
        { key: 'list', name: 'Jobs' },
        { key: 'board', name: 'Board' },
      ]"
    />
    <Suspense v-if="tab === 'board'"><WorkshopBoard /></Suspense>
    <UiSheet v-else flush>
      <UiDataTable
        ref="jobs"
        list="jobs"
        label="Jobs"
        search-label="Filter jobs"
        :columns="COLUMNS"
        :load="loadJobs"
        :extra="{ state, kind }"
        :open="(row) => navigateTo(linkOf(row))"
        :muted="(row) => !isOpen(row)"
      >
        <template #filters>
          <UiChoice
            v-model="kind"
            class="w-36"
            label="Kind"
            hide-label
            :options="[
              { value: '', name: 'Every kind' },
              { value: 'build', name: 'Builds' },
              { value: 'kit packing', name: 'Kit packing' },
              { value: 'break-down', name: 'Break-downs' },
            ]"
          />
          <UiChoice
            v-model="state"
            class="w-36"
            label="State"
            hide-label
            :options="[
              { value: 'open', name: 'To do' },
              { value: 'draft', name: 'Drafts' },
              { value: 'ready', name: 'Ready' },
              { value: 'started', name: 'Started' },
              { value: 'done', name: 'Done' },
              { value: 'cancelled', name: 'Cancelled' },
              { value: '', name: 'All jobs' },
            ]"
          />
        </template>
        <template #dueOn="{ row }"
          ><span :class="isOpen(row) && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="linkOf(row)" class="font-medium hover:underline">{{ row.number }}</NuxtLink
          ><span v-if="row.forWhat" class="block text-fine text-soft">for {{ row.forWhat }}</span></template
        >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><span v-if="row.made && row.made !== '0' && row.status === 'started'" class="text-soft"
            >{{ row.made }} of </span
          ><UiQty strong :of="row.quantity" :unit="row.symbol"
        /></template>
        <template #status="{ row }"
          ><span class="flex items-center gap-2"
            ><GoodsBlock :state="drawn(row)" class="h-3.5 w-6" />{{
              row.status === 'planned' ? 'draft' : row.status
            }}</span
          ></template
        >
        <template #shortOf="{ row }"
          ><span v-if="row.shortOf" class="font-medium text-brick">{{ row.shortOf }}</span></template
        >
        <template #empty
          ><UiEmptyState title="No jobs here" summary="Release them from a plan, or plan one by hand."
        /></template>
      </UiDataTable>
    </UiSheet>
    <WorkshopNewJob v-if="making" :kind="making" @close="making = null" />
    <WorkshopUnpack
      v-if="unpacking"
      @close="unpacking = false"
      @done="
        () => {
          unpacking = false
          jobs?.refresh()
        }
      "
    />
  </div>
</template>
