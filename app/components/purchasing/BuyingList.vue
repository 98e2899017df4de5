<script setup lang="ts">
import type { BuyingList, NeedRow, OfferRow } from '~~/shared/purchasing/buying'
import type { DataColumn } from '~/composables/ui/data-column'
import type { AskedLine } from './AskForQuotations.vue'
import type { ChosenOffer } from '~/composables/purchasing/chosen-offers'

/** Everything that wants buying; each line with the supplier that is proposed, and all of them behind it. */
const route = useRoute()
const session = useSession()
const notices = useNotices()
const { day, price, money, isPast, amount } = usePrint()
const { data, error, refresh } = await useFetch<BuyingList>('/api/purchasing/buying', { key: 'buying-list' })
/** More for one order of one supplier: only what they sell is listed. */
const topping = computed(() => ({
  supplier: route.query.supplier ? Number(route.query.supplier) : null,
  order: route.query.order ? Number(route.query.order) : null,
}))
const needs = computed(() =>
  (data.value?.needs ?? []).filter(
    ({ offers }) =>
      topping.value.supplier === null || offers.some(({ supplierId }) => supplierId === topping.value.supplier),
  ),
)
/** What somebody chose instead of what is proposed, by need: one supplier or several. */
const chosen = ref<Readonly<Record<string, readonly ChosenOffer[]>>>({})
const offersOf = (need: NeedRow): readonly ChosenOffer[] =>
  chosen.value[need.id] ?? proposedOffers(need, topping.value.supplier)
const shownOffer = (need: NeedRow): OfferRow | undefined => offersOf(need)[0]?.offer

const looking = ref<NeedRow | null>(null)
const noting = ref(false)
const ordering = ref<readonly NeedRow[] | null>(null)
const asking = ref<readonly NeedRow[] | null>(null)
/** Whoever sells any of what is asked for is proposed to be asked. */
const askedSuppliers = computed(() => [
  ...new Set(asking.value?.flatMap(({ offers }) => offers.map(({ supplierId }) => supplierId))),
])
const list = useTemplateRef<{ clear: () => void }>('list')
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item', width: 215, isFixed: true, text: (row: NeedRow) => `${row.code} ${row.name}` },
  { key: 'quantity', name: 'Wanted', kind: 'quantity', unit: 'symbol', width: 105 },
  { key: 'neededOn', name: 'Needed by', kind: 'day', width: 90 },
  { key: 'orderBy', name: 'Order by', kind: 'day', width: 90 },
  { key: 'why', name: 'For', width: 125 },
  { key: 'supplier', name: 'Supplier', width: 180, text: (row: NeedRow) => supplierText(row) },
  { key: 'buys', name: 'Buys', width: 90, text: (row: NeedRow) => buysText(row) },
  {
    key: 'arrives',
    name: 'There on',
    kind: 'day',
    width: 85,
    text: (row: NeedRow) => shownOffer(row)?.arrivesOn ?? '',
  },
  { key: 'price', name: 'Each', width: 85, isCost: true, text: (row: NeedRow) => priceText(row) },
  { key: 'total', name: 'Costs', kind: 'money', width: 85, isCost: true, text: (row: NeedRow) => totalOf(row) },
]
const supplierText = (need: NeedRow): string => {
  const names = offersOf(need).map(({ offer }) => offer.supplier)
  return names.length === 0 ? 'nobody sells it' : names.join(' and ')
}
const buysText = (need: NeedRow): string =>
  offersOf(need)
    .map(({ offer, quantity }) => `${amount(quantity, 4)} ${offer.symbol}`)
    .join(' and ')
const priceText = (need: NeedRow): string => {
  const offer = shownOffer(need)
  return offer ? price(offer.price, offer.currency) : ''
}
const totalOf = (need: NeedRow): string =>
  offersOf(need)
    .reduce((sum, { offer }) => sum + BigInt(offer.total ?? '0'), 0n)
    .toString()

function take(need: NeedRow, offers: readonly ChosenOffer[]): void {
  chosen.value = { ...chosen.value, [need.id]: offers }
  looking.value = null
}
async function drop(need: NeedRow): Promise<void> {
  await $fetch(`/api/purchasing/buying/wants/${need.wantId}`, { method: 'DELETE' })
  notices.say({ kind: 'done', text: `${need.code} is off the list.` })
  looking.value = null
  await refresh()
}
/** What is asked for is what is wanted, in the unit of who is proposed; their minimum is theirs to say. */
function askedLine(need: NeedRow): AskedLine {
  const offer = shownOffer(need)
  const { itemId, code, name, neededOn, wantId } = need
  return {
    itemId,
    code,
    name,
    neededOn,
    wantId,
    quantity: offer?.wanted ?? need.quantity,
    unit: offer?.unit ?? '',
  }
}
async function done(): Promise<void> {
  ordering.value = null
  noting.value = false
  chosen.value = {}
  list.value?.clear()
  await refresh()
  void refreshToday()
}
const topped = computed(() => data.value?.suppliers.find(({ id }) => id === topping.value.supplier))
const toppedDraft = computed(() => topped.value?.drafts.find(({ id }) => id === topping.value.order))
</script>

