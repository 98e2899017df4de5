<script setup lang="ts">
import { METHOD_SAYS, METHODS, type MethodName } from '~~/core/forecasting'
import type { Step } from '~~/core/calendar/periods'
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
const { day } = usePrint()
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
        <DemandForecastCurves :row="row" :step="step" :periods="periods" :shown="shown" :series="series ?? null" />
        <DemandMethodChart v-if="result" :result="result" :symbol="row.symbol" :step="step" />
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
          <UiChoice
            v-model="method"
            class="flex-1"
            label="Method"
            :options="[
              { value: 'best', name: 'Best by test' },
              ...METHODS.map((name) => ({ value: name, name: `${name}: ${METHOD_SAYS[name]}` })),
            ]"
          />
          <UiTextField v-if="asks" v-model="given" class="w-28" :label="asks" right />
          <UiButton :busy="busy" :disabled="!series?.history" @click="emit('compute', wanted)">Compute</UiButton>
        </div>
        <DemandMethodErrors v-if="result" :result="result" />
        <DemandSafetyStock v-if="result" :row="row" :result="result" :step="step" />
      </div>
    </div>
  </UiSheet>
</template>
