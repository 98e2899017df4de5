<script setup lang="ts">
import { refDebounced } from '@vueuse/core'

const route = useRoute()
const session = useSession()
const references = useReferences()
const { day, isPast } = usePrint()
const tab = ref('lies')
const search = ref(String(route.query.search ?? ''))
const bin = ref<number | null>(route.query.bin ? Number(route.query.bin) : null)
const sort = ref('code')
const page = ref(1)
const slow = refDebounced(search, 150)
watch([slow, bin], () => { page.value = 1 })
watch(() => route.query, (query) => { if (query.search !== undefined) search.value = String(query.search); if (query.bin) bin.value = Number(query.bin) })
const { data, refresh, error } = await useFetch('/api/stock/balances', { query: computed(() => ({ search: slow.value, sort: sort.value, page: page.value, size: 50, ...bin.value !== null && { bin: bin.value } })) })
const correcting = ref<{ itemId: number | null, binId: number | null, lot: string } | null>(route.query.correct ? { itemId: Number(route.query.correct), binId: null, lot: '' } : null)
const moving = ref<{ itemId: number, code: string, name: string, binId: number, bin: string, lot: string | null, unit: string, free: string } | null>(null)
const field = useTemplateRef('field')
useKeys([{ key: 'c', says: 'correct a quantity', act: () => { correcting.value = { itemId: null, binId: null, lot: '' } } }, { key: 'f', says: 'filter this list', act: () => field.value?.focus() }])
useHead({ title: 'Stockroom · Tsumiki' })
const moves = ref(0)
async function done(): Promise<void> { correcting.value = null; moving.value = null; moves.value++; void refreshToday(); await refresh() }
const COLUMNS = [{ key: 'code', name: 'Item', sort: 'code' }, { key: 'bin', name: 'Bin', sort: 'bin' }, { key: 'lot', name: 'Lot' }, { key: 'expiresOn', name: 'Expires', sort: 'expires' }, { key: 'status', name: 'Status' }, { key: 'onHand', name: 'On hand', right: true }, { key: 'allocated', name: 'Allocated', right: true }, { key: 'act', name: '' }]
</script>

<template>
  <div>
    <UiHead title="Stockroom" says="What lies where, and how it came to.">
      <UiSearch ref="field" v-model="search" label="Filter item or lot" />
      <FormSelect v-if="tab === 'lies'" v-model="bin" label="Bin" hide-label empty="All bins" :options="references.bins.map(b => ({ value: b.id, name: b.name }))" />
      <a :href="tab === 'lies' ? '/api/export/balances' : '/api/export/moves'" class="text-soft underline" download>Export CSV</a>
      <UiButton v-if="session.allows('stock')" primary @click="correcting = { itemId: null, binId: bin, lot: '' }">Correct a quantity</UiButton>
    </UiHead>
    <UiTabs v-model="tab" :tabs="[{ key: 'lies', name: 'What lies where', count: data?.total }, { key: 'moves', name: 'Moves' }]" />
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <Suspense v-if="tab === 'moves'"><StockMoves :key="moves" :search="search" /></Suspense>
    <UiSheet v-else flush>
      <UiTable :columns="COLUMNS" :rows="data?.rows ?? []" label="Balances" :sort="sort" @sort="sort = $event.replace('-', '')">
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #expiresOn="{ row }"><span :class="isPast(row.expiresOn) && 'font-semibold text-brick'">{{ day(row.expiresOn) }}</span></template>
        <template #status="{ row }"><span class="flex items-center gap-2"><GoodsBlock :state="row.status === 'available' ? 'on hand' : 'held'" class="h-3 w-5 border" />{{ row.status }}</span></template>
        <template #onHand="{ row }"><UiQty strong :of="row.onHand" :unit="row.symbol" /></template>
        <template #allocated="{ row }"><UiQty v-if="row.allocated !== '0'" :of="row.allocated" :unit="row.symbol" /></template>
        <template #act="{ row }"><span v-if="session.allows('stock')" class="flex justify-end gap-1"><UiButton small @click="moving = { itemId: row.itemId, code: row.code, name: row.name, binId: row.binId, bin: row.bin, lot: row.lot, unit: row.unit, free: row.onHand }">Move</UiButton><UiButton small @click="correcting = { itemId: row.itemId, binId: row.binId, lot: row.lot ?? '' }">Correct</UiButton></span></template>
      </UiTable>
      <UiEmpty v-if="data && data.rows.length === 0" title="Nothing lies here" says="Receive goods, record a build, or enter opening stock as a correction." />
      <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
    </UiSheet>
    <StockCorrect v-if="correcting" :start="correcting" @done="done" @close="correcting = null" />
    <StockMove v-if="moving" :from="moving" @done="done" @close="moving = null" />
  </div>
</template>