<template>
  <div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <p v-if="topped && toppedDraft" class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2" data-test="topping">
      <span
        >What {{ topped.name }} also sells, for <b class="font-semibold">{{ toppedDraft.number }}</b>.<template
          v-if="session.allows('costs')"
        >
          {{ price(toppedDraft.total ?? '0', topped.currency) }} stand on it{{ ''
          }}<template v-if="topped.minimumOrder"
            >; an order is worth at least {{ price(topped.minimumOrder, topped.currency) }}</template
          ><template v-if="topped.freeFreight"
            >; freight is free from {{ price(topped.freeFreight, topped.currency) }}</template
          >.</template
        ></span
      >
      <NuxtLink :to="`/purchasing/${toppedDraft.id}`" class="underline">Back to {{ toppedDraft.number }}</NuxtLink>
      <NuxtLink to="/purchasing?tab=list" class="underline">The whole list</NuxtLink>
    </p>
    <UiSheet flush>
      <UiDataTable
        ref="list"
        list="buying"
        label="Buying list"
        search-label="Filter item, supplier or order"
        :columns="COLUMNS"
        :rows="needs"
        :is-choosable="session.allows('buy')"
        :choose-label="(row) => `Choose ${row.code}`"
        :open="(row) => (looking = row)"
      >
        <template #tools
          ><UiButton
            v-if="session.allows('buy') || session.allows('make') || session.allows('stock')"
            @click="noting = true"
            >Write something down</UiButton
          ></template
        >
        <template #acts="{ chosen: rows }"
          ><UiButton @click="asking = rows">Ask for quotations</UiButton
          ><UiButton
            primary
            :disabled="rows.every(({ offers }) => offers.length === 0)"
            @click="ordering = rows.filter(({ offers }) => offers.length > 0)"
            >Order {{ rows.filter(({ offers }) => offers.length > 0).length }}</UiButton
          ></template
        >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #orderBy="{ row }"
          ><span :class="isPast(row.orderBy) && 'font-semibold text-brick'">{{ day(row.orderBy) }}</span></template
        >
        <template #why="{ row }"
          ><NuxtLink v-if="row.salesOrderId" :to="`/demand/orders/${row.salesOrderId}`" class="underline">{{
            row.why
          }}</NuxtLink
          ><template v-else>{{ row.why }}</template></template
        >
        <template #supplier="{ row }"
          ><span :class="row.offers.length === 0 && 'text-brick'">{{ supplierText(row) }}</span
          ><span v-if="row.offers.length > 1" class="text-soft"> of {{ row.offers.length }}</span></template
        >
        <template #arrives="{ row }"
          ><span
            v-if="shownOffer(row)"
            :class="shownOffer(row)!.arrivesOn > row.neededOn && 'font-semibold text-brick'"
            >{{ day(shownOffer(row)!.arrivesOn) }}</span
          ></template
        >
        <template #total="{ row }">{{ money(totalOf(row)) }}</template>
        <template #empty
          ><UiEmptyState
            title="Nothing wants buying"
            summary="What the working plan proposes to buy, what runs low, and what somebody wrote down stands here."
            ><UiButton v-if="!data?.planId" @click="navigateTo('/planning')">Go to Plan</UiButton></UiEmptyState
          ></template
        >
      </UiDataTable>
    </UiSheet>
    <PurchasingOffers
      v-if="looking"
      :key="looking.id"
      :need="looking"
      :chosen="offersOf(looking)"
      @take="take(looking!, $event)"
      @drop="drop(looking!)"
      @close="looking = null"
    />
    <PurchasingWant v-if="noting" @done="done" @close="noting = false" />
    <PurchasingAskForQuotations
      v-if="asking"
      :lines="asking.map(askedLine)"
      :supplier-ids="askedSuppliers"
      :site-id="asking[0]?.siteId"
      @done="(id) => navigateTo(`/purchasing/quotations/${id}`)"
      @close="asking = null"
    />
    <PurchasingOrderNeeds
      v-if="ordering && data"
      :needs="ordering"
      :offers-of="offersOf"
      :suppliers="data.suppliers"
      :order-id="topping.order"
      @done="done"
      @close="ordering = null"
    />
  </div>
</template>
