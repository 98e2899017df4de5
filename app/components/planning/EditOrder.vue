<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import type { WhatIfEdit } from '~~/shared/planning/requests'
import type { OrderTried } from '~/workers/plan'

interface Order {
  id: number
  ref: string
  itemId: number
  code: string
  quantity: string
  symbol: string
  dueOn: string
  state: string
  kind: string
  supplierId: number | null
  node: string
}
const props = defineProps<{
  order: Order
  plan: {
    id: number
    version: number
    changes: WhatIfEdit[]
    items: Record<string, { code: string; symbol: string; step: string; site: string | null }>
  }
}>()
const emit = defineEmits<{ close: []; done: [] }>()
const { asTyped, day, ofSteps } = usePrint()
const notices = useNotices()
const form = reactive({
  quantity: props.order.quantity,
  dueOn: props.order.dueOn,
  supplierId: props.order.supplierId,
})
const { data: item } = await useFetch(() => `/api/catalogue/items/${props.order.itemId}`)
const references = useReferences()
const suppliers = computed(() =>
  (item.value?.terms ?? []).map((t: { supplierId: number }) => ({
    value: t.supplierId,
    name: references.suppliers.find((s) => s.id === t.supplierId)?.name ?? '?',
  })),
)
const open = ref(true)
watch(open, (is) => {
  if (!is) {
    emit('close')
  }
})
const { busy, detail, fields, run } = useAct()
const live = useLivePlan(
  () => ({ id: props.plan.id, version: props.plan.version, kept: props.plan.changes }),
  () => null,
)
const effect = shallowRef<OrderTried | null>(null)
/** As it is stored: the field reads what was typed when it is left. */
const quantity = computed(() => form.quantity.trim())
const isChanged = computed(
  () =>
    quantity.value !== props.order.quantity ||
    form.dueOn !== props.order.dueOn ||
    form.supplierId !== props.order.supplierId,
)
const trouble = ref('')
async function loadPreview(): Promise<void> {
  effect.value = null
  trouble.value = ''
  if (!isPlainDecimal(quantity.value) || !form.dueOn) {
    return
  }
  try {
    effect.value = await live.tryOrder(props.plan.changes, {
      node: props.order.node,
      instead: props.order.ref,
      quantity: quantity.value,
      due: form.dueOn,
      supplier: form.supplierId === null ? null : String(form.supplierId),
    })
  } catch (error) {
    trouble.value = `What this does could not be computed: ${(error as Error).message}`
  }
}
watchDebounced(form, loadPreview, { debounce: 200, immediate: true })
const amount = (node: string, steps: number): string => {
  const item = props.plan.items[node]
  return item ? `${ofSteps(steps, item.step)} ${item.symbol}` : String(steps)
}
const moved = computed(() =>
  (effect.value?.moved ?? []).filter((entry) => entry.node !== props.order.node && props.plan.items[entry.node]),
)
const describeOrders = (orders: OrderTried['moved'][number]['after'], node: string): string =>
  orders.length === 0
    ? 'nothing'
    : orders
        .slice(0, 3)
        .map((order) => `${amount(node, order.quantity)} by ${day(order.due)}`)
        .join(', ') + (orders.length > 3 ? ` and ${orders.length - 3} more` : '')
async function fix(): Promise<void> {
  if (
    !(await run((key) =>
      $fetch(`/api/planning/plans/${props.plan.id}/orders/${props.order.id}`, {
        method: 'PUT',
        body: {
          key,
          version: props.plan.version,
          quantity: quantity.value,
          dueOn: form.dueOn,
          supplierId: form.supplierId,
        },
      }),
    ))
  ) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${props.order.code} is fixed at ${asTyped(quantity.value)} ${props.order.symbol} by ${day(form.dueOn)}: it stays so when the plan is computed again.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="`${order.code}: ${asTyped(order.quantity)} ${order.symbol} by ${day(order.dueOn)}`"
    :act="isChanged ? `Fix ${asTyped(quantity)} ${order.symbol} by ${day(form.dueOn)}` : 'Fix it as it is'"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="fix"
  >
    <div class="grid grid-cols-2 md:grid-cols-3 gap-3">
      <UiTextField v-model="form.quantity" :label="`Quantity, ${order.symbol}`" right :error="fields.quantity" />
      <UiDateField v-model="form.dueOn" label="There on" :error="fields.dueOn" />
      <UiChoice
        v-if="order.kind === 'buy' && suppliers.length"
        v-model="form.supplierId"
        label="From"
        :error="fields.supplierId"
        :options="suppliers"
      />
    </div>
    <div class="mt-4 min-h-28" aria-live="polite">
      <UiProblem v-if="trouble" :text="trouble" />
      <p v-else-if="!effect" class="text-soft">Looking what this does …</p>
      <template v-else>
        <p>
          Released on <b>{{ day(effect.release) }}</b><span v-if="effect.lateBy > 0" class="text-brick"
            >, {{ effect.lateBy }} working {{ plural(effect.lateBy, 'day', 'days') }} too late</span
          >; the least left of it then is <b>{{ amount(order.node, effect.lowest) }}</b>.
        </p>
        <p v-if="moved.length === 0" class="mt-1 text-soft">No other item's orders change.</p>
        <UiLinesTable v-else class="mt-2 w-full text-fine">
          <thead>
            <tr class="text-left text-soft">
              <th class="py-1 font-medium">Changes with it</th>
              <th class="font-medium">Now</th>
              <th class="font-medium">Then</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="change in moved.slice(0, 12)" :key="change.node" class="border-t border-line/60 align-top">
              <td class="py-1 font-medium">
                {{ plan.items[change.node]!.code
                }}<template v-if="plan.items[change.node]!.site">, {{ plan.items[change.node]!.site }}</template>
              </td>
              <td>{{ describeOrders(change.before, change.node) }}</td>
              <td>{{ describeOrders(change.after, change.node) }}</td>
            </tr>
          </tbody>
        </UiLinesTable>
        <p class="mt-2 text-fine text-soft">
          {{ effect.reached }} {{ plural(effect.reached, 'item', 'items') }} looked at again.
        </p>
      </template>
    </div>
  </UiDialog>
</template>
