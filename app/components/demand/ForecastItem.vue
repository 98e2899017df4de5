<script setup lang="ts">
import { METHOD_SAYS, METHODS, methodOf, safetyStock, type MethodName } from '~~/core/forecasting'
import { type Step } from '~~/core/calendar/periods'
import type { ForecastRow, ItemSeries } from '~~/shared/demand/forecast'
import type { Wanted } from '~/composables/demand/use-forecaster'

const props = defineProps<{
  row: ForecastRow
  step: Step
  periods: readonly { first: string; last: string }[]
  shown: (first: string) => string
  editable: boolean
  busy: boolean
}>()
const emit = defineEmits<{ compute: [wanted: Wanted | null] }>()
const session = useSession()
const notices = useNotices()
const { day, amount } = usePrint()
const { data: series } = useAsyncData(
  () => `series-${props.row.itemId}-${props.step}`,
  async () =>
    (
      await $fetch<ItemSeries[]>('/api/demand/history/series', {
        method: 'POST',
        body: { step: props.step, itemIds: [props.row.itemId] },
      })
    )[0] ?? null,
  { watch: [() => props.row.itemId, () => props.step] },
)
const { data: item } = useAsyncData(
  () => `lead-${props.row.itemId}`,
  () =>
    $fetch<{ leadDays: number; safetyStock: string; terms: { leadDays: number; rank: number }[] }>(
      `/api/catalogue/items/${props.row.itemId}`,
    ),
  { watch: [() => props.row.itemId] },
)

const method = ref<MethodName | 'best'>('best')
const given = ref('')
watch(
  [() => props.row.itemId, () => props.row.method],
  () => {
    method.value = props.row.method ?? 'best'
    given.value = String(
      props.row.parameters?.days ??
        (props.row.parameters?.growth === undefined ? '' : Math.round(props.row.parameters.growth * 100 - 100)),
    )
  },
  { immediate: true },
)
const asks = computed(() => {
  if (method.value === 'average') {
    return 'Days'
  }
  if (method.value === 'last year') {
    return 'Growth in %, empty: last year’s'
  }
  return null
})
const wanted = computed((): Wanted | null => {
  if (method.value === 'best') {
    return null
  }
  const typed = Number(given.value)
  if (method.value === 'average' && typed > 0) {
    return { method: 'average', parameters: { days: typed } }
  }
  if (method.value === 'last year' && given.value.trim() !== '' && Number.isFinite(typed)) {
    return { method: 'last year', parameters: { growth: 1 + typed / 100 } }
  }
  return { method: method.value }
})

const result = computed(() => props.row.result)
const tested = computed(() =>
  [...(result.value?.compared ?? [])].sort((a, b) => (a.errors?.rmse ?? Infinity) - (b.errors?.rmse ?? Infinity)),
)
/** Three figures that count: as many decimals as it takes. */
function decimalsFor(value: number): number {
  if (Math.abs(value) >= 100) {
    return 0
  }
  return Math.abs(value) >= 10 ? 1 : 2
}
const figure = (value: number | null | undefined): string =>
  value === null || value === undefined ? '–' : amount(value.toFixed(decimalsFor(value)))
/** How see-through a band's mark in the legend is, as the last two digits of its colour. */
const LEGEND_ALPHA: Readonly<Record<string, string>> = { '95 %': '33', '80 %': '66' }
function colourOf(method: string): string {
  if (method === result.value!.method) {
    return 'maple'
  }
  return method === 'naive' ? 'stone' : 'line'
}
const signed = (value: number): string => `${value > 0 ? '+' : ''}${figure(value)}`

const ROUNDS: Readonly<Record<Step, number>> = { day: 60, week: 104, month: 48 }
const history = computed(() => {
  const own = series.value?.history
  if (!own) {
    return []
  }
  return own.periods
    .map((period, index) => ({ x: Date.parse(period.first), y: own.series.values[index]!, sold: own.sold[index]! }))
    .slice(-ROUNDS[props.step])
})
const fitted = computed(() => {
  const own = series.value?.history
  if (!own || !result.value) {
    return []
  }
  const said = methodOf(result.value.method).apply({ ...own.series }, result.value.parameters).fitted
  return own.periods
    .flatMap((period, index) =>
      said[index] === null || said[index] === undefined ? [] : [{ x: Date.parse(period.first), y: round(said[index]) }],
    )
    .slice(-ROUNDS[props.step])
})
const round = (value: number): number => Math.round(value * 1000) / 1000
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
            period.range ? [{ x: period.x, y: [round(period.range.low95), round(period.range.high95)] }] : [],
          ),
        },
        {
          name: '80 %',
          type: 'rangeArea',
          data: ahead.value.flatMap((period) =>
            period.range ? [{ x: period.x, y: [round(period.range.low80), round(period.range.high80)] }] : [],
          ),
        },
      ]
    : []),
  { name: 'history', type: 'line', data: history.value.map(({ x, y }) => ({ x, y: round(y) })) },
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
const tokenOf = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
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
      formatter: (value: number) => (value >= 10 || Number.isInteger(value) ? value.toFixed(0) : value.toFixed(1)),
    },
  },
  tooltip: { shared: true, x: { format: props.step === 'month' ? 'MMM yyyy' : 'd MMM yyyy' } },
}))

