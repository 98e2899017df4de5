<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { Paged } from '~~/shared/primitives'
import type { WorkRow } from '~~/shared/running/answers'
import { WORK_STATE_WORDS, WORK_STATES } from '~~/shared/running/words'
import type { DataColumn } from '~/composables/ui/data-column'

/** Milliseconds from one look at what is done to the next. */
const AGAIN = 3000
const notices = useNotices()
const { clock } = usePrint()
const { detail, run } = useAct()
/** Counts up with each look: the list is read again. */
const looks = ref(0)
useIntervalFn(() => looks.value++, AGAIN)
const load = (query: Record<string, unknown>): Promise<Paged<WorkRow>> =>
  $fetch('/api/running/work', { query: { ...query, looks: undefined } })
const isOver = ({ state }: WorkRow): boolean => state === 'failed' || state === 'stopped'
const isOpen = ({ state }: WorkRow): boolean => state === 'waiting' || state === 'again' || state === 'running'
const stateOf = (row: WorkRow): string =>
  row.state === 'running' && row.phase !== '' ? `${row.phase}, ${row.percent} %` : WORK_STATE_WORDS[row.state]

async function begin(row: WorkRow): Promise<void> {
  if (await run(() => $fetch<object>(`/api/running/work/${row.id}`, { method: 'POST', body: {} }))) {
    notices.say({ kind: 'done', text: `“${row.name}” is begun again.` })
    looks.value++
  }
}
async function stop(row: WorkRow): Promise<void> {
  if (await run(() => $fetch<object>(`/api/running/work/${row.id}`, { method: 'DELETE' }))) {
    notices.say({ kind: 'done', text: `“${row.name}” is stopped.` })
    looks.value++
  }
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Work', isFixed: true, width: 230 },
  { key: 'about', name: 'Of what', least: 160 },
  {
    key: 'state',
    name: 'State',
    width: 170,
    text: stateOf,
    choices: WORK_STATES.map((state) => ({ value: state, name: WORK_STATE_WORDS[state] })),
  },
  { key: 'askedAt', name: 'Asked', width: 120, text: (row: WorkRow) => clock(row.askedAt) },
  {
    key: 'endedAt',
    name: 'Ended',
    width: 120,
    isSortable: false,
    isFilterable: false,
    text: (row: WorkRow) => (row.endedAt ? clock(row.endedAt) : ''),
  },
  { key: 'tries', name: 'Tried again', kind: 'number', width: 100 },
  { key: 'problem', name: 'What went wrong', isSortable: false, isFilterable: false, wrap: true, width: 240 },
  { key: 'go', name: '', isAct: true, width: 90 },
]
</script>

<template>
  <UiSheet flush>
    <UiProblem :text="detail" />
    <UiDataTable
      list="background-work"
      label="Background work"
      search-label="Filter work"
      :columns="COLUMNS"
      :load="load"
      :extra="{ looks }"
    >
      <template #go="{ row }"
        ><span class="flex justify-end"
          ><UiButton v-if="isOver(row)" small :aria-label="`Begin ${row.name} again`" @click="begin(row)"
            >Again</UiButton
          ><UiButton v-else-if="isOpen(row)" small :aria-label="`Stop ${row.name}`" @click="stop(row)"
            >Stop</UiButton
          ></span
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="Nothing waits"
          summary="Plans, letters, web hooks, backups and checks are done here, and stay listed for two weeks."
      /></template>
    </UiDataTable>
  </UiSheet>
</template>
