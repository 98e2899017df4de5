<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import type { ReturnableLine } from '~~/shared/purchasing/answers'
import { RETURNS_EXPECT, type ReturnExpects } from '~~/shared/purchasing/returns'

/** Goods of one line of an order go back to the supplier. */
const props = defineProps<{
  order: {
    id: number
    number: string
    supplier: string
    version: number
    lines: readonly { id: number; unit: string }[]
  }
  returnable: readonly ReturnableLine[]
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const notices = useNotices()
const { amount } = usePrint()
const { typedNumber } = useTypedNumber()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const EXPECTS: Readonly<Record<ReturnExpects, string>> = {
  credit: 'a credit note',
  replacement: 'a replacement; the line is open again',
  'not invoiced': 'that they are not invoiced',
}
const form = reactive({
  lineId: props.returnable[0]!.lineId as number | null,
  place: 0,
  quantity: '',
  reason: '',
  reference: '',
  expects: 'credit' as ReturnExpects,
})
const line = computed(() => props.returnable.find((entry) => entry.lineId === form.lineId)!)
const place = computed(() => line.value.places[form.place])
watch(
  () => form.lineId,
  () => {
    form.place = 0
    form.quantity = ''
  },
)
const measured = ref<Awaited<ReturnType<typeof fetchMeasured>> | null>(null)
const unit = ref('')
watch(
  () => line.value.itemId,
  async (itemId) => {
    const found = await fetchMeasured(itemId)
    measured.value = found
    unit.value = found.stockUnit
  },
  { immediate: true },
)
/** Where it lies, before and after; only where it is typed in the stock unit. */
const change = computed(() => {
  const typed = typedNumber(form.quantity)
  if (!typed || !place.value || unit.value !== measured.value?.stockUnit) {
    return null
  }
  return { before: place.value.quantity, after: toText(ratio(place.value.quantity).sub(typed)) }
})
const placeName = (entry: ReturnableLine['places'][number]): string =>
  [
    entry.bin,
    entry.lot && `lot ${entry.lot}`,
    entry.piece,
    entry.status === 'available' ? '' : entry.status,
    `${amount(entry.quantity, 6)} ${line.value.symbol}`,
  ]
    .filter(Boolean)
    .join(' · ')

async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/return`, {
      method: 'POST',
      body: {
        key,
        version: props.order.version,
        lineId: form.lineId,
        quantity: form.quantity,
        unit: unit.value,
        binId: place.value?.binId,
        lotId: place.value?.lotId ?? null,
        pieceId: place.value?.pieceId ?? null,
        status: place.value?.status,
        reason: form.reason,
        reference: form.reference,
        expects: form.expects,
      },
    }),
  )
  if (done) {
    notices.say({
      kind: 'done',
      postingId: done.postingId,
      text: `${done.number} goes back to ${props.order.supplier}.`,
    })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`Return to ${order.supplier}, from ${order.number}`"
    :act="form.quantity.trim() ? `Return ${form.quantity.trim()} ${useReferences().symbol(unit)}` : 'Return'"
    :busy="busy"
    :disabled="!form.quantity.trim() || !place"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 gap-3 md:grid-cols-2">
      <UiChoice
        v-model="form.lineId"
        label="Item"
        :options="returnable.map((entry) => ({ value: entry.lineId, name: `${entry.code} ${entry.name}` }))"
        :hint="`${amount(line.quantity, 6)} ${line.symbol} of it came and are not returned`"
        :error="fields.lineId"
      />
      <UiChoice
        v-if="line.places.length"
        v-model="form.place"
        label="From"
        :options="line.places.map((entry, index) => ({ value: index, name: placeName(entry) }))"
        :error="fields.binId"
      />
      <p v-else class="self-center text-soft">Nothing of it lies here any more.</p>
      <UiQuantityField
        v-if="measured"
        v-model="form.quantity"
        v-model:unit="unit"
        label="Returned quantity"
        :item="measured"
        :error="fields.quantity"
      />
      <UiChoice
        v-model="form.expects"
        label="Expected for it"
        :options="RETURNS_EXPECT.map((value) => ({ value, name: EXPECTS[value] }))"
        :error="fields.expects"
      />
      <UiTextField v-model="form.reason" label="Reason" :error="fields.reason" />
      <UiTextField
        v-model="form.reference"
        label="The supplier’s return number"
        hint="where they gave one"
        :error="fields.reference"
      />
    </div>
    <p v-if="change" class="mt-3 flex items-center gap-2" data-test="change">
      <GoodsBlock state="on hand" class="h-3 w-5 border" />{{ place!.bin }}
      <UiChange :before="change.before" :after="change.after" :unit="line.symbol" />
    </p>
  </UiDialog>
</template>
