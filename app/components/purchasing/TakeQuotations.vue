<script setup lang="ts">
import { groupBy } from '~~/core/group-by'
import type { QuotationRequest } from '~~/shared/purchasing/quotations'

/** What is chosen of the quotations becomes orders, or the terms of the items, or both. */
const props = defineProps<{ request: QuotationRequest; chosen: ReadonlyMap<number, number>; total: string }>()
const emit = defineEmits<{ close: []; done: [] }>()
const notices = useNotices()
const session = useSession()
const references = useReferences()
const { money, digits, day, price } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ intoOrders: true, intoTerms: session.allows('catalogue') })
const orders = computed(() =>
  [...groupBy([...props.chosen], ([, supplierId]) => supplierId)].map(([supplierId, own]) => {
    const quotation = props.request.quotations.find((entry) => entry.supplierId === supplierId)!
    return {
      quotation,
      lines: own.map(([lineId]) => ({
        asked: props.request.lines.find((line) => line.id === lineId)!,
        quoted: quotation.lines.find((line) => line.lineId === lineId)!,
      })),
    }
  }),
)
const left = computed(() => props.request.lines.length - props.chosen.size)

async function take(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/quotations/${props.request.id}/take`, {
      method: 'POST',
      body: {
        key,
        version: props.request.version,
        ...form,
        lines: [...props.chosen].map(([lineId, supplierId]) => ({ lineId, supplierId })),
      },
    }),
  )
  if (!done) {
    return
  }
  const numbers = done.orders.map(({ number }) => number).join(', ')
  const told = [
    numbers && `${numbers} ${plural(done.orders.length, 'is', 'are')} ready to be sent.`,
    done.terms > 0 && `The terms of ${done.terms} ${plural(done.terms, 'item', 'items')} are these prices now.`,
  ]
  notices.say({ kind: 'done', text: told.filter(Boolean).join(' ') })
  void refreshToday()
  emit('done')
  if (done.orders.length === 1) {
    await navigateTo(`/purchasing/${done.orders[0]!.id}`)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Take ${chosen.size} ${plural(chosen.size, 'line', 'lines')} of ${request.number}`"
    act="Take them"
    wide
    records
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="take"
  >
    <section
      v-for="order in orders"
      :key="order.quotation.supplierId"
      class="mb-4"
      :aria-label="order.quotation.supplier"
    >
      <h3 class="border-b border-line pb-1 font-semibold">{{ order.quotation.supplier }}</h3>
      <ul>
        <li v-for="line in order.lines" :key="line.asked.id" class="flex justify-between gap-3 py-1">
          <span
            >{{ line.asked.code }} <span class="text-soft">{{ line.asked.name }}</span></span
          >
          <span class="whitespace-nowrap"
            >{{ digits(line.quoted.quantity) }} {{ references.symbol(line.quoted.unit) }} at
            {{ price(line.quoted.priceThen, order.quotation.currency) }}
            <span class="text-soft">there on {{ day(line.quoted.arrivesOn) }}</span></span
          >
        </li>
        <li v-for="charge in order.quotation.charges" :key="charge.name" class="flex justify-between gap-3 py-1">
          <span class="text-soft">{{ charge.name }}</span><span
            >{{ digits(charge.amount) }} {{ order.quotation.currency ?? session.company?.currency }}</span
          >
        </li>
      </ul>
    </section>
    <p class="mb-3">
      <b class="font-semibold">{{ money(total) }}</b> with their charges<template v-if="left > 0">
        <span class="text-brick">; {{ left }} {{ plural(left, 'line is', 'lines are') }} left out</span></template
      >.
    </p>
    <div class="grid gap-2">
      <UiCheckField
        v-model="form.intoOrders"
        :label="`Write ${orders.length} ${plural(orders.length, 'order', 'orders')}`"
      />
      <UiCheckField
        v-if="session.allows('catalogue')"
        v-model="form.intoTerms"
        label="Keep these prices as the suppliers’ terms of the items"
      />
    </div>
    <p v-for="(sentence, field) in fields" :key="field" role="alert" class="mt-2 text-brick">{{ sentence }}</p>
  </UiDialog>
</template>
