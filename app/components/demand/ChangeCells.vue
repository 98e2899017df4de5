<script setup lang="ts">
import { shapeOf } from '~~/core/forecasting'
import type { Step } from '~~/core/calendar/periods'
import type { ItemSeries } from '~~/shared/demand/forecast'
import type { CellRange } from '~/composables/demand/forecast-cells'
import type { ForecastGrid } from '~/composables/demand/use-forecast-grid'

const props = defineProps<{ grid: ForecastGrid; range: CellRange; step: Step }>()
const dialog = useAct()
const over = reactive({ percent: false, spread: false })
const amount = ref('')
const stepOf = (row: number): string => props.grid.rows.value[row]!.step
function open(which: 'percent' | 'spread'): void {
  amount.value = ''
  over[which] = true
}
function changePercent(): void {
  if (/^-?\d+([.,]\d+)?$/.test(amount.value.trim())) {
    const percent = amount.value.trim().replace(',', '.')
    props.grid.apply(changeByPercent(props.range, percent, props.grid.shown, stepOf))
    over.percent = false
  }
}
async function spread(): Promise<void> {
  if (numberIn(amount.value) === null) {
    return
  }
  const list = await dialog.run(() =>
    $fetch<ItemSeries[]>('/api/demand/history/series', {
      method: 'POST',
      body: {
        step: props.step,
        itemIds: props.grid.rows.value.slice(props.range.top, props.range.bottom + 1).map((row) => row.itemId),
      },
    }),
  )
  if (!list) {
    return
  }
  const wanted = props.grid.periods.value.slice(props.range.left, props.range.right + 1)
  props.grid.apply(
    spreadOver(
      props.range,
      amount.value.replace(',', '.'),
      (row) =>
        shapeOf(
          list.find((item) => item.itemId === props.grid.rows.value[row]!.itemId)?.history ?? null,
          wanted,
          props.step,
        ),
      stepOf,
    ),
  )
  over.spread = false
}
defineExpose({ open })
</script>

<template>
  <UiDialog
    v-model="over.percent"
    title="Change the chosen cells"
    act="Change them"
    :disabled="!/^-?\d+([.,]\d+)?$/.test(amount.trim())"
    @act="changePercent"
    ><UiTextField v-model="amount" class="w-40" label="By per cent, − for less" right
  /></UiDialog>
  <UiDialog
    v-model="over.spread"
    title="Spread a total over the chosen periods"
    act="Spread it"
    :busy="dialog.busy.value"
    :problem="dialog.detail.value"
    :disabled="numberIn(amount) === null"
    @act="spread"
    ><UiTextField v-model="amount" class="w-40" label="Total of each row" right />
    <p class="mt-2 text-fine text-soft">
      By the shape of the same periods in the last three years; evenly where nothing was sold. Each row adds up to it
      exactly.
    </p></UiDialog
  >
</template>
