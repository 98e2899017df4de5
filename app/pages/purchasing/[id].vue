<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import type { ReturnableLine } from '~~/shared/purchasing/answers'
import type { OrderLine } from '~/components/demand/OrderLines.vue'
import type { PurchaseDialog } from '~/components/purchasing/Acts.vue'
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const { asTyped, day, digits, isPast, price, money } = usePrint()
const { data: order, refresh } = orNotFound(await useFetch(() => `/api/purchasing/orders/${id.value}`))
/** What is being done with the order, in a dialog of its own. */
const doing = ref<PurchaseDialog | null>(null)
/** The lines that are being changed. */
const editing = ref<OrderLine[] | null>(null)
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
        doing.value = order.value!.directOrder ? 'deliver' : 'receive'
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
async function changed(): Promise<void> {
  doing.value = null
  editing.value = null
  void refreshToday()
  await refresh()
}
async function edit(): Promise<void> {
  editing.value = await Promise.all(
    order
      .value!.lines.filter((line) => line.replacesLineId === null)
      .map(async (line) => ({
        id: line.id,
        itemId: line.itemId,
        shown: { id: line.itemId, code: line.code, name: line.name },
        measured: await fetchMeasured(line.itemId),
        quantity: asTyped(line.entered),
        unit: line.unit,
        price: line.listPrice ?? line.price,
        discount: asTyped(line.discountPercent ?? ''),
        dueOn: line.dueOn,
      })),
  )
}
/** What could go back, once somebody asks. */
const returnable = ref<ReturnableLine[] | null>(null)
async function beginReturn(): Promise<void> {
  const found = await $fetch<ReturnableLine[]>(`/api/purchasing/orders/${id.value}/returnable`)
  returnable.value = found
  if (found.length > 0) {
    doing.value = 'return'
  } else {
    useNotices().say({ kind: 'problem', text: 'All that came of this order has gone back already.' })
  }
}
function begin(what: PurchaseDialog | 'edit'): void {
  if (what === 'edit') {
    void edit()
  } else if (what === 'return') {
    void beginReturn()
  } else {
    doing.value = what
  }
}
async function editAnew(): Promise<void> {
  await changed()
  await edit()
}
const summary = computed(() => {
  const of = order.value!
  return [
    `Ordered ${day(of.orderedOn)}${session.allows('costs') ? `, ${money(of.total, of.currency)}${of.currency ? ` at ${of.rate} to one ${of.currency}` : ''}` : ''}`,
    of.supplierReference && `their number ${of.supplierReference}`,
    session.allows('costs') && of.charges.map((charge) => `${charge.name} ${digits(charge.amount)}`).join(', '),
    of.directOrder ? `delivered directly to ${of.directOrder.customer}` : of.deliverTo && `deliver to ${of.deliverTo}`,
    of.deliveryTerms,
    of.paymentTerms,
    of.approvedBy && `approved by ${of.approvedBy}`,
    of.note,
  ]
    .filter(Boolean)
    .join(' · ')
})
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item' },
  { key: 'entered', name: 'Ordered', kind: 'quantity', unit: 'enteredIn', width: 130 },
  { key: 'price', name: 'Price', kind: 'price', width: 130, isCost: true },
  { key: 'value', name: 'Amount', kind: 'money', width: 110, isCost: true },
  { key: 'dueOn', name: 'Due', kind: 'day', width: 130 },
  { key: 'received', name: 'Received', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'open', name: 'To come', kind: 'quantity', unit: 'symbol', width: 140 },
  { key: 'close', name: '', isAct: true, width: 115 },
]
/** What a line sells for at its customer, and what of that is left. */
function marginText({ forOrder, price: cost }: Line): string {
  const sells = ratio(forOrder!.price)
  if (sells.equals(0)) {
    return ''
  }
  const margin = sells.sub(ratio(cost).mul(ratio(order.value!.rate))).div(sells)
  return `: sells at ${price(forOrder!.price)}, margin ${Math.round(margin.valueOf() * 100)} %`
}
/** The stock unit of what a line came instead of. */
const replacedUnit = (line: Line): string =>
  order.value!.lines.find((entry) => entry.id === line.replacesLineId)?.symbol ?? ''
/** What of a line went back for good; what was returned for a replacement counts as not received. */
const returnedOf = (lineId: number): string =>
  sumOf(
    (order.value?.returns ?? [])
      .filter((row) => row.lineId === lineId && row.expects !== 'replacement' && !row.isReversed)
      .map((row) => row.quantity),
  )
const lines = computed(() =>
  (order.value?.lines ?? []).map((line) => ({
    ...line,
    enteredIn: references.symbol(line.unit),
    open: line.closedShort ? '0' : openOf(line),
    returned: returnedOf(line.id),
  })),
)
</script>

