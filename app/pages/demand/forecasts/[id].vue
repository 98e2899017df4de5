<script setup lang="ts">
import type { Choice } from '~/components/demand/ForecastCompute.vue'
import type { ItemName } from '~~/shared/catalogue/answers'
import { refDebounced } from '@vueuse/core'
import type { ForecastAnswer, ForecastRow, ItemSeries } from '~~/shared/demand/forecast'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const { data: forecast, refresh } = orNotFound(
  await useFetch<ForecastAnswer>(() => `/api/demand/forecasts/${id.value}`),
)
const added = ref<ForecastRow[]>([])
const grid = useForecastGrid(() => forecast.value, added)
const { saving, computing, forecaster, save, computeAll, computeOne, takeOut } = useForecastEdits(
  forecast,
  grid,
  refresh,
)
const range = ref<CellRange>({ top: 0, left: 0, bottom: 0, right: 0 })
const editable = computed(() => session.allows('demand'))
const over = reactive({ compute: false, out: false })
const cellDialogs = useTemplateRef('cellDialogs')
const copyDialogs = useTemplateRef('copyDialogs')
useHead({ title: () => `${forecast.value?.name} · Tsumiki` })
useKeys([
  {
    key: 'g',
    summary: 'to the grid',
    act: () => document.querySelector<HTMLElement>('[role=gridcell][tabindex="0"]')?.focus(),
  },
])

const current = refDebounced(
  computed(() => grid.rows.value[Math.min(range.value.top, grid.rows.value.length - 1)] ?? null),
  120,
)
const chosen = computed(() => grid.rows.value.slice(range.value.top, range.value.bottom + 1))
const shownOf =
  (itemId: number) =>
  (first: string): string => {
    const [row, column] = [
      grid.rows.value.findIndex((row) => row.itemId === itemId),
      grid.periods.value.findIndex((period) => period.first === first),
    ]
    return row < 0 || column < 0 ? '' : grid.shown(row, column)
  }
const wrongCell = computed(() => {
  const index = /^cells\.(\d+)$/.exec(Object.keys(saving.fields.value)[0] ?? '')
  const cell = index ? grid.cells.value[Number(index[1])] : undefined
  return cell ? `${cell.itemId}|${cell.startsOn}` : null
})

async function addItem(item: ItemName): Promise<void> {
  if (grid.rows.value.some((row) => row.itemId === item.id)) {
    return
  }
  const [series] = await $fetch<ItemSeries[]>('/api/demand/history/series', {
    method: 'POST',
    body: { step: forecast.value!.step, itemIds: [item.id] },
  })
  const full = await $fetch<{ finestStep: string; groupId: number }>(`/api/catalogue/items/${item.id}`)
  if (!series) {
    notices.say({ kind: 'problem', text: `${item.code} is not held in stock; it cannot be forecast.` })
    return
  }
  added.value = [
    ...added.value,
    {
      itemId: item.id,
      code: item.code,
      name: item.name,
      symbol: series.symbol,
      step: full.finestStep,
      groupId: full.groupId,
      group: useReferences().groups.find((group) => group.id === full.groupId)?.name ?? '',
      method: null,
      parameters: null,
      result: null,
      cells: {},
    },
  ]
}
async function computeChosen(choice: Choice): Promise<void> {
  if (await computeAll(choice, chosen.value)) {
    over.compute = false
  }
}
async function takeRowsOut(): Promise<void> {
  if (await takeOut(chosen.value, added)) {
    over.out = false
  }
}
onBeforeRouteLeave(
  () => grid.cells.value.length === 0 || confirm(`${grid.cells.value.length} typed cells are not saved. Leave them?`),
)
</script>

<template>
  <div v-if="forecast">
    <UiHead
      :title="forecast.name"
      :summary="`${day(forecast.firstOn)} – ${day(forecast.lastOn)}, by ${forecast.step}${forecast.note ? ` · ${forecast.note}` : ''}`"
    >
      <UiButton @click="navigateTo('/demand?tab=forecasts')">All forecasts</UiButton>
      <UiButton v-if="editable" @click="copyDialogs?.openCopy()">Copy as a what-if</UiButton>
      <UiButton v-if="editable" :primary="grid.cells.value.length === 0" @click="over.compute = true"
        >Compute from past sales</UiButton
      >
      <template v-if="grid.cells.value.length > 0"
        ><UiButton @click="grid.clear()">Discard changes</UiButton
        ><UiButton primary :busy="saving.busy.value" @click="save"
          >Save {{ grid.cells.value.length }} {{ plural(grid.cells.value.length, 'cell', 'cells') }}</UiButton
        ></template
      >
    </UiHead>
    <UiProblem :text="saving.detail.value || (over.compute ? '' : computing.detail.value)" class="mb-2" />
    <UiSheet flush>
      <DemandForecastToolbar
        :forecast-id="id"
        :grid="grid"
        :range="range"
        :editable="editable"
        :chosen="chosen.length"
        @add="addItem"
        @percent="cellDialogs?.open('percent')"
        @spread="cellDialogs?.open('spread')"
        @take-out="over.out = true"
        @remove="copyDialogs?.openRemove()"
      />
      <DemandForecastGrid
        v-if="grid.rows.value.length"
        v-model:range="range"
        :grid="grid"
        :step="forecast.step"
        :editable="editable"
        :wrong="wrongCell"
        @keep="save"
      />
      <UiEmptyState
        v-else
        title="Nothing is forecast yet"
        summary="Compute it from past sales, add an item and type or paste, or bring a file in."
        ><UiButton v-if="editable" primary @click="over.compute = true">Compute from past sales</UiButton></UiEmptyState
      >
    </UiSheet>
    <DemandForecastItem
      v-if="current"
      :key="current.itemId"
      :row="current"
      :step="forecast.step"
      :periods="forecast.periods"
      :shown="shownOf(current.itemId)"
      :editable="editable"
      :busy="computing.busy.value"
      @compute="computeOne(current.itemId, $event)"
    />
    <DemandForecastCompute
      v-model="over.compute"
      :chosen="chosen.length"
      :there="grid.rows.value.length"
      :busy="computing.busy.value"
      :done="forecaster.done.value"
      :total="forecaster.total.value"
      :detail="computing.detail.value"
      @act="computeChosen"
      @stop="forecaster.stop()"
    />
    <DemandChangeCells ref="cellDialogs" :grid="grid" :range="range" :step="forecast.step" />
    <DemandForecastCopy ref="copyDialogs" :forecast="forecast" :rows="grid.rows.value.length" />
    <UiDialog
      v-model="over.out"
      title="Take rows out of this forecast"
      :act="`Take ${chosen.length} ${plural(chosen.length, 'row', 'rows')} out`"
      :busy="saving.busy.value"
      :problem="saving.detail.value"
      @act="takeRowsOut"
      ><ul>
        <li v-for="(row, index) in chosen.slice(0, 12)" :key="row.itemId">
          {{ row.code }}: {{ sumOf(grid.periods.value.map((_, column) => grid.shown(range.top + index, column))) }} in
          all
        </li>
      </ul>
      <p v-if="chosen.length > 12" class="text-soft">and {{ chosen.length - 12 }} more</p>
      <p class="mt-2 text-fine text-soft">
        Their figures go, and how they were computed. The items and their history stay.
      </p></UiDialog
    >
  </div>
</template>
