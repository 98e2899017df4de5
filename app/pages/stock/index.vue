<script setup lang="ts">
const route = useRoute()
const session = useSession()
const TABS = [
  { key: 'lies', name: 'What lies where' },
  { key: 'sites', name: 'By site' },
  { key: 'lots', name: 'Lots and pieces' },
  { key: 'moves', name: 'Moves' },
  { key: 'low', name: 'Running low' },
  { key: 'transfers', name: 'Transfers' },
  { key: 'counts', name: 'Counts' },
]
const tab = ref(TABS.some((entry) => entry.key === route.query.tab) ? String(route.query.tab) : 'lies')
const search = ref(String(route.query.search ?? ''))
watch(
  () => route.query,
  (query) => {
    if (query.search !== undefined) {
      search.value = String(query.search)
    }
    if (query.tab) {
      tab.value = String(query.tab)
    }
  },
)
const correcting = ref<{ itemId: number | null; binId: number | null; lot: string; status?: string } | null>(
  route.query.correct ? { itemId: Number(route.query.correct), binId: null, lot: '' } : null,
)
const field = useTemplateRef('field')
const EXPORTS: Readonly<Record<string, string>> = { lies: 'balances', moves: 'moves', lots: 'lots', low: 'low-stock' }
useKeys([
  {
    key: 'c',
    summary: 'correct a quantity',
    act: () => {
      if (session.allows('stock')) {
        correcting.value = { itemId: null, binId: null, lot: '' }
      }
    },
  },
  { key: 'f', summary: 'filter this list', act: () => field.value?.focus() },
])
useHead({ title: 'Stockroom · Tsumiki' })
const times = ref(0)
function done(): void {
  correcting.value = null
  times.value++
  void refreshToday()
}
</script>

<template>
  <div>
    <UiHead title="Stockroom" summary="What lies where, and how it came to.">
      <UiSearch v-if="tab !== 'counts'" ref="field" v-model="search" label="Filter item or lot" />
      <a v-if="EXPORTS[tab]" :href="`/api/export/${EXPORTS[tab]}`" class="text-soft underline" download>Export CSV</a>
      <UiButton
        v-if="session.allows('stock') && tab === 'transfers'"
        primary
        @click="navigateTo('/stock/transfers/new')"
        >New transfer</UiButton
      >
      <UiButton v-else-if="session.allows('stock') && tab === 'counts'" primary @click="navigateTo('/stock/counts/new')"
        >Open a count</UiButton
      >
      <UiButton v-else-if="session.allows('stock')" primary @click="correcting = { itemId: null, binId: null, lot: '' }"
        >Correct a quantity</UiButton
      >
    </UiHead>
    <UiTabs v-model="tab" :tabs="TABS" />
    <Suspense :key="`${tab} ${times}`">
      <StockLies
        v-if="tab === 'lies'"
        :search="search"
        :start="route.query"
        @correct="correcting = $event"
        @moved="done"
      />
      <StockSites v-else-if="tab === 'sites'" :search="search" @moved="done" />
      <StockLots v-else-if="tab === 'lots'" :search="search" />
      <StockMoves v-else-if="tab === 'moves'" :search="search" />
      <StockLow v-else-if="tab === 'low'" :search="search" />
      <StockTransfers v-else-if="tab === 'transfers'" :search="search" />
      <StockCounts v-else />
    </Suspense>
    <StockCorrect v-if="correcting" :start="correcting" @done="done" @close="correcting = null" />
  </div>
</template>
