<script setup lang="ts">
import type { OrderLine } from '~/components/demand/OrderLines.vue'
import { isPartlyForOthers, missingOf } from '~/composables/demand/line-cover'
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { asTyped, day, digits, isPast, price } = usePrint()
const { data: order, refresh } = orNotFound(await useFetch(() => `/api/demand/orders/${id.value}`))
/** The lines that are being changed. */
const editing = ref<OrderLine[] | null>(null)
const { busy, detail, run } = useAct()
useHead({ title: () => `${order.value?.number} · Tsumiki` })

type Line = NonNullable<typeof order.value>['lines'][number]
const isShort = computed(
  () => order.value?.status === 'open' && order.value.lines.some((line) => missingOf(line) !== '0'),
)
const openLines = computed(
  () =>
    order.value?.lines.map((line) => ({ itemId: line.itemId, quantity: asTyped(line.entered), unit: line.unit })) ?? [],
)
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item' },
  { key: 'entered', name: 'Ordered', kind: 'quantity', unit: 'enteredIn', width: 130 },
  { key: 'price', name: 'Price', kind: 'price', width: 100 },
  { key: 'shipped', name: 'Shipped', kind: 'quantity', unit: 'symbol', width: 110 },
  { key: 'allocated', name: 'Allocated', kind: 'quantity', unit: 'symbol', width: 130 },
  { key: 'free', name: 'Free now', kind: 'quantity', unit: 'symbol', width: 150 },
  { key: 'missing', name: 'Missing', kind: 'quantity', unit: 'symbol', width: 170 },
]
const orderLines = computed(() =>
  (order.value?.lines ?? []).map((line) => ({
    ...line,
    enteredIn: references.symbol(line.unit),
    missing: missingOf(line),
  })),
)

