<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { refDebounced } from '@vueuse/core'
import { shapeOf } from '~~/core/forecasting'
import type { ForecastAnswer, ForecastRow, ItemSeries } from '~~/shared/demand/forecast'
import type { Choice } from '~/components/demand/ForecastCompute.vue'
import type { Wanted } from '~/composables/demand/use-forecaster'

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
const range = ref<CellRange>({ top: 0, left: 0, bottom: 0, right: 0 })
const saving = useAct()
const computing = useAct()
const dialog = useAct()
const forecaster = useForecaster()
const editable = computed(() => session.allows('demand'))
const adding = ref<number | null>(null)
const over = reactive({ compute: false, copy: false, percent: false, spread: false, remove: false, out: false })
const copy = reactive({ name: '', shift: '0', percent: '100' })
const amount = ref('')
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
  adding.value = null
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
/** Our own edit is no stranger’s: the next one goes out before the page has read this one back. */
function seen(version: number): void {
  forecast.value = { ...forecast.value!, version }
}
async function save(): Promise<boolean> {
  const cells = grid.cells.value
  if (cells.length === 0) {
    return true
  }
  const saved = await saving.run(() =>
    $fetch(`/api/demand/forecasts/${id.value}`, { method: 'PUT', body: { version: forecast.value!.version, cells } }),
  )
  if (!saved) {
    return false
  }
  seen(saved.version)
  grid.clear()
  notices.say({ kind: 'done', text: `${cells.length} ${cells.length === 1 ? 'cell is' : 'cells are'} saved.` })
  await refresh()
  return true
}
async function computeAll(choice: Choice): Promise<void> {
  let itemIds
  if (choice.which === 'chosen') {
    itemIds = chosen.value.map((row) => row.itemId)
  } else if (choice.which === 'all') {
    itemIds = grid.rows.value.map((row) => row.itemId)
  } else {
    itemIds = undefined
  }
  const own = new Map(grid.rows.value.map((row) => [row.itemId, row]))
  await compute(
    {
      step: forecast.value!.step,
      ...(itemIds && { itemIds }),
      ...(choice.which === 'group' && { groupId: choice.groupId }),
    },
    (itemId) => {
      const row = own.get(itemId)
      if (choice.method === 'best') {
        return null
      }
      if (choice.method === 'own') {
        if (row?.method) {
          return { method: row.method, ...(row.parameters && { parameters: row.parameters }) }
        }
        return null
      }
      return { method: choice.method }
    },
    choice.over,
  )
}
const computeOne = (itemId: number, wanted: Wanted | null): Promise<void> =>
  compute({ step: forecast.value!.step, itemIds: [itemId] }, () => wanted, false)
