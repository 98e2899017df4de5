<script setup lang="ts">
import type { InspectionPlanRow } from '~~/shared/inspection/answers'
import { describeRule } from '~~/shared/inspection/words'
import type { DataColumn } from '~/composables/ui/data-column'

/** What is looked at before goods are used, and how often it kept them out. */
const session = useSession()
const editing = ref<InspectionPlanRow | 'new' | null>(null)
defineExpose({ add: () => (editing.value = 'new') })
const { data: plans, error, refresh } = await useFetch('/api/stock/inspection-plans')
const mayEdit = computed(() => session.allows('catalogue'))
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Plan', width: 120, isFixed: true },
  { key: 'name', name: 'Name', width: 170 },
  { key: 'of', name: 'Of', width: 200 },
  { key: 'when', name: 'When', width: 130, text: (row: InspectionPlanRow) => whenOf(row) },
  { key: 'rule', name: 'Sample', width: 200, text: (row: InspectionPlanRow) => describeRule(row.rule) },
  {
    key: 'characteristics',
    name: 'Looked at',
    wrap: true,
    text: (row: InspectionPlanRow) => row.characteristics.map(({ name }) => name).join(', '),
  },
  { key: 'inspected', name: 'Decided', kind: 'number', width: 85 },
  { key: 'rejected', name: 'Rejected', width: 110, text: (row: InspectionPlanRow) => shareOf(row) },
]
const whenOf = ({ onReceipts, onBuilds }: InspectionPlanRow): string =>
  [onReceipts && 'as it comes in', onBuilds && 'as it is built'].filter(Boolean).join(', ')
const shareOf = ({ inspected, rejected }: InspectionPlanRow): string =>
  rejected === 0 ? '' : `${rejected} (${Math.round((rejected / inspected) * 100)} %)`
async function done(): Promise<void> {
  editing.value = null
  await refresh()
}
</script>

<template>
  <div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet v-else flush>
      <UiDataTable
        list="inspection plans"
        label="Inspection plans"
        search-label="Filter plans"
        :columns="COLUMNS"
        :rows="plans ?? []"
        :open="mayEdit ? (row) => (editing = row) : undefined"
        :muted="(row) => row.retired"
      >
        <template #empty
          ><UiEmptyState
            title="No inspection plans yet"
            summary="A plan says what is looked at, and how much of each lot; until then goods are available as they come."
            ><UiButton v-if="mayEdit" primary @click="editing = 'new'">New inspection plan</UiButton></UiEmptyState
          ></template
        >
      </UiDataTable>
    </UiSheet>
    <InspectionPlan v-if="editing" :plan="editing === 'new' ? null : editing" @done="done" @close="editing = null" />
  </div>
</template>
