<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const session = useSession()
const references = useReferences()
const { day, isPast } = usePrint()
const { data: jobs, error } = await useFetch('/api/workshop/cutting')
const making = ref(false)
const form = reactive({
  itemId: null as number | null,
  siteId: references.sites.find((site) => !site.retired)?.id ?? null,
  dueOn: session.today,
  note: '',
})
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Cutting · Tsumiki' })
useKeys([
  {
    key: 'n',
    summary: 'plan a cutting job',
    act: () => {
      making.value = true
    },
  },
])
async function save(): Promise<void> {
  const made = await run((key) => $fetch('/api/workshop/cutting', { method: 'POST', body: { key, ...form } }))
  if (made) {
    await navigateTo(`/workshop/cutting/${made.id}`)
  }
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'number', name: 'Job', width: 110, isFixed: true },
  { key: 'code', name: 'Cut from', text: (row: { code: string; name: string }) => `${row.code} ${row.name}` },
  { key: 'lengths', name: 'Lengths', kind: 'number' },
  { key: 'jobs', name: 'For', wrap: true },
  { key: 'status', name: 'Status', width: 140 },
]
</script>

<template>
  <div>
    <UiHead title="Cutting" summary="Which rolls, reels and bars to cut into what, so that least is wasted.">
      <UiButton @click="navigateTo('/workshop')">All jobs</UiButton
      ><UiButton v-if="session.allows('make')" primary @click="making = true">Plan a cutting job</UiButton>
    </UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiDataTable
        list="cutting"
        :columns="COLUMNS"
        :rows="jobs ?? []"
        label="Cutting jobs"
        :open="(row) => navigateTo(`/workshop/cutting/${row.id}`)"
        :muted="(row) => row.status !== 'draft'"
      >
        <template #dueOn="{ row }"
          ><span :class="row.status === 'draft' && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="`/workshop/cutting/${row.id}`" class="font-medium hover:underline">{{
            row.number
          }}</NuxtLink></template
        >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #status="{ row }"
          ><span class="flex items-center gap-2"
            ><GoodsBlock
              :state="row.status === 'done' ? 'on hand' : row.status === 'cancelled' ? 'held' : 'making planned'"
              class="h-3.5 w-6"
            />{{ row.status }}</span
          ></template
        >
      </UiDataTable>
      <UiEmptyState
        v-if="jobs?.length === 0"
        title="Nothing to cut"
        summary="Plan a job for an item that is kept in pieces and measured in lengths: type the lengths that are wanted, and see which pieces to cut them from."
      />
    </UiSheet>
    <UiDialog
      v-model="making"
      title="Plan a cutting job"
      act="Plan it"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="save"
    >
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
        <UiItemField v-model="form.itemId" class="sm:col-span-2" label="Cut from pieces of" :error="fields.itemId" />
        <UiChoice
          v-model="form.siteId"
          label="At"
          :options="references.choices(references.sites)"
          :error="fields.siteId"
        />
        <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" />
        <UiTextField v-model="form.note" class="sm:col-span-2" label="Note" :error="fields.note" />
      </div>
    </UiDialog>
  </div>
</template>
