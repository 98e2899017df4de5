<script setup lang="ts">
import { majorText } from '~~/core/money'

/** What stock was worth at the end of each of the last twelve months, drawn and in figures. */
const { money, day, digits } = usePrint()
const { data, error } = await useFetch('/api/books/value-by-month')
/** Months before anything was kept say nothing. */
const months = computed(() => {
  const all = data.value ?? []
  const first = all.findIndex((month) => month.value !== '0')
  return first < 0 ? [] : all.slice(first)
})
const changeOf = (at: number): bigint | null =>
  at === 0 ? null : BigInt(months.value[at]!.value) - BigInt(months.value[at - 1]!.value)
const chart = computed(() => ({
  series: [{ name: 'Value of stock', data: months.value.map((month) => Number(majorText(month.value))) }],
  options: {
    chart: { type: 'bar' as const },
    colors: ['maple'],
    fill: { opacity: 1 },
    yaxis: { labels: { formatter: (value: number) => digits(value.toFixed(0)) } },
    plotOptions: { bar: { borderRadius: 3, columnWidth: '60%' } },
    xaxis: { categories: months.value.map((month) => day(month.day)) },
    tooltip: {
      y: {
        formatter: (_: number, { dataPointIndex }: { dataPointIndex: number }) =>
          money(months.value[dataPointIndex]!.value),
      },
    },
  },
}))
</script>

<template>
  <UiProblem v-if="error" :text="problemOf(error).detail" />
  <UiSheet v-else-if="months.length === 0"
    ><UiEmptyState title="No stock yet" summary="Receive goods or enter opening stock; its value is kept here."
  /></UiSheet>
  <div v-else class="grid items-start gap-4 lg:grid-cols-[1fr_24rem]">
    <UiSheet
      ><UiChart
        label="Value of stock at the end of each month"
        :series="chart.series"
        :options="chart.options"
        :height="320"
    /></UiSheet>
    <UiSheet>
      <UiLinesTable is-grid class="w-full" aria-label="Value of stock by month">
        <thead>
          <tr class="border-b border-line text-fine text-soft">
            <th class="py-1 text-left font-medium">On the evening of</th>
            <th class="py-1 text-right font-medium">Value</th>
            <th class="py-1 text-right font-medium">Change</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(month, at) in months" :key="month.day" class="border-b border-line/60 last:border-0">
            <td class="py-1">{{ day(month.day) }}</td>
            <td class="py-1 text-right">{{ money(month.value) }}</td>
            <td class="py-1 text-right text-soft">
              <template v-if="changeOf(at) !== null"
                >{{ changeOf(at)! > 0n ? '+' : '' }}{{ money(changeOf(at)!) }}</template
              >
            </td>
          </tr>
        </tbody>
      </UiLinesTable>
    </UiSheet>
  </div>
</template>
