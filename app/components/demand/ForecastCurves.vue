<script setup lang="ts">
import { methodOf } from '~~/core/forecasting'
import type { Step } from '~~/core/calendar/periods'
import type { ForecastRow, ItemSeries } from '~~/shared/demand/forecast'

const props = defineProps<{
  row: ForecastRow
  step: Step
  periods: readonly { first: string; last: string }[]
  shown: (first: string) => string
  series: ItemSeries | null
}>()
const { day, digits } = usePrint()
const result = computed(() => props.row.result)

/** How see-through a band's mark in the legend is, as the last two digits of its colour. */
const LEGEND_ALPHA: Readonly<Record<string, string>> = { '95 %': '33', '80 %': '66' }
const ROUNDS: Readonly<Record<Step, number>> = { day: 60, week: 104, month: 48 }
const history = computed(() => {
  const own = props.series?.history
  if (!own) {
    return []
  }
  return own.periods
    .map((period, index) => ({ x: Date.parse(period.first), y: own.series.values[index]!, sold: own.sold[index]! }))
    .slice(-ROUNDS[props.step])
})
const fitted = computed(() => {
  const own = props.series?.history
  if (!own || !result.value) {
    return []
  }
  const said = methodOf(result.value.method).apply({ ...own.series }, result.value.parameters).fitted
  return own.periods
    .flatMap((period, index) =>
      said[index] === null || said[index] === undefined
        ? []
        : [{ x: Date.parse(period.first), y: roundFigure(said[index]) }],
    )
    .slice(-ROUNDS[props.step])
})
const ahead = computed(() =>
  props.periods.map((period, index) => ({
    x: Date.parse(period.first),
    first: period.first,
    range: result.value?.ranges[index],
    computed: props.row.cells[period.first]?.computed ?? null,
    now: Number(props.shown(period.first) || 0),
  })),
)
const overridden = computed(() =>
  ahead.value.some((period) => period.computed !== null && Number(period.computed) !== period.now),
)
const drawn = computed(() => [
  ...(result.value
    ? [
        {
          name: '95 %',
          type: 'rangeArea',
          data: ahead.value.flatMap((period) =>
            period.range
              ? [{ x: period.x, y: [roundFigure(period.range.low95), roundFigure(period.range.high95)] }]
              : [],
          ),
        },
        {
          name: '80 %',
          type: 'rangeArea',
          data: ahead.value.flatMap((period) =>
            period.range
              ? [{ x: period.x, y: [roundFigure(period.range.low80), roundFigure(period.range.high80)] }]
              : [],
          ),
        },
      ]
    : []),
  { name: 'history', type: 'line', data: history.value.map(({ x, y }) => ({ x, y: roundFigure(y) })) },
  ...(fitted.value.length > 0 ? [{ name: 'fit', type: 'line', data: fitted.value }] : []),
  ...(result.value && overridden.value
    ? [
        {
          name: 'computed',
          type: 'line',
          data: ahead.value.flatMap((period) =>
            period.computed === null ? [] : [{ x: period.x, y: Number(period.computed) }],
          ),
        },
      ]
    : []),
  { name: 'forecast', type: 'line', data: ahead.value.map((period) => ({ x: period.x, y: period.now })) },
])
const LOOK: Readonly<Record<string, { color: string; width: number; dash: number }>> = {
  '95 %': { color: 'slate', width: 0, dash: 0 },
  '80 %': { color: 'slate', width: 0, dash: 0 },
  history: { color: 'maple', width: 2, dash: 0 },
  fit: { color: 'stone', width: 1, dash: 3 },
  computed: { color: 'slate', width: 1, dash: 4 },
  forecast: { color: 'slate', width: 2.5, dash: 0 },
}
const options = computed(() => ({
  chart: { type: 'rangeArea' as const },
  colors: drawn.value.map((line) => LOOK[line.name]!.color),
  stroke: {
    width: drawn.value.map((line) => LOOK[line.name]!.width),
    dashArray: drawn.value.map((line) => LOOK[line.name]!.dash),
    curve: 'straight' as const,
  },
  fill: {
    opacity: drawn.value.map((line) => {
      if (line.name === '95 %') {
        return 0.12
      }
      if (line.name === '80 %') {
        return 0.22
      }
      return 1
    }),
  },
  markers: { size: drawn.value.map((line) => (line.name === 'forecast' ? 3 : 0)), hover: { sizeOffset: 2 } },
  legend: {
    markers: {
      fillColors: drawn.value.map((line) => `${tokenOf(LOOK[line.name]!.color)}${LEGEND_ALPHA[line.name] ?? ''}`),
    },
  },
  xaxis: { type: 'datetime' as const, labels: { datetimeUTC: true } },
  yaxis: {
    min: 0,
    decimalsInFloat: 0,
    forceNiceScale: true,
    labels: {
      formatter: (value: number) =>
        digits(value >= 10 || Number.isInteger(value) ? value.toFixed(0) : value.toFixed(1)),
    },
  },
  tooltip: {
    shared: true,
    x:
      props.step === 'month'
        ? { format: 'MMM yyyy' }
        : { formatter: (value: number) => day(new Date(value).toISOString().slice(0, 10)) },
  },
}))
</script>

<template>
  <UiChart :label="`History and forecast of ${row.code}`" :series="drawn as never" :options="options" :height="235" />
</template>
