<script setup lang="ts">
import type { ReceiptLine } from '~/composables/purchasing/use-receipt-measure'

/** What a supplier delivered to a customer by themselves: received and shipped at once, without touching our bins. */
const props = defineProps<{
  order: {
    id: number
    number: string
    version: number
    supplier: string
    directOrder: { number: string; customer: string } | null
    lines: readonly ReceiptLine[]
  }
}>()
const emit = defineEmits<{ close: []; done: [] }>()
const references = useReferences()
const notices = useNotices()
const { asTyped } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const { measured, openIn, change } = useReceiptMeasure()
const form = reactive({ packingList: '', effectiveOn: '' })
const rows = reactive(
  props.order.lines
    .filter((line) => !line.closedShort && openIn(line, line.unit) !== '0')
    .map((line) => ({ line, measured: measured(line), quantity: '', unit: line.unit, lot: '', expiresOn: '' })),
)
const given = computed(() => rows.filter((row) => row.quantity.trim() !== ''))
const wrongOf = (row: (typeof rows)[number], field: string): string | undefined => {
  const index = given.value.indexOf(row)
  return index < 0 ? undefined : fields.value[`lines.${index}.${field}`]
}
async function confirm(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/deliver`, {
      method: 'POST',
      body: {
        key,
        version: props.order.version,
        ...form,
        lines: given.value.map(({ line, quantity, unit, lot, expiresOn }) => ({
          lineId: line.id,
          quantity,
          unit,
          lot,
          expiresOn: expiresOn || null,
        })),
      },
    }),
  )
  if (!done) {
    return
  }
  const { number, customer } = props.order.directOrder!
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: done.isDone ? `${number} is shipped to ${customer}.` : `Delivered to ${customer}; ${number} has more open.`,
  })
  void refreshToday()
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`${order.supplier} delivered to ${order.directOrder?.customer}`"
    :act="`Confirm ${given.length} ${plural(given.length, 'line', 'lines')}`"
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="confirm"
  >
    <p class="mb-3 text-soft">
      Received from {{ order.supplier }} and shipped for {{ order.directOrder?.number }} at once, at what this order
      says it costs. Nothing lies in your bins in between.
    </p>
    <div class="mb-4 flex flex-wrap items-end gap-3">
      <UiTextField
        v-model="form.packingList"
        class="w-56"
        label="Packing list number"
        :error="fields.packingList"
      /><UiDateField
        v-model="form.effectiveOn"
        class="w-44"
        label="Delivered on"
        placeholder="today"
        :error="fields.effectiveOn"
      />
    </div>
    <div v-for="(row, index) in rows" :key="row.line.id" class="border-t border-line py-3">
      <div class="mb-2 flex items-baseline justify-between gap-3">
        <span
          ><b class="font-semibold">{{ row.line.code }}</b> <span class="text-soft">{{ row.line.name }}</span></span
        ><span class="text-soft"
          >to come <UiQty :of="openIn(row.line, row.line.unit)" :unit="references.symbol(row.line.unit)" strong />{{
            ' '
          }}
          <UiButton small @click="row.quantity = asTyped(openIn(row.line, row.unit))">all of it</UiButton></span
        >
      </div>
      <div class="grid grid-cols-1 gap-3 md:grid-cols-[12rem_10rem_10rem]">
        <UiQuantityField
          v-model="row.quantity"
          v-model:unit="row.unit"
          :label="`Delivered of ${row.line.code}`"
          :item="row.measured"
          :error="wrongOf(row, 'quantity')"
        />
        <UiTextField
          v-if="row.line.tracking === 'lot'"
          v-model="row.lot"
          :label="`Lot of ${row.line.code}`"
          :error="wrongOf(row, 'lot')"
        />
        <UiDateField
          v-if="row.line.tracking === 'lot'"
          v-model="row.expiresOn"
          label="Expires on"
          :error="wrongOf(row, 'expiresOn')"
        />
      </div>
      <p v-if="change(row)" class="mt-2 flex items-center gap-2" :data-test="`change-${index}`">
        <GoodsBlock state="allocated" class="h-3 w-5 border" />delivered
        <UiChange :before="change(row)!.before" :after="change(row)!.after" :unit="row.line.symbol" />
      </p>
    </div>
  </UiDialog>
</template>