async function compute(which: object, wantedOf: (itemId: number) => Wanted | null, replace: boolean): Promise<void> {
  if (!(await save())) {
    return
  }
  const answer = await computing.run(async () => {
    const list = await $fetch<ItemSeries[]>('/api/demand/history/series', { method: 'POST', body: which })
    const found = await forecaster.compute(forecast.value!, list, wantedOf)
    if (found === null || found.finished.length === 0) {
      return found
    }
    seen(
      (
        await $fetch(`/api/demand/forecasts/${id.value}/computed`, {
          method: 'PUT',
          body: { version: forecast.value!.version, over: replace, items: found.finished },
        })
      ).version,
    )
    return found
  })
  if (answer === null) {
    if (computing.detail.value === '') {
      notices.say({ kind: 'done', text: 'Stopped; nothing was changed.' })
    }
    return
  }
  over.compute = false
  const left = answer.without.length
  notices.say({
    kind: answer.finished.length > 0 ? 'done' : 'problem',
    text: `${answer.finished.length} ${answer.finished.length === 1 ? 'item is' : 'items are'} forecast${left > 0 ? `; ${left} ${left === 1 ? 'has' : 'have'} no sales to go by` : ''}.`,
  })
  await refresh()
}
function changePercent(): void {
  if (/^-?\d+([.,]\d+)?$/.test(amount.value.trim())) {
    grid.apply(
      changeByPercent(
        range.value,
        amount.value.trim().replace(',', '.'),
        grid.shown,
        (row) => grid.rows.value[row]!.step,
      ),
    )
    over.percent = false
    amount.value = ''
  }
}
async function spread(): Promise<void> {
  if (numberIn(amount.value) === null) {
    return
  }
  const list = await dialog.run(() =>
    $fetch<ItemSeries[]>('/api/demand/history/series', {
      method: 'POST',
      body: { step: forecast.value!.step, itemIds: chosen.value.map((row) => row.itemId) },
    }),
  )
  if (!list) {
    return
  }
  const wanted = grid.periods.value.slice(range.value.left, range.value.right + 1)
  grid.apply(
    spreadOver(
      range.value,
      amount.value.replace(',', '.'),
      (row) =>
        shapeOf(
          list.find((item) => item.itemId === grid.rows.value[row]!.itemId)?.history ?? null,
          wanted,
          forecast.value!.step,
        ),
      (row) => grid.rows.value[row]!.step,
    ),
  )
  Object.assign(over, { spread: false })
  amount.value = ''
}
async function copyIt(): Promise<void> {
  const made = await dialog.run(() =>
    $fetch(`/api/demand/forecasts/${id.value}/copy`, {
      method: 'POST',
      body: { name: copy.name, shift: Number(copy.shift), percent: copy.percent },
    }),
  )
  if (made) {
    over.copy = false
    await navigateTo(`/demand/forecasts/${made.id}`)
  }
}
async function removeIt(): Promise<void> {
  if (!(await dialog.run(() => $fetch(`/api/demand/forecasts/${id.value}`, { method: 'DELETE' })))) {
    return
  }
  notices.say({ kind: 'done', text: `“${forecast.value!.name}” is gone.` })
  await navigateTo('/demand?tab=forecasts')
}
async function takeOut(): Promise<void> {
  const without = chosen.value.map((row) => row.itemId)
  added.value = added.value.filter((row) => !without.includes(row.itemId))
  if (
    !(await saving.run(() =>
      $fetch(`/api/demand/forecasts/${id.value}`, {
        method: 'PUT',
        body: { version: forecast.value!.version, without },
      }),
    ))
  ) {
    return
  }
  over.out = false
  for (const key of [...grid.typed.keys()]) {
    if (without.includes(Number(key.split('|')[0]))) {
      grid.typed.delete(key)
    }
  }
  await refresh()
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
      <UiButton
        v-if="editable"
        @click="
          () => {
            Object.assign(copy, { name: `${forecast!.name}, what if`, shift: '0', percent: '100' })
            over.copy = true
          }
        "
        >Copy as a what-if</UiButton
      >
      <UiButton v-if="editable" :primary="grid.cells.value.length === 0" @click="over.compute = true"
        >Compute from past sales</UiButton
      >
      <template v-if="grid.cells.value.length > 0"
        ><UiButton @click="grid.clear()">Leave as it was</UiButton
        ><UiButton primary :busy="saving.busy.value" @click="save"
          >Save {{ grid.cells.value.length }} {{ grid.cells.value.length === 1 ? 'cell' : 'cells' }}</UiButton
        ></template
      >
    </UiHead>
    <UiProblem :text="saving.detail.value || (over.compute ? '' : computing.detail.value)" class="mb-2" />
    <UiSheet flush>
      <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
        <div v-if="editable" class="w-64">
          <FormItem v-model="adding" label="Add an item" hide-label @chosen="addItem" />
        </div>
        <template v-if="editable && grid.rows.value.length">
          <UiButton small @click="grid.apply(fillCells(range, 'right', grid.shown))">Fill right</UiButton>
          <UiButton
            small
            @click="
              () => {
                amount = ''
                over.percent = true
              }
            "
            >± %</UiButton
          >
          <UiButton
            small
            @click="
              () => {
                amount = ''
                over.spread = true
              }
            "
            >Spread a total</UiButton
          >
          <UiButton small :disabled="!grid.canUndo.value" @click="grid.undo">Undo</UiButton
          ><UiButton small :disabled="!grid.canRedo.value" @click="grid.redo">Redo</UiButton>
          <UiButton small @click="over.out = true"
            >Take {{ chosen.length === 1 ? 'the row' : `${chosen.length} rows` }} out</UiButton
          >
        </template>
        <span class="flex-1" />
        <a
          v-for="format in ['csv', 'xlsx']"
          :key="format"
          :href="`/api/demand/forecasts/${id}/file?format=${format}`"
          class="text-soft underline"
          download
          >{{ format.toUpperCase() }}</a
        >
        <NuxtLink v-if="editable" to="/catalogue/files?table=forecast" class="text-soft underline"
          >From a file</NuxtLink
        >
        <UiButton v-if="editable" small @click="over.remove = true">Delete</UiButton>
      </div>
      <DemandForecastGrid
        v-if="grid.rows.value.length"
        v-model:range="range"
        :grid="grid"
        :step="forecast.step"
        :editable="editable"
        :wrong="wrongCell"
        @keep="save"
      />
      <UiEmpty
        v-else
        title="Nothing is forecast yet"
        summary="Compute it from past sales, add an item and type or paste, or bring a file in."
        ><UiButton v-if="editable" primary @click="over.compute = true">Compute from past sales</UiButton></UiEmpty
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
      @act="computeAll"
      @stop="forecaster.stop()"
    />
    <UiConfirm
      v-model="over.percent"
      title="Change the chosen cells"
      act="Change them"
      :disabled="!/^-?\d+([.,]\d+)?$/.test(amount.trim())"
      @act="changePercent"
      ><FormText v-model="amount" class="w-40" label="By per cent, − for less" right
    /></UiConfirm>
    <UiConfirm
      v-model="over.spread"
      title="Spread a total over the chosen periods"
      act="Spread it"
      :busy="dialog.busy.value"
      :problem="dialog.detail.value"
      :disabled="numberIn(amount) === null"
      @act="spread"
      ><FormText v-model="amount" class="w-40" label="Total of each row" right />
      <p class="mt-2 text-fine text-soft">
        By the shape of the same periods in the last three years; evenly where nothing was sold. Each row adds up to it
        exactly.
      </p></UiConfirm
    >
    <UiConfirm
      v-model="over.copy"
      title="Copy as a what-if"
      act="Make the copy"
      :busy="dialog.busy.value"
      :problem="Object.keys(dialog.fields.value).length ? '' : dialog.detail.value"
      @act="copyIt"
    >
      <div class="grid grid-cols-[1fr_9rem_7rem] gap-3">
        <FormText v-model="copy.name" label="Name" :error="dialog.fields.value.name" /><FormText
          v-model="copy.shift"
          :label="`Move by ${forecast.step}s`"
          right
          :error="dialog.fields.value.shift"
        /><FormText v-model="copy.percent" label="Per cent" right :error="dialog.fields.value.percent" />
      </div>
    </UiConfirm>
    <UiConfirm
      v-model="over.out"
      title="Take rows out of this forecast"
      :act="`Take ${chosen.length} ${chosen.length === 1 ? 'row' : 'rows'} out`"
      :busy="saving.busy.value"
      :problem="saving.detail.value"
      @act="takeOut"
      ><ul>
        <li v-for="(row, index) in chosen.slice(0, 12)" :key="row.itemId">
          {{ row.code }}: {{ sumOf(grid.periods.value.map((_, column) => grid.shown(range.top + index, column))) }} in
          all
        </li>
      </ul>
      <p v-if="chosen.length > 12" class="text-soft">and {{ chosen.length - 12 }} more</p>
      <p class="mt-2 text-fine text-soft">
        Their figures go, and how they were computed. The items and their history stay.
      </p></UiConfirm
    >
    <UiConfirm
      v-model="over.remove"
      title="Delete this forecast"
      act="Delete the forecast"
      :busy="dialog.busy.value"
      :problem="dialog.detail.value"
      @act="removeIt"
      ><p>
        “{{ forecast.name }}” goes, with {{ grid.rows.value.length }} rows. Plans that were made with it keep what they
        read.
      </p></UiConfirm
    >
  </div>
</template>
