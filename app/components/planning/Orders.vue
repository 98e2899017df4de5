<script setup lang="ts">
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
const search = ref('')
const kind = ref('')
// A list of thousands is looked through by filtering: more are drawn when they are asked for.
const STEP = 200
const most = ref(STEP)
watch([search, kind], () => {
  most.value = STEP
})
const chosen = ref(new Set<number>())
const why = ref<number | null>(null)
// Computed anew, the orders are others.
watch(
  () => props.plan.version,
  () => {
    chosen.value = new Set()
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
    .filter(
      (order) =>
        (kind.value === '' || order.kind === kind.value) &&
        `${order.code} ${order.name} ${sourceOf(order)}`.toLowerCase().includes(search.value.toLowerCase()),
    ),
)
const open = computed(() => shown.value.filter((order) => order.state !== 'released'))
const picked = computed(() => props.plan.orders.filter((order) => chosen.value.has(order.id)))
const allShown = computed({
  get: () => open.value.length > 0 && open.value.every((order) => chosen.value.has(order.id)),
  set: (all) => {
    chosen.value = new Set(
      all
        ? [...chosen.value, ...open.value.map((o) => o.id)]
        : [...chosen.value].filter((id) => !open.value.some((o) => o.id === id)),
    )
  },
})
function pick(id: number): void {
  const next = new Set(chosen.value)
  if (!next.delete(id)) {
    next.add(id)
  }
  chosen.value = next
}
const label = computed(() => `Release ${picked.value.length} ${plural(picked.value.length, 'order', 'orders')}`)

function released(): void {
  chosen.value = new Set()
  emit('changed')
}
const COLUMNS = [
  { key: 'pick', name: '' },
  { key: 'act', name: 'What' },
  { key: 'code', name: 'Item' },
  { key: 'quantity', name: 'Quantity', right: true },
  { key: 'supplier', name: 'From' },
  { key: 'releaseOn', name: 'Release' },
  { key: 'dueOn', name: 'Due' },
  { key: 'late', name: 'Promise' },
  { key: 'why', name: '' },
]
</script>

<template>
  <div>
    <UiSheet flush>
      <div class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
        <UiSearch v-model="search" label="Filter items and suppliers" />
        <FormSelect
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
        <FormSelect
          v-model="group"
          label="Order of rows"
          hide-label
          :options="[
            { value: '', name: 'by release date' },
            { value: 'supplier', name: 'by supplier' },
            { value: 'code', name: 'by item' },
          ]"
        />
        <label class="flex items-center gap-2"
          ><input v-model="allShown" type="checkbox" class="size-4 accent-[var(--maple)]" /> all
          {{ open.length }} shown</label
        >
        <a v-if="plan.kind === 'working'" href="/api/export/planned-orders" class="text-soft underline" download
          >Export CSV</a
        >
        <span class="flex-1" />
        <span v-if="plan.kind === 'trial'" class="text-soft">A trial plan releases nothing.</span>
        <UiButton v-else-if="session.allows('plan')" primary :disabled="picked.length === 0" @click="asking = true">{{
          label
        }}</UiButton>
      </div>
      <UiTable
        :columns="COLUMNS"
        :rows="shown.slice(0, most)"
        label="Planned orders"
        :open="
          (row) => {
            if (row.state !== 'released') why = row.id
          }
        "
        :muted="(row) => row.state === 'released'"
      >
        <template #pick="{ row }"
          ><input
            v-if="row.state !== 'released'"
            type="checkbox"
            class="size-4 accent-[var(--maple)]"
            :checked="chosen.has(row.id)"
            :aria-label="`Choose ${ORDER_VERB[row.kind]} ${row.code} due ${row.dueOn}`"
            @change="pick(row.id)"
        /></template>
        <template #act="{ row }"
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
        <template #dueOn="{ row }">{{ day(row.dueOn) }}</template>
        <template #late="{ row }"
          ><span v-if="row.state !== 'released' && row.lateBy > 0" class="font-medium text-brick"
            >{{ day(row.promisedOn) }}, {{ row.lateBy }} {{ plural(row.lateBy, 'day', 'days') }} late</span
          ><span v-else-if="row.state !== 'released'" class="text-soft">in time</span></template
        >
        <template #why="{ row }"
          ><span v-if="row.state !== 'released'" class="flex justify-end gap-1"
            ><UiButton
              v-if="session.allows('plan')"
              small
              :aria-label="`Change ${ORDER_VERB[row.kind]} ${row.code} due ${row.dueOn}`"
              @click="editing = row"
              >Change</UiButton
            ><UiButton v-if="session.allows('plan') && row.state === 'fixed'" small @click="free(row)">Let go</UiButton
            ><UiButton small @click="why = row.id">Why?</UiButton></span
          ><NuxtLink
            v-else
            :to="`${DOCUMENT_PATH[row.documentKind!]}/${row.documentId}`"
            class="font-medium underline"
            >{{ row.documentNumber }}</NuxtLink
          ></template
        >
      </UiTable>
      <div v-if="shown.length > most" class="border-t border-line/60 px-4 py-2 text-soft">
        {{ most }} of {{ shown.length }} are listed.
        <button type="button" class="underline hover:text-ink" @click="most += STEP">
          List {{ Math.min(STEP, shown.length - most) }} more</button
        >, or filter above.
      </div>
      <UiEmpty
        v-if="shown.length === 0"
        title="No planned orders"
        summary="Nothing has to be bought or made within this plan."
      />
    </UiSheet>
    <Suspense v-if="why !== null"
      ><PlanningWhy :key="why" :plan-id="plan.id" :order-id="why" @close="why = null"
    /></Suspense>
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
    <PlanningReleaseOrders v-model="asking" :plan="plan" :orders="picked" :label="label" @released="released" />
  </div>
</template>