<template>
  <div v-if="order">
    <UiHead :title="`${order.number}  ${order.supplier}`" :summary="summary">
      <template #title
        >{{ order.number }}{{ '  '
        }}<NuxtLink :to="`/purchasing/suppliers/${order.supplierId}`" class="hover:underline">{{
          order.supplier
        }}</NuxtLink></template
      >
      <PurchasingActs
        :order="order"
        :is-open="Boolean(isOpen)"
        :is-editing="editing !== null"
        @begin="begin"
        @changed="changed"
      />
    </UiHead>
    <UiProblem :text="doing ? '' : detail" class="mb-3" />
    <p v-if="session.allows('costs') && order.kept.length > 0" class="mb-3 text-soft">
      Entered all the same, against the terms: {{ order.kept.join(' ') }}
    </p>
    <PurchasingChangeOrder
      v-if="editing"
      :order="order"
      :lines="editing"
      @saved="changed"
      @close="editing = null"
      @reload="editAnew"
    />
    <UiSheet v-else flush class="mb-4">
      <UiDataTable
        list="purchase order lines"
        is-embedded
        :is-plain="lines.length < LINES_WITH_TOOLS"
        :columns="COLUMNS"
        :rows="lines"
        label="Order lines"
        :muted="(row) => row.closedShort"
      >
        <template #code="{ row }"
          ><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /><span
            v-if="row.replaces"
            class="block text-fine text-soft"
            data-test="replaces"
            >instead of <UiQty :of="row.replacedQuantity!" :unit="replacedUnit(row)" /> {{ row.replaces }}</span
          ><span v-if="row.blanket" class="block text-fine text-soft"
            >from
            <NuxtLink :to="`/purchasing/blankets/${row.blanket.id}`" class="underline">{{
              row.blanket.number
            }}</NuxtLink></span
          ><span v-if="row.forOrder" class="block text-fine text-soft" data-test="for-order"
            >for
            <NuxtLink :to="`/demand/orders/${row.forOrder.id}`" class="underline">{{ row.forOrder.number }}</NuxtLink>
            {{ row.forOrder.customer }}<template v-if="session.allows('costs')">{{ marginText(row) }}</template></span
          ></template
        >
        <template #entered="{ row }"
          ><UiQty strong :of="row.entered" :unit="row.enteredIn" /><span
            v-if="row.unit !== row.stockUnit"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
          ><span v-if="row.asked && row.asked.entered !== row.entered" class="block text-fine text-soft"
            >asked for {{ digits(row.asked.entered) }}</span
          ></template
        >
        <template #price="{ row }"
          >{{ price(row.price, order.currency) }} <span class="text-soft">/ {{ row.enteredIn }}</span
          ><span v-if="row.discountPercent" class="block text-fine text-soft"
            >{{ price(row.listPrice!, order.currency) }} less {{ digits(row.discountPercent) }} %</span
          ><span v-if="row.asked && row.asked.price !== row.price" class="block text-fine text-soft"
            >asked for {{ price(row.asked.price, order.currency) }}</span
          ></template
        >
        <template #value="{ row }">{{ money(row.value, order.currency) }}</template>
        <template #dueOn="{ row }"
          ><span :class="row.open !== '0' && isPast(row.dueOn) && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span
          ><span v-if="row.asked && row.asked.dueOn !== row.dueOn" class="block text-fine text-soft"
            >asked for {{ day(row.asked.dueOn) }}</span
          ><span v-else-if="row.confirmedOn" class="block text-fine text-soft">confirmed</span></template
        >
        <template #received="{ row }"
          ><UiQty v-if="row.received !== '0'" :of="row.received" :unit="row.symbol" /><span
            v-if="row.returned !== '0'"
            class="block text-fine text-soft"
            ><UiQty :of="row.returned" :unit="row.symbol" /> returned</span
          ></template
        >
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
      :supplier="order.supplier"
      @changed="changed"
    />
    <PurchasingReturns
      v-if="order.returns.length"
      class="mb-4"
      :returns="order.returns"
      :currency="order.currency"
      @changed="changed"
    />
    <PurchasingLetters
      v-if="order.letters.length"
      class="mb-4"
      :order-id="order.id"
      :letters="order.letters"
      @changed="refresh()"
    />
    <StockPostings :postings="order.postings" @reversed="changed" />
    <PurchasingInvoice
      v-if="doing === 'invoice' || doing === 'charges'"
      :kind="doing === 'invoice' ? 'goods' : 'charges'"
      :order="order"
      @done="changed"
      @close="doing = null"
    />
    <PurchasingReturn
      v-if="doing === 'return' && returnable?.length"
      :order="order"
      :returnable="returnable"
      @done="changed"
      @close="doing = null"
    />
    <PurchasingCreditNote v-if="doing === 'credit'" :order="order" @done="changed" @close="doing = null" />
    <PurchasingDeliverDirect v-if="doing === 'deliver'" :order="order" @done="changed" @close="doing = null" />
    <PurchasingReceive v-if="doing === 'receive'" :order="order" @done="changed" @close="doing = null" />
    <PurchasingSend v-if="doing === 'send'" :order="order" @done="changed" @close="doing = null" />
    <PurchasingStandIn v-if="doing === 'stand-in'" :order="order" @close="doing = null" />
    <PurchasingConfirm v-if="doing === 'confirm'" :order="order" @done="changed" @close="doing = null" />
  </div>
</template>
