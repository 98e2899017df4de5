<script setup lang="ts">
import { blockOf, DOCUMENT_PATH, ORDER_VERB, sourceOf, type PlannedOrder } from '~/composables/planning/planned-orders'

const props = defineProps<{ plan: { id: number; version: number }; orders: readonly PlannedOrder[]; label: string }>()
const emit = defineEmits<{ released: [] }>()
const asking = defineModel<boolean>({ required: true })
const notices = useNotices()
const { day, digits } = usePrint()
const { busy, detail, run } = useAct()
const bySupplier = computed(
  () => new Set(props.orders.filter((order) => order.kind === 'buy').map((order) => order.supplier)).size,
)

/** What was ordered meanwhile, and so was not ordered a second time. */
const takenOff = (
  lines: readonly { code: string; quantity: string; symbol: string; by: readonly string[] }[],
): string =>
  lines.length === 0
    ? ''
    : ` Ordered meanwhile and taken off: ${lines.map((line) => `${digits(line.quantity)} ${line.symbol} ${line.code} (${line.by.join(', ')})`).join('; ')}.`

async function release(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/planning/plans/${props.plan.id}/release`, {
      method: 'POST',
      body: { key, version: props.plan.version, orders: props.orders.map((order) => order.id) },
    }),
  )
  if (!done) {
    return
  }
  asking.value = false
  notices.say({
    kind: 'done',
    text: `Released ${done.documents.length} ${plural(done.documents.length, 'document', 'documents')}; the plan is computed anew on them.${takenOff(done.takenOff)}`,
    links: done.documents.slice(0, 6).map((d) => ({ to: `${DOCUMENT_PATH[d.kind]}/${d.id}`, label: d.number })),
  })
  void refreshToday()
  emit('released')
}
</script>

<template>
  <UiDialog v-model="asking" wide :title="`${label}?`" :act="label" :busy="busy" :problem="detail" @act="release">
    <p class="mb-3 text-soft">
      Buying makes {{ bySupplier }} purchase {{ plural(bySupplier, 'order', 'orders') }}, one a supplier; builds and
      break-downs become jobs in the workshop, moves become transfers. The plan is then computed anew.
    </p>
    <UiLinesTable class="w-full">
      <tbody>
        <tr v-for="order in orders" :key="order.id" class="border-b border-line/60 last:border-0">
          <td class="py-1.5">
            <span class="flex items-center gap-2"
              ><GoodsBlock :state="blockOf(order)" class="h-3.5 w-6" />{{ ORDER_VERB[order.kind] }}</span
            >
          </td>
          <td>
            {{ order.code }} <span class="text-soft">{{ order.name }}</span>
          </td>
          <td class="text-right"><UiQty strong :of="order.quantity" :unit="order.symbol" /></td>
          <td class="pl-4">{{ sourceOf(order) }}</td>
          <td class="pl-4 text-right whitespace-nowrap">
            <template v-if="order.lateBy > 0"
              ><span class="text-brick">there on {{ day(order.promisedOn) }}</span
              >, wanted {{ day(order.dueOn) }}</template
            ><template v-else>due {{ day(order.dueOn) }}</template>
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
  </UiDialog>
</template>
