<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'

const session = useSession()
const notices = useNotices()
const { day, isPast } = usePrint()
const { data: jobs, error } = await useFetch('/api/workshop/jobs')
const search = ref('')
const only = ref('planned')
const shown = computed(() => (jobs.value ?? []).map(job => ({ ...job, id: `${job.kind}:${job.id}`, jobId: job.id })).filter(job => (only.value === '' || (only.value === 'planned') === (job.status === 'planned')) && `${job.number} ${job.code} ${job.name}`.toLowerCase().includes(search.value.toLowerCase())))
const linkOf = (job: { kind: string, jobId: number }): string => `/workshop/${job.kind === 'build' ? 'builds' : 'break-downs'}/${job.jobId}`
useHead({ title: 'Workshop · Tsumiki' })

const making = ref<'build' | 'break-down' | null>(null)
const open = computed({ get: () => making.value !== null, set: (shownNow) => { if (!shownNow) making.value = null } })
const form = reactive({ itemId: null as number | null, quantity: '', unit: 'piece', dueOn: session.today })
const measured = ref<MeasuredItem | null>(null)
const { busy, detail, fields, run } = useAct()
async function chosen(id: number): Promise<void> { measured.value = await fetchMeasured(id); form.unit = measured.value.stockUnit }
async function make(): Promise<void> {
  const { itemId, quantity, unit, dueOn } = form
  const made = making.value === 'build'
    ? await run(key => $fetch('/api/workshop/builds', { method: 'POST', body: { key, itemId, quantity, unit, dueOn } }))
    : await run(key => $fetch('/api/workshop/break-downs', { method: 'POST', body: { key, itemId, times: quantity, dueOn } }))
  if (!made) return
  notices.say({ kind: 'done', text: `${made.number} is planned.` })
  void refreshToday()
  await navigateTo(linkOf({ kind: making.value!, jobId: made.id }))
}
useKeys([{ key: 'n', says: 'plan a build', act: () => { making.value = 'build' } }])
const COLUMNS = [{ key: 'dueOn', name: 'Due' }, { key: 'number', name: 'Job' }, { key: 'what', name: 'What' }, { key: 'code', name: 'Item' }, { key: 'quantity', name: 'Quantity', right: true }, { key: 'releaseOn', name: 'Begin' }, { key: 'status', name: 'State' }]
</script>

<template>
  <div>
    <UiHead title="Workshop" says="What is to be built, packed and broken down.">
      <UiSearch v-model="search" label="Filter jobs" />
      <FormSelect v-model="only" label="State" hide-label :options="[{ value: 'planned', name: 'To do' }, { value: 'done', name: 'Done and cancelled' }, { value: '', name: 'All jobs' }]" />
      <UiButton v-if="session.allows('make')" @click="making = 'break-down'">Plan a break-down</UiButton>
      <UiButton v-if="session.allows('make')" primary @click="making = 'build'">Plan a build</UiButton>
    </UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiTable :columns="COLUMNS" :rows="shown" label="Jobs" :open="row => navigateTo(linkOf(row))" :muted="row => row.status !== 'planned'">
        <template #dueOn="{ row }"><span :class="row.status === 'planned' && isPast(row.dueOn) && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span></template>
        <template #number="{ row }"><NuxtLink :to="linkOf(row)" class="font-medium hover:underline">{{ row.number }}</NuxtLink></template>
        <template #what="{ row }"><span class="flex items-center gap-2"><GoodsBlock :state="row.status === 'done' ? 'on hand' : row.status === 'planned' ? 'making planned' : 'held'" class="h-3.5 w-6" />{{ row.kind === 'break-down' ? 'Break down' : row.source === 'kit' ? 'Pack' : 'Build' }}</span></template>
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"><UiQty strong :of="row.quantity" :unit="row.symbol" /></template>
        <template #releaseOn="{ row }">{{ day(row.releaseOn) }}</template>
      </UiTable>
      <UiEmpty v-if="shown.length === 0" title="No jobs here" says="Release them from a plan, or plan one by hand." />
    </UiSheet>
    <UiConfirm v-model="open" :title="making === 'build' ? 'Plan a build' : 'Plan a break-down'" :act="making === 'build' ? 'Plan the build' : 'Plan the break-down'" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="make">
      <div class="grid grid-cols-2 gap-3">
        <FormItem v-model="form.itemId" class="col-span-2" label="Item" :error="fields.itemId" @chosen="chosen($event.id)" />
        <FormQuantity v-if="making === 'build'" v-model="form.quantity" v-model:unit="form.unit" label="Quantity" :item="measured" :error="fields.quantity" />
        <FormText v-else v-model="form.quantity" label="How many times the recipe" right :error="fields.times" />
        <FormText v-model="form.dueOn" label="Due on" type="date" :error="fields.dueOn" />
      </div>
    </UiConfirm>
  </div>
</template>
