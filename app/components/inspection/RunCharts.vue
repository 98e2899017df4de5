<script setup lang="ts">
import type { RunChart } from '~~/shared/inspection/answers'

/** What was measured of an item by a plan, over its inspections, with the limits; and the figures beside it. */
const props = defineProps<{ plan: number; item: number }>()
const { data } = await useFetch('/api/stock/inspections/chart', {
  query: computed(() => ({ plan: props.plan, item: props.item })),
})
const { amount, day } = usePrint()
const charts = computed(() =>
  (data.value ?? []).filter(({ values }) => new Set(values.map((value) => value.inspectionId)).size > 1),
)
const limit = (text: string, name: string) =>
  text === '' ? [] : [{ y: Number(text), borderColor: tokenOf('brick'), strokeDashArray: 4, label: { text: name } }]
const optionsOf = ({ low, high, values, unit }: RunChart) => {
  const all = [...values.map(({ value }) => Number(value)), ...[low, high].filter((text) => text !== '').map(Number)]
  const room = (Math.max(...all) - Math.min(...all)) * 0.15 || 1
  return {
    chart: { type: 'line' as const },
    colors: ['willow'],
    stroke: { width: 2, curve: 'straight' as const },
    markers: { size: 3 },
    annotations: { yaxis: [...limit(low, `at least ${low}`), ...limit(high, `at most ${high}`)] },
    xaxis: {
      categories: values.map(({ number }) => number),
      labels: { show: false },
      tooltip: { enabled: false },
    },
    yaxis: {
      min: Math.min(...all) - room,
      max: Math.max(...all) + room,
      labels: { formatter: (value: number) => `${amount(value.toFixed(2), 2)} ${unit}` },
    },
  }
}
/** A row for each inspection: from, to and what failed of it. */
const rowsOf = ({ values }: RunChart) => {
  const ids = [...new Set(values.map(({ inspectionId }) => inspectionId))]
  return ids.reverse().map((id) => {
    const own = values.filter(({ inspectionId }) => inspectionId === id)
    const sorted = own.map(({ value }) => value).sort((first, second) => Number(first) - Number(second))
    const failed = own.filter(({ verdict }) => verdict === 'fail').length
    return {
      id,
      number: own[0]!.number,
      on: own[0]!.on,
      least: sorted[0]!,
      most: sorted.at(-1)!,
      count: own.length,
      failed,
    }
  })
}
const COLUMNS = [
  { key: 'number', name: 'Inspection', isFixed: true, width: 110 },
  { key: 'on', name: 'Day', kind: 'day' as const },
  { key: 'count', name: 'Measured', kind: 'number' as const, width: 90 },
  { key: 'least', name: 'Least', kind: 'number' as const, width: 80 },
  { key: 'most', name: 'Most', kind: 'number' as const, width: 80 },
  { key: 'failed', name: 'Failed', kind: 'number' as const, width: 75 },
]
</script>

<template>
  <div v-if="charts.length" class="grid gap-4">
    <UiSheet v-for="chart in charts" :key="chart.name" :title="`${chart.name} over time`">
      <div class="grid items-start gap-4 lg:grid-cols-[1fr_34rem]">
        <UiChart
          :label="`${chart.name} of the last inspections`"
          :series="[{ name: chart.name, data: chart.values.map(({ value }) => Number(value)) }]"
          :options="optionsOf(chart)"
          :height="240"
        />
        <UiDataTable is-plain :label="`${chart.name} by inspection`" :columns="COLUMNS" :rows="rowsOf(chart)">
          <template #number="{ row }"
            ><NuxtLink :to="`/stock/inspections/${row.id}`" class="font-medium hover:underline">{{
              row.number
            }}</NuxtLink></template
          >
          <template #on="{ row }">{{ day(row.on) }}</template>
        </UiDataTable>
      </div>
    </UiSheet>
  </div>
</template>
