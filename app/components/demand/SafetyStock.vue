<script setup lang="ts">
import { safetyStock } from '~~/core/forecasting'
import type { Step } from '~~/core/calendar/periods'
import type { ForecastRow } from '~~/shared/demand/forecast'

const props = defineProps<{ row: ForecastRow; result: NonNullable<ForecastRow['result']>; step: Step }>()
const session = useSession()
const notices = useNotices()
const { amount } = usePrint()
const { data: item } = useAsyncData(
  () => `lead-${props.row.itemId}`,
  () =>
    $fetch<{ leadDays: number; safetyStock: string; terms: { leadDays: number; rank: number }[] }>(
      `/api/catalogue/items/${props.row.itemId}`,
    ),
  { watch: [() => props.row.itemId] },
)

const service = ref('0.95')
const DAYS: Readonly<Record<Step, number>> = { day: 1, week: 7, month: 365 / 12 }
const leadDays = computed(
  () => [...(item.value?.terms ?? [])].sort((a, b) => a.rank - b.rank)[0]?.leadDays ?? item.value?.leadDays ?? 0,
)
const stepOf = computed(() => Number(props.row.step))
const suggested = computed(
  () =>
    Math.ceil(
      safetyStock({
        deviation: props.result.deviation,
        periodDays: DAYS[props.step],
        leadDays: leadDays.value,
        service: Number(service.value),
      }) /
        stepOf.value -
        1e-9,
    ) * stepOf.value,
)
const setting = useAct()
async function setSafety(): Promise<void> {
  const done = await setting.run(() =>
    $fetch('/api/catalogue/items/set', {
      method: 'POST',
      body: { ids: [props.row.itemId], field: 'safetyStock', value: String(roundFigure(suggested.value)) },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Safety stock of ${props.row.code} is ${amount(String(roundFigure(suggested.value)))} ${props.row.symbol}.`,
    ...(done.batchId !== null && { batchId: done.batchId }),
  })
  await refreshNuxtData(`lead-${props.row.itemId}`)
}
</script>

<template>
  <div class="flex flex-wrap items-end gap-2 border-t border-line pt-2">
    <UiChoice
      v-model="service"
      class="w-28"
      label="Service level"
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
        >{{ amount(String(roundFigure(suggested))) }} {{ row.symbol }}</b
      >; now {{ amount(item?.safetyStock ?? '0') }}.
    </p>
    <UiButton
      v-if="session.allows('catalogue')"
      small
      :busy="setting.busy.value"
      :disabled="Number(item?.safetyStock ?? 0) === suggested"
      @click="setSafety"
      >Set it to {{ amount(String(roundFigure(suggested))) }}</UiButton
    >
    <UiProblem :text="setting.detail.value" />
  </div>
</template>
