<script setup lang="ts">
import type { Step } from '~~/core/calendar/periods'
import type { ForecastRow } from '~~/shared/demand/forecast'

const props = defineProps<{ result: NonNullable<ForecastRow['result']>; symbol: string; step: Step }>()
const { digits } = usePrint()

function colourOf(method: string): string {
  if (method === props.result.method) {
    return 'maple'
  }
  return method === 'naive' ? 'stone' : 'line'
}
/** How far each method was off in the test, the chosen one in the colour of goods. */
const byMethod = computed(() =>
  sortByError(props.result.compared).flatMap((entry) =>
    entry.errors
      ? [
          {
            x: entry.method,
            y: roundFigure(entry.errors.rmse),
            fillColor: tokenOf(colourOf(entry.method)),
          },
        ]
      : [],
  ),
)
const byMethodOptions = {
  chart: { type: 'bar' as const },
  plotOptions: { bar: { horizontal: true, barHeight: '70%', borderRadius: 2 } },
  xaxis: { labels: { formatter: (value: string) => digits(String(Math.round(Number(value) * 10) / 10)) } },
  yaxis: { labels: { maxWidth: 190 } },
}
</script>

<template>
  <template v-if="byMethod.length"
    ><p class="mt-2 text-fine text-soft">Off by, in {{ symbol }} a {{ step }} (RMSE of the test)</p>
    <UiChart
      label="Error by method"
      :series="[{ name: 'RMSE', data: byMethod }] as never"
      :options="byMethodOptions"
      :height="40 + byMethod.length * 20"
  /></template>
</template>
