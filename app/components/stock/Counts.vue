<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'

const { day, money, digits } = usePrint()
const { data, error } = await useFetch('/api/stock/counts')
const { data: due } = await useFetch('/api/stock/counts/due')
/** How right the books were: lines without a difference among those counted, in per cent. */
const accuracy = (row: { counted: number; right: number }): string =>
  row.counted === 0 ? '' : `${digits(((row.right / row.counted) * 100).toFixed(1))} %`
const recorded = computed(() =>
  (data.value ?? [])
    .filter((row) => row.status === 'recorded' && row.counted > 0)
    .slice(0, 24)
    .reverse(),
)
type Row = NonNullable<typeof data.value>[number]
const stateOf = (row: Row): string => {
  if (row.status !== 'open') {
    return row.status
  }
  return row.again ? `${row.again} to count again` : `${row.counted} of ${row.lines} counted`
}
const accuracyOf = (row: Row): string => (row.status === 'recorded' ? accuracy(row) : '')
const COLUMNS: readonly DataColumn[] = [
  { key: 'number', name: 'Count', width: 100, isFixed: true },
  { key: 'name', name: 'What', wrap: true },
  { key: 'openedOn', name: 'Opened', kind: 'day', width: 90 },
  { key: 'status', name: 'Status', width: 140, text: stateOf },
  { key: 'lines', name: 'Lines', kind: 'number', width: 70 },
  { key: 'right', name: 'Count accuracy', kind: 'number', width: 120, text: accuracyOf },
  { key: 'worth', name: 'Differences', kind: 'money', width: 130, isCost: true },
  { key: 'who', name: 'Who', width: 80, isHidden: true },
]
</script>

<template>
  <div class="grid grid-cols-1 md:grid-cols-[1fr_19rem] items-start gap-4">
    <UiSheet flush>
      <UiProblem v-if="error" :text="problemOf(error).detail" />
      <UiDataTable
        list="counts"
        :columns="COLUMNS"
        :rows="data ?? []"
        label="Stock counts"
        :open="(row) => navigateTo(`/stock/counts/${row.id}`)"
        :muted="(row) => row.status === 'cancelled'"
      >
        <template #number="{ row }"
          ><NuxtLink :to="`/stock/counts/${row.id}`" class="font-medium hover:underline">{{
            row.number
          }}</NuxtLink></template
        >
        <template #status="{ row }">{{ stateOf(row) }}</template>
        <template #right="{ row }">{{ accuracyOf(row) }}</template>
        <template #worth="{ row }"
          ><template v-if="row.worth"
            >{{ money(row.worth)
            }}<span class="block text-fine text-soft">{{ money(row.off ?? '0') }} without sign</span></template
          ></template
        >
      </UiDataTable>
      <UiEmptyState
        v-if="data?.length === 0"
        title="Nothing was counted yet"
        summary="Open a count of a place, a group or of what is due; count it on a sheet, a tablet or by scanner; see what the differences are worth before they are recorded."
        ><UiButton @click="navigateTo('/stock/counts/new')">Open a count</UiButton></UiEmptyState
      >
    </UiSheet>
    <div class="grid gap-4">
      <UiSheet v-if="recorded.length > 0" title="Count accuracy">
        <ul class="flex h-28 items-end gap-1.5" aria-label="Lines without a difference, count by count">
          <li
            v-for="row in recorded"
            :key="row.id"
            class="flex h-full min-w-4 flex-1 flex-col justify-end"
            :title="`${row.number}, ${day(row.approvedOn)}: ${accuracy(row)} without a difference`"
          >
            <GoodsBlock
              state="missing"
              class="border"
              :style="{ height: `${(1 - row.right / row.counted) * 100}%` }"
            /><GoodsBlock state="on hand" :style="{ height: `${(row.right / row.counted) * 100}%` }" /><span
              class="sr-only"
              >{{ row.number }}: {{ accuracy(row) }}</span
            >
          </li>
        </ul>
        <p class="mt-2 text-fine text-soft">
          A column a count, oldest first: lines without a difference, and above them those with one.
        </p>
      </UiSheet>
      <UiSheet title="Counts due" flush>
        <ul>
          <li
            v-for="item in (due ?? []).slice(0, 12)"
            :key="item.id"
            class="flex items-center justify-between gap-2 border-b border-line/60 px-4 py-1.5 last:border-0"
          >
            <UiItemChip :id="item.id" :code="item.code" /><span class="text-right text-fine text-soft"
              >{{ item.countedOn ? `last ${day(item.countedOn)}` : 'never yet' }}, every {{ item.everyDays }} days</span
            >
          </li>
        </ul>
        <p v-if="due?.length === 0" class="px-4 py-3 text-soft">
          Nothing is due. Intervals are given with the groups; without one, class A is counted every 30 days, B every
          90, C every 180.
        </p>
        <p v-else-if="(due?.length ?? 0) > 12" class="px-4 py-2 text-fine text-soft">and {{ due!.length - 12 }} more</p>
      </UiSheet>
    </div>
  </div>
</template>
