<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const { day, isPast, price, money } = usePrint()
const { data: order, refresh } = orNotFound(await useFetch(() => `/api/purchasing/orders/${id.value}`))
const receiving = ref(false)
const invoicing = ref(false)
const { detail, run } = useAct()
useHead({ title: () => `${order.value?.number} · Tsumiki` })

type Line = NonNullable<typeof order.value>['lines'][number]
const openOf = (line: Line): string => {
  const left = ratio(line.quantity).sub(ratio(line.received))
  return left.compare(0) > 0 && !line.closedShort ? toText(left) : '0'
}
const isOpen = computed(() => order.value?.lines.some((line) => openOf(line) !== '0'))
useKeys([
  {
    key: 'r',
    summary: 'receive',
    act: () => {
      if (isOpen.value) {
        receiving.value = true
      }
    },
  },
])
async function close(line: Line, open: boolean): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/purchasing/orders/${id.value}/close-short`, {
        method: 'POST',
        body: { version: order.value!.version, lineId: line.id, open },
      }),
    )
  ) {
    void refreshToday()
    await refresh()
  }
}
async function received(): Promise<void> {
  receiving.value = false
  invoicing.value = false
  void refreshToday()
  await refresh()
}
const COLUMNS = [
  { key: 'code', name: 'Item' },
  { key: 'entered', name: 'Ordered', right: true },
  { key: 'price', name: 'Price', right: true },
  { key: 'value', name: 'Amount', right: true },
  { key: 'dueOn', name: 'Due' },
  { key: 'received', name: 'Received', right: true },
  { key: 'open', name: 'To come', right: true },
  { key: 'close', name: '' },
]
</script>

<template>
  <div v-if="order">
    <UiHead
      :title="`${order.number}  ${order.supplier}`"
      :summary="`Ordered ${day(order.orderedOn)}, ${money(order.total, order.currency)}${order.currency ? ` at ${order.rate} to one ${order.currency}` : ''}${order.deliverTo ? ` · deliver to ${order.deliverTo}` : ''}${order.note ? ` · ${order.note}` : ''}`"
    >
      <UiTag v-if="order.status !== 'open'" tone="good">{{ order.status }}</UiTag>
      <a
        :href="`/api/purchasing/orders/${order.id}/print`"
        target="_blank"
        class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash"
        >Print (PDF)</a
      >
      <UiButton v-if="order.uninvoiced.length && session.allows('books')" @click="invoicing = true"
        >Enter an invoice</UiButton
      >
      <UiButton v-if="isOpen && session.allows('receive')" primary @click="receiving = true">Receive goods</UiButton>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <p v-if="order.kept.length > 0" class="mb-3 text-soft">
      Entered all the same, against the terms: {{ order.kept.join(' ') }}
    </p>
    <UiSheet flush class="mb-4">
      <UiTable :columns="COLUMNS" :rows="order.lines" label="Order lines" :muted="(row) => row.closedShort">
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #entered="{ row }"
          ><UiQty strong :of="row.entered" :unit="references.symbol(row.unit)" /><span
            v-if="row.unit !== row.stockUnit"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></template>
        <template #price="{ row }"
          >{{ price(row.price, order.currency) }}
          <span class="text-soft">/ {{ references.symbol(row.unit) }}</span></template
        >
        <template #value="{ row }">{{ money(row.value, order.currency) }}</template>
        <template #dueOn="{ row }"
          ><span :class="openOf(row) !== '0' && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #received="{ row }"
          ><UiQty v-if="row.received !== '0'" :of="row.received" :unit="row.symbol"
        /></template>
        <template #open="{ row }"
          ><span v-if="row.closedShort">closed short</span
          ><span v-else-if="openOf(row) !== '0'" class="inline-flex items-center gap-2" data-test="to-come"
            ><GoodsBlock state="coming" class="h-3 w-5 border" /><UiQty
              strong
              :of="openOf(row)"
              :unit="row.symbol" /></span
        ></template>
        <template #close="{ row }"
          ><UiButton
            v-if="session.allows('buy') && (row.closedShort || openOf(row) !== '0')"
            small
            @click="close(row, row.closedShort)"
            >{{ row.closedShort ? 'Open again' : 'Close short' }}</UiButton
          ></template
        >
      </UiTable>
    </UiSheet>
    <PurchasingInvoices v-if="order.invoices.length" class="mb-4" :invoices="order.invoices" @changed="received" />
    <StockPostings :postings="order.postings" @reversed="received" />
    <PurchasingInvoice v-if="invoicing" :order="order" @done="received" @close="invoicing = false" />
    <PurchasingReceive v-if="receiving" :order="order" @done="received" @close="receiving = false" />
  </div>
</template>
