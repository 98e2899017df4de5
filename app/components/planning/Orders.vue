<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import type { WhatIfEdit } from '~~/shared/planning/requests'
import {
  blockOf,
  compareOrders,
  DOCUMENT_PATH,
  ORDER_VERB,
  sourceOf,
  type PlannedOrder,
} from '~/composables/planning/planned-orders'

const props = defineProps<{
  plan: {
    id: number
    kind: string
    version: number
    orders: readonly PlannedOrder[]
    changes: WhatIfEdit[]
    items: Record<string, { code: string; symbol: string; step: string; site: string | null }>
  }
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notices = useNotices()
const { day, isPast } = usePrint()
const kind = ref('')
const list = useTemplateRef('list')
const why = ref<PlannedOrder | null>(null)
// Computed anew, the orders are others.
watch(
  () => props.plan.version,
  () => {
    list.value?.clear()
  },
)
const asking = ref(false)
const editing = ref<PlannedOrder | null>(null)
const group = ref<'' | 'supplier' | 'code'>('')
async function free(order: PlannedOrder): Promise<void> {
  if (
    !(await run((key) =>
      $fetch(`/api/planning/plans/${props.plan.id}/orders/${order.id}`, {
        method: 'PUT',
        body: {
          key,
          version: props.plan.version,
          free: true,
          quantity: order.quantity,
          dueOn: order.dueOn,
          supplierId: order.supplierId,
        },
      }),
    ))
  ) {
    return
  }
  notices.say({ kind: 'done', text: `${order.code} may change again; the plan is computed anew.` })
  emit('changed')
}
const { detail, run } = useAct()

const shown = computed(() =>
  [...props.plan.orders]
    .sort((a, b) => compareOrders(group.value, a, b))
    .filter((order) => kind.value === '' || order.kind === kind.value),
)
const picked = ref<readonly PlannedOrder[]>([])
function ask(orders: readonly PlannedOrder[]): void {
  picked.value = orders
  asking.value = true
}
const labelOf = (count: number): string => `Release ${count} ${plural(count, 'order', 'orders')}`

function released(): void {
  list.value?.clear()
  emit('changed')
}
const promiseOf = (order: PlannedOrder): string => {
  if (order.state === 'released') {
    return order.documentNumber ?? ''
  }
  return order.lateBy > 0
    ? `${day(order.promisedOn)}, ${order.lateBy} ${plural(order.lateBy, 'day', 'days')} late`
    : 'in time'
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'kind', name: 'What', width: 120, text: (order: PlannedOrder) => ORDER_VERB[order.kind] ?? order.kind },
  { key: 'code', name: 'Item', isFixed: true, text: (order: PlannedOrder) => `${order.code} ${order.name}` },
  { key: 'quantity', name: 'Quantity', kind: 'quantity', unit: 'symbol', width: 165 },
  { key: 'supplier', name: 'From', width: 150, text: (order: PlannedOrder) => sourceOf(order) },
  { key: 'releaseOn', name: 'Release', kind: 'day', width: 80 },
  { key: 'dueOn', name: 'Due', kind: 'day', width: 80 },
  { key: 'lateBy', name: 'Promise', width: 170, text: promiseOf },
  { key: 'act', name: '', isAct: true, width: 190 },
]
</script>

<template>
  <div>
    <UiSheet flush>
      <UiDataTable
        ref="list"
        list="planned orders"
        label="Planned orders"
        search-label="Filter items and suppliers"
        is-choosable
        is-embedded
        :can-choose="(row) => row.state !== 'released'"
        :choose-label="(row) => `Choose ${ORDER_VERB[row.kind]} ${row.code} due ${row.dueOn}`"
        :columns="COLUMNS"
        :rows="shown"
        :open="
          (row) => {
            if (row.state !== 'released') why = row
          }
        "
        :muted="(row) => row.state === 'released'"
      >
        <template #filters>
          <UiChoice
            v-model="kind"
            label="Kind"
            hide-label
            :options="[
              { value: '', name: 'Everything' },
              { value: 'buy', name: 'Buy' },
              { value: 'make', name: 'Build' },
              { value: 'break down', name: 'Break down' },
              { value: 'move', name: 'Move' },
            ]"
          />
          <UiChoice
            v-model="group"
            label="Order of rows"
            hide-label
            :options="[
              { value: '', name: 'by release date' },
              { value: 'supplier', name: 'by supplier' },
              { value: 'code', name: 'by item' },
            ]"
          />
        </template>
        <template v-if="plan.kind === 'trial'" #tools
          ><span class="text-soft">A trial plan releases nothing.</span></template
        >
        <template #acts="{ chosen }"
          ><UiButton v-if="plan.kind === 'working' && session.allows('plan')" primary @click="ask(chosen)">{{
            labelOf(chosen.length)
          }}</UiButton></template
        >
        <template #kind="{ row }"
          ><span class="flex items-center gap-2"
            ><GoodsBlock
              :state="row.state === 'released' ? blockOf(row) : `${blockOf(row)} planned`"
              class="h-3.5 w-6"
            />{{ ORDER_VERB[row.kind] }}</span
          ></template
        >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><GoodsOrdered :of="row.quantity" :unit="row.symbol" :in-unit="row.inUnit"
            ><UiTag v-if="row.state === 'fixed'" class="ml-2">fixed</UiTag></GoodsOrdered
          ></template
        >
        <template #supplier="{ row }">{{ sourceOf(row) }}</template>
        <template #releaseOn="{ row }"
          ><span :class="isPast(row.releaseOn) && 'text-brick'">{{ day(row.releaseOn) }}</span></template
        >
        <template #lateBy="{ row }"
          ><span v-if="row.state !== 'released' && row.lateBy > 0" class="font-medium text-brick"
            >{{ day(row.promisedOn) }}, {{ row.lateBy }} {{ plural(row.lateBy, 'day', 'days') }} late</span
          ><span v-else-if="row.state !== 'released'" class="text-soft">in time</span></template
        >
        <template #act="{ row }"
          ><span v-if="row.state !== 'released'" class="flex justify-end gap-1"
            ><UiButton
              v-if="session.allows('plan')"
              small
              :aria-label="`Change ${ORDER_VERB[row.kind]} ${row.code} due ${row.dueOn}`"
              @click="editing = row"
              >Change</UiButton
            ><UiButton v-if="session.allows('plan') && row.state === 'fixed'" small @click="free(row)">Unfix</UiButton
            ><UiButton small @click="why = row">Why?</UiButton></span
          ><NuxtLink
            v-else
            :to="`${DOCUMENT_PATH[row.documentKind!]}/${row.documentId}`"
            class="font-medium underline"
            >{{ row.documentNumber }}</NuxtLink
          ></template
        >
        <template #empty
          ><UiEmptyState title="No planned orders" summary="Nothing has to be bought or made within this plan."
        /></template>
      </UiDataTable>
    </UiSheet>
    <PlanningWhy v-if="why" :key="why.id" :plan-id="plan.id" :order="why" @close="why = null" />
    <Suspense v-if="editing"
      ><PlanningEditOrder
        :key="editing.id"
        :order="editing"
        :plan="plan"
        @close="editing = null"
        @done="
          () => {
            editing = null
            emit('changed')
          }
        "
    /></Suspense>
    <UiProblem v-if="!asking" :text="detail" class="mt-2" />
    <PlanningReleaseOrders
      v-model="asking"
      :plan="plan"
      :orders="picked"
      :label="labelOf(picked.length)"
      @released="released"
    />
  </div>
</template>
