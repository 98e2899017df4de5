<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import type { JobRow } from '~~/shared/workshop/answers'

const session = useSession()
const { day, isPast } = usePrint()
const search = ref('')
const slow = refDebounced(search, 150)
const state = ref('open')
const kind = ref('')
const sort = ref('')
const page = ref(1)
watch([slow, state, kind], () => {
  page.value = 1
})
const query = computed(() => ({
  search: slow.value,
  state: state.value,
  kind: kind.value,
  sort: sort.value,
  page: page.value,
  size: 50,
}))
const { data, error, refresh } = await useFetch('/api/workshop/jobs', { query })
const jobs = computed(() => (data.value?.rows as JobRow[] | undefined) ?? [])
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
const COLUMNS = [
  { key: 'dueOn', name: 'Due', sort: 'dueOn' },
  { key: 'number', name: 'Job', sort: 'number' },
  { key: 'what', name: 'What' },
  { key: 'code', name: 'Item', sort: 'code' },
  { key: 'quantity', name: 'Quantity', right: true },
  { key: 'releaseOn', name: 'Begin', sort: 'releaseOn' },
  { key: 'status', name: 'State' },
  { key: 'shortOf', name: 'Short of', wrap: true },
]
</script>

<template>
  <div>
    <UiHead title="Workshop" summary="What is to be built, packed, broken down and cut.">
      <UiSearch v-model="search" label="Filter jobs" />
      <FormSelect
        v-model="kind"
        label="Kind"
        hide-label
        :options="[
          { value: '', name: 'Every kind' },
          { value: 'build', name: 'Builds' },
          { value: 'kit packing', name: 'Kit packing' },
          { value: 'break-down', name: 'Break-downs' },
        ]"
      />
      <FormSelect
        v-model="state"
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
      <template v-if="session.allows('make')"
        ><UiButton @click="unpacking = true">Unpack a kit</UiButton
        ><UiButton @click="navigateTo('/workshop/cutting')">Cutting</UiButton
        ><UiButton @click="making = 'break-down'">Plan a break-down</UiButton
        ><UiButton primary @click="making = 'build'">Plan a build</UiButton></template
      >
    </UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiTable
        :columns="COLUMNS"
        :rows="jobs"
        label="Jobs"
        :sort="sort"
        :open="(row) => navigateTo(linkOf(row))"
        :muted="(row) => !isOpen(row)"
        @sort="
          (key) => {
            sort = key
            page = 1
          }
        "
      >
        <template #dueOn="{ row }"
          ><span :class="isOpen(row) && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="linkOf(row)" class="font-medium hover:underline">{{ row.number }}</NuxtLink
          ><span v-if="row.forWhat" class="block text-fine text-soft">for {{ row.forWhat }}</span></template
        >
        <template #what="{ row }">{{
          row.kind === 'break-down' ? 'Break down' : row.source === 'kit' ? 'Pack' : 'Build'
        }}</template>
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><span v-if="row.made && row.made !== '0' && row.status === 'started'" class="text-soft"
            >{{ row.made }} of </span
          ><UiQty strong :of="row.quantity" :unit="row.symbol"
        /></template>
        <template #releaseOn="{ row }">{{ day(row.releaseOn) }}</template>
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
      </UiTable>
      <UiEmpty v-if="jobs.length === 0" title="No jobs here" summary="Release them from a plan, or plan one by hand." />
      <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    </UiSheet>
    <WorkshopNewJob v-if="making" :kind="making" @close="making = null" />
    <WorkshopUnpack
      v-if="unpacking"
      @close="unpacking = false"
      @done="
        () => {
          unpacking = false
          refresh()
        }
      "
    />
  </div>
</template>