/** The line of which what is missing is bought for this order. */
const buying = ref<((typeof orderLines.value)[number] & { readonly wanted: string }) | null>(null)
/** What the promise finds missing of a line can be bought for it, until that is on its way. */
function isToBeBought({ missing, source }: { readonly missing: string; readonly source: string }, at: number): boolean {
  const line = orderLines.value[at]
  return (
    missing !== '0' &&
    source === 'bought' &&
    session.allows('demand') &&
    line !== undefined &&
    !line.isToBuy &&
    line.purchases.length === 0
  )
}
async function bought(): Promise<void> {
  buying.value = null
  await refresh()
}
/** Makes what is missing of a line, for this order. */
async function build(line: Line): Promise<void> {
  const made = await run((key) =>
    $fetch('/api/workshop/builds', {
      method: 'POST',
      body: {
        key,
        itemId: line.itemId,
        quantity: `${asTyped(missingOf(line))} ${line.symbol}`,
        unit: line.unit,
        dueOn: order.value!.dueOn,
        salesLineId: line.id,
      },
    }),
  )
  if (!made) {
    return
  }
  notices.say({ kind: 'done', text: `${made.number} is planned for ${order.value!.number}.` })
  void refreshToday()
  await navigateTo(`/workshop/builds/${made.id}`)
}
async function edit(): Promise<void> {
  editing.value = await Promise.all(
    order.value!.lines.map(async (line) => ({
      id: line.id,
      itemId: line.itemId,
      shown: { id: line.itemId, code: line.code, name: line.name },
      measured: await fetchMeasured(line.itemId),
      quantity: asTyped(line.entered),
      unit: line.unit,
      price: line.price,
    })),
  )
}
async function changed(): Promise<void> {
  editing.value = null
  await refresh()
}
async function editAnew(): Promise<void> {
  await changed()
  await edit()
}
const cancelling = ref(false)
const isEnded = computed(() => ['cancelled', 'closed short'].includes(order.value?.status ?? ''))
async function end(how: 'cancel' | 'reopen'): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/demand/orders/${id.value}/${how}`, { method: 'POST', body: { key, version: order.value!.version } }),
  )
  if (!done) {
    return
  }
  cancelling.value = false
  notices.say({ kind: 'done', text: `${order.value!.number} is ${done.status}.` })
  void refreshToday()
  await refresh()
}
</script>

<template>
  <div v-if="order">
    <UiHead
      :title="`${order.number}  ${order.customer}`"
      :summary="
        [
          `Ordered ${day(order.orderedOn)}`,
          order.outsideRef,
          order.site && `filled from ${order.site}`,
          order.priority !== 0 && `priority ${order.priority}`,
          order.note,
        ]
          .filter(Boolean)
          .join(' · ')
      "
    >
      <span :class="order.status === 'open' && isPast(order.dueOn) ? 'font-semibold text-brick' : 'font-semibold'"
        >due {{ day(order.dueOn) }}</span
      >
      <UiTag v-if="order.status !== 'open'" :tone="isEnded ? 'plain' : 'good'">{{ order.status }}</UiTag>
      <UiButton v-if="order.status === 'open' && !editing && session.allows('demand')" @click="edit"
        >Change the order</UiButton
      >
      <UiButton v-if="order.status === 'open' && !editing && session.allows('demand')" @click="cancelling = true"
        >Cancel the order</UiButton
      >
      <UiButton v-if="isEnded && session.allows('demand')" :busy="busy" @click="end('reopen')"
        >Reopen the order</UiButton
      >
      <UiButton v-if="isShort" primary @click="navigateTo('/planning')">See the plan for what is missing</UiButton>
      <UiButton v-else-if="order.status === 'open'" primary @click="navigateTo(`/dispatch/${order.id}`)"
        >Allocate and ship</UiButton
      >
    </UiHead>
    <p v-if="order.outsideLimits.length > 0" class="mb-3 text-soft">
      Sold outside the allowed prices: {{ order.outsideLimits.join(' ') }}
    </p>
    <UiProblem v-if="!editing" :text="cancelling ? '' : detail" class="mb-3" />
    <UiDialog
      v-model="cancelling"
      :title="`Cancel ${order.number}?`"
      act="Cancel the order"
      :busy="busy"
      :problem="detail"
      @act="end('cancel')"
    >
      <p>
        {{
          order.lines.some((line) => line.shipped !== '0')
            ? 'What was shipped stays shipped; the rest is wanted no more.'
            : 'Nothing of it is wanted any more.'
        }}
        What is allocated to it is free again. It can be opened again later.
      </p>
    </UiDialog>
    <DemandEditOrder
      v-if="editing"
      :order="order"
      :lines="editing"
      @saved="changed"
      @close="editing = null"
      @reload="editAnew"
    />
    <UiSheet v-else flush class="mb-4">
      <UiDataTable
        list="sales order lines"
        is-embedded
        :is-plain="orderLines.length < LINES_WITH_TOOLS"
        :columns="COLUMNS"
        :rows="orderLines"
        label="Order lines"
      >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #entered="{ row }"
          ><UiQty strong :of="row.entered" :unit="row.enteredIn" /><span
            v-if="row.entered !== row.quantity"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></template>
        <template #price="{ row }">{{ price(row.price) }}</template>
        <template #shipped="{ row }"
          ><UiQty v-if="row.shipped !== '0'" :of="row.shipped" :unit="row.symbol"
        /></template>
        <template #allocated="{ row }"
          ><span v-if="row.allocated !== '0'" class="inline-flex items-center gap-2"
            ><GoodsBlock state="allocated" class="h-3 w-5 border" /><UiQty
              :of="row.allocated"
              :unit="row.symbol" /></span
        ></template>
        <template #free="{ row }"
          ><UiQty :of="row.free" :unit="row.symbol" /><span
            v-if="order.status === 'open' && isPartlyForOthers(row)"
            class="block text-fine text-soft"
            >{{ digits(row.got) }} after earlier orders</span
          ></template
        >
        <template #missing="{ row }"
          ><span
            v-if="order.status === 'open' && row.missing !== '0'"
            class="inline-flex items-center gap-2 font-semibold text-brick"
            data-test="missing"
            ><GoodsBlock state="missing" class="h-3 w-5 border" /><UiQty :of="row.missing" :unit="row.symbol" /></span
          ><span v-for="job in row.builds" :key="job.id" class="block text-fine"
            ><NuxtLink :to="`/workshop/builds/${job.id}`" class="underline">{{ job.number }}</NuxtLink> is to make
            it</span
          ><span v-for="purchase in row.purchases" :key="purchase.id" class="block text-fine"
            ><NuxtLink :to="`/purchasing/${purchase.id}`" class="underline">{{ purchase.number }}</NuxtLink> brings it
            on {{ day(purchase.dueOn) }}</span
          ><span v-if="row.isToBuy" class="block text-fine"
            >on the <NuxtLink to="/purchasing?tab=list" class="underline">buying list</NuxtLink></span
          ><span
            v-if="
              order.status === 'open' &&
              row.missing !== '0' &&
              row.builds.length === 0 &&
              ['made', 'kit'].includes(row.source) &&
              session.allows('make')
            "
            class="block"
            ><UiButton small :busy="busy" @click="build(row)">Build it</UiButton></span
          ></template
        >
      </UiDataTable>
    </UiSheet>
    <DemandPromise
      v-if="order.status === 'open' && !editing && openLines.length"
      :key="order.version"
      class="mb-4"
      :lines="openLines"
      :due-on="order.dueOn"
      :order-id="order.id"
    >
      <template #act="{ line, at }">
        <UiButton v-if="isToBeBought(line, at)" small @click="buying = { ...orderLines[at]!, wanted: line.missing }"
          >Buy it for this order</UiButton
        >
      </template>
    </DemandPromise>
    <PurchasingWant
      v-if="buying"
      :begin="{
        itemId: buying.itemId,
        code: buying.code,
        quantity: asTyped(buying.wanted),
        unit: buying.stockUnit,
        neededOn: order.dueOn,
        salesLineId: buying.id,
        order: order.number,
      }"
      @done="bought"
      @close="buying = null"
    />
    <StockPostings :postings="order.postings" @reversed="refresh()" />
  </div>
</template>
