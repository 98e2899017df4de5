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
const editing = ref(false)
const form = reactive({ dueOn: '', note: '', siteId: null as number | null, priority: '0' })
const lines = ref<OrderLine[]>([])
const { busy, detail, fields, code, effects, run, clear } = useAct()
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
  const o = order.value!
  Object.assign(form, { dueOn: o.dueOn, note: o.note, siteId: o.siteId, priority: String(o.priority) })
  lines.value = await Promise.all(
    o.lines.map(async (l) => ({
      id: l.id,
      itemId: l.itemId,
      shown: { id: l.itemId, code: l.code, name: l.name },
      measured: await fetchMeasured(l.itemId),
      quantity: asTyped(l.entered),
      unit: l.unit,
      price: l.price,
    })),
  )
  editing.value = true
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
async function save(confirmed = false): Promise<void> {
  const body = {
    ...form,
    confirmed,
    version: order.value!.version,
    lines: lines.value.map(({ id: line, itemId, quantity, unit, price: each }) => ({
      id: line,
      itemId,
      quantity,
      unit,
      price: each,
    })),
  }
  if (!(await run(() => $fetch(`/api/demand/orders/${id.value}`, { method: 'PUT', body })))) {
    return
  }
  editing.value = false
  notices.say({ kind: 'done', text: `${order.value!.number} is changed.` })
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
    <form v-if="editing" @submit.prevent="save()">
      <UiProblem :text="Object.keys(fields).length || effects.length ? '' : detail" class="mb-3" />
      <UiSheet title="Change the order" class="mb-4">
        <div class="mb-4 grid grid-cols-1 md:grid-cols-[12rem_1fr] gap-3">
          <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" /><UiTextField
            v-model="form.note"
            label="Note"
            :error="fields.note"
          /><UiTextField v-model="form.priority" label="Priority" right :error="fields.priority" /><UiChoice
            v-if="references.sites.length > 1"
            v-model="form.siteId"
            class="w-72"
            label="Filled from"
            empty="The customer’s site"
            :options="references.choices(references.sites, form.siteId)"
          />
        </div>
        <DemandOrderLines v-model="lines" :fields="fields" prices="selling" />
        <div class="mt-4 flex gap-2 border-t border-line pt-4">
          <UiButton primary type="submit" :busy="busy">Save the order</UiButton
          ><UiButton @click="editing = false">Discard changes</UiButton
          ><UiButton v-if="code === 'stale-version'" @click="refresh().then(edit)">Reload</UiButton>
        </div>
      </UiSheet>
    </form>
    <UiSheet v-else flush class="mb-4">
      <UiDataTable
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
    <UiNeedsYes
      v-if="effects.length > 0"
      title="Prices outside what is allowed"
      act="Save the order all the same"
      :effects="effects"
      :busy="busy"
      @confirm="save(true)"
      @leave="clear"
      >The order keeps that this was said yes to.</UiNeedsYes
    >
    <DemandPromise
      v-if="order.status === 'open' && !editing && openLines.length"
      :key="order.version"
      class="mb-4"
      :lines="openLines"
      :due-on="order.dueOn"
      :order-id="order.id"
    >
      <template #act="{ line }">
        <UiButton
          v-if="line.missing !== '0' && line.source === 'bought' && session.allows('buy')"
          small
          @click="
            navigateTo({
              path: '/purchasing/new',
              query: {
                item: line.itemId,
                code: line.code,
                quantity: `${asTyped(line.missing)} ${line.symbol}`,
                due: order.dueOn,
              },
            })
          "
          >Buy it for this order</UiButton
        >
      </template>
    </DemandPromise>
    <StockPostings :postings="order.postings" @reversed="refresh()" />
  </div>
</template>
