<script setup lang="ts">
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const { data: list, refresh: refreshList } = await useFetch('/api/demand/forecasts')
const chosen = ref<number | null>(list.value?.[0]?.id ?? null)
const { data: forecast, refresh } = await useAsyncData('forecast', () => chosen.value === null ? Promise.resolve(null) : $fetch(`/api/demand/forecasts/${chosen.value}`), { watch: [chosen] })
const { busy, detail, fields, run } = useAct()
const changed = reactive(new Map<string, string>())
const added = ref<{ itemId: number, code: string, name: string, symbol: string }[]>([])
const making = reactive({ open: false, name: '', firstOn: session.today, weeks: '12' })
const adding = ref<number | null>(null)

const rows = computed(() => {
  const all = new Map<number, { itemId: number, code: string, name: string, symbol: string, cells: Map<string, string> }>()
  for (const cell of forecast.value?.cells ?? []) {
    const row = all.get(cell.itemId) ?? { itemId: cell.itemId, code: cell.code, name: cell.name, symbol: cell.symbol, cells: new Map() }
    row.cells.set(cell.startsOn, cell.quantity)
    all.set(cell.itemId, row)
  }
  for (const item of added.value) if (!all.has(item.itemId)) all.set(item.itemId, { ...item, cells: new Map() })
  return [...all.values()]
})
const keyOf = (itemId: number, week: string): string => `${itemId}|${week}`
const shownIn = (row: { itemId: number, cells: Map<string, string> }, week: string): string => changed.get(keyOf(row.itemId, week)) ?? row.cells.get(week) ?? ''
function set(itemId: number, week: string, text: string): void { changed.set(keyOf(itemId, week), text) }
/** A block copied from a spreadsheet fills cells to the right and below. */
function paste(event: ClipboardEvent, rowAt: number, weekAt: number): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  text.trimEnd().split(/\r?\n/).forEach((line, down) => line.split('\t').forEach((cell, right) => {
    const row = rows.value[rowAt + down]
    const week = forecast.value?.weekStarts[weekAt + right]
    if (row && week) set(row.itemId, week, cell.trim())
  }))
}
async function save(): Promise<void> {
  const cells = [...changed].map(([key, quantity]) => ({ itemId: Number(key.split('|')[0]), startsOn: key.split('|')[1]!, quantity }))
  if (!await run(() => $fetch(`/api/demand/forecasts/${chosen.value}`, { method: 'PUT', body: { version: forecast.value!.version, cells } }))) return
  changed.clear()
  notices.say({ kind: 'done', text: `${cells.length} ${cells.length === 1 ? 'cell is' : 'cells are'} saved.` })
  await refresh()
}
async function make(): Promise<void> {
  const made = await run(() => $fetch('/api/demand/forecasts', { method: 'POST', body: { name: making.name, firstOn: making.firstOn, weeks: making.weeks } }))
  if (!made) return
  making.open = false
  await refreshList()
  chosen.value = made.id
}
const wrong = computed(() => Object.values(fields.value)[0] ?? detail.value)
</script>

<template>
  <UiSheet flush>
    <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
      <FormSelect v-if="list?.length" v-model="chosen" label="Forecast" hide-label :options="list.map(f => ({ value: f.id, name: f.name }))" />
      <UiButton v-if="session.allows('demand')" @click="making.open = true">New forecast</UiButton>
      <div v-if="session.allows('demand') && forecast" class="w-72"><FormItem v-model="adding" label="Add an item" hide-label @chosen="added.push({ itemId: $event.id, code: $event.code, name: $event.name, symbol: '' })" /></div>
      <span class="flex-1" />
      <template v-if="changed.size > 0"><UiButton @click="changed.clear()">Leave as it was</UiButton><UiButton primary :busy="busy" @click="save">Save {{ changed.size }} {{ changed.size === 1 ? 'cell' : 'cells' }}</UiButton></template>
    </div>
    <UiProblem :text="making.open ? '' : wrong" class="m-3" />
    <div v-if="forecast && rows.length" class="overflow-x-auto">
      <table class="border-collapse" aria-label="Forecast by week">
        <thead><tr class="text-fine text-soft"><th class="sticky left-0 bg-sheet px-3 py-2 text-left font-medium">Item, in its stock unit</th><th v-for="week in forecast.weekStarts" :key="week" class="px-2 py-2 text-right font-medium whitespace-nowrap">{{ day(week) }}</th></tr></thead>
        <tbody>
          <tr v-for="(row, rowAt) in rows" :key="row.itemId" class="border-t border-line/60">
            <th scope="row" class="sticky left-0 bg-sheet px-3 text-left font-normal whitespace-nowrap"><UiItemChip :id="row.itemId" :code="row.code" /></th>
            <td v-for="(week, weekAt) in forecast.weekStarts" :key="week" class="p-0">
              <input
                :value="shownIn(row, week)" :aria-label="`${row.code}, week of ${day(week)}`" :readonly="!session.allows('demand')" inputmode="decimal" class="h-9 w-[4.4rem] border border-transparent bg-transparent px-2 text-right focus:border-maple focus:bg-wash"
                :class="changed.has(keyOf(row.itemId, week)) && 'bg-maple/15 font-semibold'" @change="set(row.itemId, week, ($event.target as HTMLInputElement).value)" @paste="paste($event, rowAt, weekAt)"
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <UiEmpty v-else :title="forecast ? 'This forecast is empty' : 'No forecast yet'" says="A forecast says by week what is expected to be asked for. The plan adds it to the orders, and orders use it up." />
    <UiConfirm v-model="making.open" title="New forecast" act="Begin the forecast" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="make">
      <div class="grid grid-cols-[1fr_10rem_6rem] gap-3"><FormText v-model="making.name" label="Name" :error="fields.name" /><FormText v-model="making.firstOn" label="First week" type="date" :error="fields.firstOn" /><FormText v-model="making.weeks" label="Weeks" right :error="fields.weeks" /></div>
    </UiConfirm>
  </UiSheet>
</template>
