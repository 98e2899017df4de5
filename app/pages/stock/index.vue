<script setup lang="ts">
const route = useRoute()
const session = useSession()
const TABS = [
  { key: 'lies', name: 'Stock on hand' },
  { key: 'sites', name: 'By site' },
  { key: 'lots', name: 'Lots and pieces' },
  { key: 'moves', name: 'Moves' },
  { key: 'low', name: 'Low stock' },
  { key: 'transfers', name: 'Transfers' },
  { key: 'inspection', name: 'Inspection' },
  { key: 'plans', name: 'Inspection plans' },
  { key: 'counts', name: 'Counts' },
]
const tab = useTab(TABS.map((entry) => entry.key))
const correcting = ref<{ itemId: number | null; binId: number | null; lot: string; status?: string } | null>(
  route.query.correct ? { itemId: Number(route.query.correct), binId: null, lot: '' } : null,
)
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
])
useHead({ title: 'Stockroom · Tsumiki' })
const plans = useTemplateRef<{ add: () => void }>('plans')
const times = ref(0)
function done(): void {
  correcting.value = null
  times.value++
  void refreshToday()
}
</script>

<template>
  <div>
    <UiHead title="Stockroom" summary="What is on hand, where, and how it came to be.">
      <UiButton
        v-if="session.allows('stock') && tab === 'transfers'"
        primary
        @click="navigateTo('/stock/transfers/new')"
        >New transfer</UiButton
      >
      <UiButton v-else-if="session.allows('stock') && tab === 'counts'" primary @click="navigateTo('/stock/counts/new')"
        >Open a count</UiButton
      >
      <UiButton v-else-if="tab === 'plans' && session.allows('catalogue')" primary @click="plans?.add()"
        >New inspection plan</UiButton
      >
      <UiButton v-else-if="session.allows('stock')" primary @click="correcting = { itemId: null, binId: null, lot: '' }"
        >Correct stock</UiButton
      >
    </UiHead>
    <UiTabs v-model="tab" :tabs="TABS" />
    <Suspense :key="`${tab} ${times}`">
      <StockLies v-if="tab === 'lies'" :start="route.query" @correct="correcting = $event" @moved="done" />
      <StockSites v-else-if="tab === 'sites'" @moved="done" />
      <StockLots v-else-if="tab === 'lots'" />
      <StockMoves v-else-if="tab === 'moves'" />
      <StockLow v-else-if="tab === 'low'" />
      <StockTransfers v-else-if="tab === 'transfers'" />
      <StockCounts v-else-if="tab === 'counts'" />
      <InspectionList v-else-if="tab === 'inspection'" />
      <InspectionPlans v-else ref="plans" />
    </Suspense>
    <StockCorrect v-if="correcting" :start="correcting" @done="done" @close="correcting = null" />
  </div>
</template>
