<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'

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
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item' },
  { key: 'entered', name: 'Ordered', kind: 'quantity', unit: 'enteredIn', width: 130 },
  { key: 'price', name: 'Price', kind: 'price', width: 130, isCost: true },
  { key: 'value', name: 'Amount', kind: 'money', width: 110, isCost: true },
  { key: 'dueOn', name: 'Due', kind: 'day', width: 90 },
  { key: 'received', name: 'Received', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'open', name: 'To come', kind: 'quantity', unit: 'symbol', width: 140 },
  { key: 'close', name: '', isAct: true, width: 115 },
]
const lines = computed(() =>
  (order.value?.lines ?? []).map((line) => ({
    ...line,
    enteredIn: references.symbol(line.unit),
    open: line.closedShort ? '0' : openOf(line),
  })),
)
</script>

<template>
  <div v-if="order">
    <UiHead
      :title="`${order.number}  ${order.supplier}`"
      :summary="`Ordered ${day(order.orderedOn)}${session.allows('costs') ? `, ${money(order.total, order.currency)}${order.currency ? ` at ${order.rate} to one ${order.currency}` : ''}` : ''}${order.deliverTo ? ` · deliver to ${order.deliverTo}` : ''}${order.note ? ` · ${order.note}` : ''}`"
    >
      <UiTag v-if="order.status !== 'open'" tone="good">{{ order.status }}</UiTag>
      <a
        v-if="session.allows('costs')"
        :href="`/api/purchasing/orders/${order.id}/print`"
        target="_blank"
        class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash"
        >Print (PDF)</a
      >
      <UiButton v-if="session.allows('books') && order.uninvoiced.length" @click="invoicing = true"
        >Enter an invoice</UiButton
      >
      <UiButton v-if="isOpen && session.allows('receive')" primary @click="receiving = true">Receive goods</UiButton>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <p v-if="session.allows('costs') && order.kept.length > 0" class="mb-3 text-soft">
      Entered all the same, against the terms: {{ order.kept.join(' ') }}
    </p>
    <UiSheet flush class="mb-4">
      <UiDataTable
        list="purchase order lines"
        is-embedded
        :is-plain="lines.length < LINES_WITH_TOOLS"
        :columns="COLUMNS"
        :rows="lines"
        label="Order lines"
        :muted="(row) => row.closedShort"
      >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #entered="{ row }"
          ><UiQty strong :of="row.entered" :unit="row.enteredIn" /><span
            v-if="row.unit !== row.stockUnit"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></template>
        <template #price="{ row }"
          >{{ price(row.price, order.currency) }} <span class="text-soft">/ {{ row.enteredIn }}</span></template
        >
        <template #value="{ row }">{{ money(row.value, order.currency) }}</template>
        <template #dueOn="{ row }"
          ><span :class="row.open !== '0' && isPast(row.dueOn) && 'font-semibold text-brick'">{{
            day(row.dueOn)
          }}</span></template
        >
        <template #received="{ row }"
          ><UiQty v-if="row.received !== '0'" :of="row.received" :unit="row.symbol"
        /></template>
        <template #open="{ row }"
          ><span v-if="row.closedShort">closed short</span
          ><span v-else-if="row.open !== '0'" class="inline-flex items-center gap-2" data-test="to-come"
            ><GoodsBlock state="coming" class="h-3 w-5 border" /><UiQty
              strong
              :of="row.open"
              :unit="row.symbol" /></span
        ></template>
        <template #close="{ row }"
          ><UiButton
            v-if="session.allows('buy') && (row.closedShort || row.open !== '0')"
            small
            @click="close(row, row.closedShort)"
            >{{ row.closedShort ? 'Open again' : 'Close short' }}</UiButton
          ></template
        >
      </UiDataTable>
    </UiSheet>
    <PurchasingInvoices
      v-if="session.allows('costs') && order.invoices.length"
      class="mb-4"
      :invoices="order.invoices"
      @changed="received"
    />
    <StockPostings :postings="order.postings" @reversed="received" />
    <PurchasingInvoice v-if="invoicing" :order="order" @done="received" @close="invoicing = false" />
    <PurchasingReceive v-if="receiving" :order="order" @done="received" @close="receiving = false" />
  </div>
</template>
