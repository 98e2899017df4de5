<script setup lang="ts">
import type { ForecastRow } from '~~/shared/demand/forecast'

const props = defineProps<{ result: NonNullable<ForecastRow['result']> }>()
const { amount } = usePrint()
/** The best first; what could not be tested last. */
const tested = computed(() => sortByError(props.result.compared))

/** Three figures that count: as many decimals as it takes. */
function decimalsFor(value: number): number {
  if (Math.abs(value) >= 100) {
    return 0
  }
  return Math.abs(value) >= 10 ? 1 : 2
}
const figure = (value: number | null | undefined): string =>
  value === null || value === undefined ? '–' : amount(value.toFixed(decimalsFor(value)))
const signed = (value: number): string => `${value > 0 ? '+' : ''}${figure(value)}`
</script>

<template>
  <UiLinesTable
    v-if="tested.length"
    is-grid
    class="w-full text-fine [&_td]:pl-1.5 [&_th]:pl-1.5"
    aria-label="Errors by method"
  >
    <thead>
      <tr class="text-right text-soft">
        <th class="py-1 text-left font-medium">Forecast error in the backtest</th>
        <th class="font-medium" title="root of the mean squared error">RMSE</th>
        <th class="font-medium" title="mean absolute error">MAE</th>
        <th class="font-medium" title="forecast less actual, on average">Bias</th>
        <th class="font-medium" title="mean absolute error in per cent">MAPE</th>
        <th class="font-medium" title="mean absolute error in errors of repeating what was sold">MASE</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="entry in tested"
        :key="entry.method"
        class="border-t border-line/60 text-right"
        :class="entry.method === result.method ? 'bg-maple/15 font-semibold' : 'text-soft'"
      >
        <td class="py-0.5 text-left whitespace-nowrap">
          {{ entry.method }}<span v-if="entry.method === 'naive'" class="font-normal"> (the yardstick)</span>
        </td>
        <template v-if="entry.errors"
          ><td>{{ figure(entry.errors.rmse) }}</td>
          <td>{{ figure(entry.errors.mae) }}</td>
          <td>{{ signed(entry.errors.bias) }}</td>
          <td>{{ entry.errors.mape === null ? '–' : `${figure(entry.errors.mape)} %` }}</td>
          <td>{{ figure(entry.errors.mase) }}</td></template
        >
        <td v-else colspan="5" class="font-normal">too little to test</td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