/** How far each method was off in the test, the chosen one in the colour of goods. */
const byMethod = computed(() =>
  tested.value.flatMap((entry) =>
    entry.errors
      ? [
          {
            x: entry.method,
            y: round(entry.errors.rmse),
            fillColor: tokenOf(colourOf(entry.method)),
          },
        ]
      : [],
  ),
)
const byMethodOptions = {
  chart: { type: 'bar' as const },
  plotOptions: { bar: { horizontal: true, barHeight: '70%', borderRadius: 2 } },
  xaxis: { labels: { formatter: (value: string) => String(Math.round(Number(value) * 10) / 10) } },
  yaxis: { labels: { maxWidth: 190 } },
  tooltip: { y: { formatter: (value: number) => String(value) } },
}

const service = ref('0.95')
const DAYS: Readonly<Record<Step, number>> = { day: 1, week: 7, month: 365 / 12 }
const leadDays = computed(
  () => [...(item.value?.terms ?? [])].sort((a, b) => a.rank - b.rank)[0]?.leadDays ?? item.value?.leadDays ?? 0,
)
const stepOf = computed(() => Number(props.row.step))
const suggested = computed(() =>
  result.value
    ? Math.ceil(
        safetyStock({
          deviation: result.value.deviation,
          periodDays: DAYS[props.step],
          leadDays: leadDays.value,
          service: Number(service.value),
        }) /
          stepOf.value -
          1e-9,
      ) * stepOf.value
    : null,
)
const setting = useAct()
async function setSafety(): Promise<void> {
  const done = await setting.run(() =>
    $fetch('/api/catalogue/items/set', {
      method: 'POST',
      body: { ids: [props.row.itemId], field: 'safetyStock', value: String(round(suggested.value!)) },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Safety stock of ${props.row.code} is ${amount(String(round(suggested.value!)))} ${props.row.symbol}.`,
    ...(done.batchId !== null && { batchId: done.batchId }),
  })
  await refreshNuxtData(`lead-${props.row.itemId}`)
}
</script>

<template>
  <UiSheet class="mt-3" :data-test="`forecast-of-${row.code}`">
    <div class="grid gap-5 xl:grid-cols-[1fr_26rem]">
      <div>
        <p class="mb-1 flex items-baseline gap-2">
          <b class="font-semibold">{{ row.code }}</b><span class="text-soft"
            >{{ row.name }}, by {{ step }}, in {{ row.symbol }}</span
          >
        </p>
        <DemandChart
          :label="`History and forecast of ${row.code}`"
          :series="drawn as never"
          :options="options"
          :height="235"
        />
        <template v-if="byMethod.length"
          ><p class="mt-2 text-fine text-soft">Off by, in {{ row.symbol }} a {{ step }} (RMSE of the test)</p>
          <DemandChart
            label="Error by method"
            :series="[{ name: 'RMSE', data: byMethod }] as never"
            :options="byMethodOptions"
            :height="40 + byMethod.length * 20"
        /></template>
        <p v-if="series === null || series?.history === null" class="text-soft">
          Nothing was sold of it yet. Type what you expect, or let it borrow another item’s history in the sales
          history.
        </p>
      </div>
      <div class="grid content-start gap-3">
        <p v-if="result" data-test="sentence">
          {{ result.sentence }} <span class="text-fine text-soft">Computed {{ day(result.madeOn) }}.</span>
        </p>
        <p v-else class="text-soft">
          Typed by hand so far. A method says what past sales make it, with its range and how far it was off.
        </p>
        <div v-if="editable" class="flex items-end gap-2">
          <FormSelect
            v-model="method"
            class="flex-1"
            label="Method"
            :options="[
              { value: 'best', name: 'Best by test' },
              ...METHODS.map((name) => ({ value: name, name: `${name}: ${METHOD_SAYS[name]}` })),
            ]"
          />
          <FormText v-if="asks" v-model="given" class="w-28" :label="asks" right />
          <UiButton :busy="busy" :disabled="!series?.history" @click="emit('compute', wanted)">Compute</UiButton>
        </div>
        <table
          v-if="result && tested.length"
          class="w-full text-fine [&_td]:pl-1.5 [&_th]:pl-1.5"
          aria-label="Errors by method"
        >
          <thead>
            <tr class="text-right text-soft">
              <th class="py-1 text-left font-medium">Off in the test by</th>
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
        </table>
        <div v-if="suggested !== null" class="flex flex-wrap items-end gap-2 border-t border-line pt-2">
          <FormSelect
            v-model="service"
            class="w-28"
            label="Met in"
            :options="[
              { value: '0.9', name: '90 %' },
              { value: '0.95', name: '95 %' },
              { value: '0.975', name: '97.5 %' },
              { value: '0.99', name: '99 %' },
            ]"
          />
          <p class="flex-1 text-fine text-soft">
            of all lead times of {{ leadDays }} days, with a safety stock of
            <b class="font-semibold text-ink" data-test="suggested"
              >{{ amount(String(round(suggested))) }} {{ row.symbol }}</b
            >; now {{ amount(item?.safetyStock ?? '0') }}.
          </p>
          <UiButton
            v-if="session.allows('catalogue')"
            small
            :busy="setting.busy.value"
            :disabled="Number(item?.safetyStock ?? 0) === suggested"
            @click="setSafety"
            >Set it to {{ amount(String(round(suggested))) }}</UiButton
          >
          <UiProblem :text="setting.detail.value" />
        </div>
      </div>
    </div>
  </UiSheet>
</template>
