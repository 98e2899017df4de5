<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import type { Blanket, BlanketLine } from '~~/shared/purchasing/blankets'
import type { DataColumn } from '~/composables/ui/data-column'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { day, isPast, price } = usePrint()
const { data: blanket, refresh } = orNotFound(await useFetch<Blanket>(() => `/api/purchasing/blankets/${id.value}`))
useHead({ title: () => `${blanket.value?.number} · Tsumiki` })
const calling = ref(false)
const { busy, detail, run } = useAct()
const isOpen = computed(() => blanket.value?.status === 'open')
const isLeft = computed(() => blanket.value?.lines.some((line) => !ratio(line.rest).equals(0)))
async function end(): Promise<void> {
  const wasOpen = isOpen.value
  const done = await run((key) =>
    $fetch<object>(`/api/purchasing/blankets/${id.value}/end`, {
      method: 'POST',
      body: { key, version: blanket.value!.version },
    }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `${blanket.value!.number} is ${wasOpen ? 'ended' : 'open again'}.` })
    await refresh()
  }
}
/** What is called off of a line, as a share of it. */
const shareOf = (line: BlanketLine): number =>
  Math.min(100, Math.round((Number(line.called) / Number(line.quantity)) * 100))
const summary = computed(() => {
  const { fromOn, untilOn, reference, note } = blanket.value!
  return [`${day(fromOn)} until ${day(untilOn)}`, reference && `their number ${reference}`, note]
    .filter(Boolean)
    .join(' · ')
})
const LINES: readonly DataColumn[] = [
  { key: 'code', name: 'Item' },
  { key: 'entered', name: 'Agreed', kind: 'quantity', unit: 'enteredIn', width: 150 },
  { key: 'price', name: 'Price', kind: 'price', width: 140, isCost: true },
  { key: 'called', name: 'Called off', kind: 'quantity', unit: 'symbol', width: 200 },
  { key: 'received', name: 'Received', kind: 'quantity', unit: 'symbol', width: 130 },
  { key: 'rest', name: 'Left', kind: 'quantity', unit: 'symbol', width: 130 },
]
const ORDERS: readonly DataColumn[] = [
  { key: 'number', name: 'Order', width: 120 },
  { key: 'orderedOn', name: 'Ordered on', kind: 'day', width: 110 },
  { key: 'dueOn', name: 'Due', kind: 'day', width: 110 },
  { key: 'summary', name: 'Items' },
]
const lines = computed(() =>
  (blanket.value?.lines ?? []).map((line) => ({ ...line, enteredIn: references.symbol(line.unit) })),
)
</script>

<template>
  <div v-if="blanket">
    <UiHead :title="`${blanket.number}  ${blanket.supplier}`" :summary="summary">
      <UiTag v-if="!isOpen">ended</UiTag>
      <UiTag v-else-if="isPast(blanket.untilOn)">past its period</UiTag>
      <template v-if="session.allows('buy')">
        <UiButton :busy="busy" @click="end">{{ isOpen ? 'End it' : 'Open it again' }}</UiButton>
        <UiButton v-if="isOpen && isLeft" primary @click="calling = true">Call off</UiButton>
      </template>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <UiSheet flush class="mb-4">
      <UiDataTable list="blanket lines" is-embedded is-plain :columns="LINES" :rows="lines" label="Lines">
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #entered="{ row }"
          ><UiQty strong :of="row.entered" :unit="row.enteredIn" /><span
            v-if="row.enteredIn !== row.symbol"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></template>
        <template #price="{ row }"
          >{{ price(row.price, blanket.currency) }} <span class="text-soft">/ {{ row.enteredIn }}</span></template
        >
        <template #called="{ row }"
          ><UiQty :of="row.called" :unit="row.symbol" /><span
            class="mt-1 ml-auto block h-1.5 w-32 overflow-hidden rounded-full bg-wash"
            aria-hidden="true"
            ><span class="block h-full bg-maple" :style="{ width: `${shareOf(row)}%` }" /></span
        ></template>
        <template #rest="{ row }"><UiQty strong :of="row.rest" :unit="row.symbol" /></template>
      </UiDataTable>
    </UiSheet>
    <UiSheet v-if="blanket.orders.length" flush title="Called off">
      <UiDataTable
        list="blanket call-offs"
        is-embedded
        is-plain
        :columns="ORDERS"
        :rows="[...blanket.orders]"
        label="Orders that call off from it"
        :muted="(row) => row.isCancelled"
      >
        <template #number="{ row }"
          ><NuxtLink :to="`/purchasing/${row.id}`" class="font-medium hover:underline">{{ row.number }}</NuxtLink
          ><span v-if="row.isCancelled" class="block text-fine text-soft">cancelled</span></template
        >
        <template #summary="{ row }">{{ row.summary }}</template>
      </UiDataTable>
    </UiSheet>
    <p v-else class="text-soft">Nothing is called off yet.</p>
    <PurchasingCallOff v-if="calling" :blanket="blanket" @close="calling = false" />
  </div>
</template>
